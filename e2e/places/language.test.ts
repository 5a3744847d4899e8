/** A teacher in Spanish, from the sign-in to the cards; and the language for tests, which shows what is in no catalog. */
import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { Key } from '../browser';
import { stage } from '../stage';

const at = stage('language');
const run = (script: string, ...args: unknown[]): Promise<unknown> => at.browser.driver.executeScript(script, ...args);

it('signs a teacher in, shows her class and prints its cards in Spanish, also after she comes back', async () => {
  const { browser } = at;
  await browser.go('/sign-in');
  await browser.press('Español');
  await browser.sees('Contraseña');
  await browser.signIn(at.username('teacher'), demoPassword);
  await browser.sees('Sus clases');
  expect(await run('return document.documentElement.lang')).toBe('es-US');
  expect(await browser.violations()).toEqual([]);
  await browser.keys(Key.ENTER);
  await browser.sees('Agregar personas');
  await browser.press('Imprimir tarjetas');
  await browser.sees('Imprimir 22 tarjetas');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('22 tarjetas para imprimir.');
  // Chosen in the profile it is hers on every machine.
  await browser.go('/profile');
  await browser.sees('Preferencias');
  await (await browser.find('input[type=radio][value=es-US]')).sendKeys(Key.SPACE);
  await browser.until(
    async () =>
      (await at.world.db.one<{ n: number }>("SELECT COUNT(*) AS n FROM preferences WHERE body LIKE '%es-US%'"))!.n ===
      1,
    'the language is not kept',
  );
});

/** What is said in no language of the catalog; names that people gave are left out. */
async function bare(): Promise<string[]> {
  const texts = (await run(
    `const said = [...document.querySelectorAll('h1, h2, h3, h4, [role=columnheader], dt, label, th, legend, summary, button, [role=tab], nav a')]
       .filter((one) => one.offsetParent !== null && !one.closest('.facet, .kept, [role=row]:not(:has([role=columnheader])), .line, nav.where, .all, td'))
       .map((one) => one.innerText);
     const labels = [...document.querySelectorAll('[placeholder], [aria-label], [title]')]
       .filter((one) => !one.closest('[role=row]:not(:has([role=columnheader])), .line, .facet, svg, [role=img], .ant-picker, .ant-input-number'))
       .flatMap((one) => ['placeholder', 'aria-label', 'title'].map((name) => one.getAttribute(name) ?? ''));
     return [...said, ...labels].map((text) => text.trim()).filter((text) => /\\p{L}{2}/u.test(text) && !text.includes('⟦'))`,
  )) as string[];
  return [...new Set(texts)].filter((text) => !names.has(text) && !/^\{\S+\}$/.test(text));
}
/** Besides: the languages by their own names, grades, days of the week, and the pieces of a pattern. */
const names = new Set([
  'English',
  'Español',
  'Sheaf',
  'Skerry Isles Unified',
  'UG',
  'PS',
  'America/New York',
  'Mon',
  'Tue',
  'Wed',
  'Thu',
  'Fri',
]);

const nameOf = async (who: string) => (await (await at.world.as(who)).get<{ name: string }>('/api/me')).body.name;

async function walk(paths: readonly (string | readonly [path: string, open: () => Promise<unknown>])[]): Promise<void> {
  const { browser } = at;
  const found: [string, string[]][] = [];
  for (const one of paths) {
    const [path, open] = typeof one === 'string' ? [one, null] : one;
    await browser.go(path);
    await browser.sees('⟦');
    await browser.until(
      async () =>
        (await run("return document.querySelector('.place .part:not([style*=none]) .shown') !== null")) === true,
      `${path} is not shown`,
    );
    await open?.();
    found.push([path, await bare()]);
    for (const width of [390, 1280]) {
      await browser.size(width, 800);
      found.push([`${path} at ${width} px`, await browser.outside()]);
    }
  }
  expect(found.filter(([, texts]) => texts.length > 0)).toEqual([]);
}

it('has all texts of a teacher’s pages in the catalog, and they fit when they are longer', async () => {
  await run("localStorage.setItem('language', 'pseudo')");
  names.add(await nameOf('teacher'));
  const own = await at.world.db.select<{ name: string }>('SELECT name FROM classes UNION SELECT name FROM schools');
  for (const { name } of own) names.add(name);
  await walk(['/', '/people', '/classes', '/classes/groups', '/handouts', '/requests', '/profile']);
});

it('has all texts of a coordinator’s pages of every day in the catalog', async () => {
  const { browser, world } = at;
  const district = await world.as('district');
  const { id } = (
    await district.post<{ id: string }>(
      '/api/intakes?name=skerry-middle-students.csv',
      readFileSync('demo/files/skerry-middle-students.csv'),
    )
  ).body;
  const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
  const [person] = (
    await district.get<{ rows: { id: string; givenName: string; familyName: string }[] }>(
      '/api/people?role=student&limit=1',
    )
  ).body.rows;
  const [some] = (await district.get<{ id: string }[]>('/api/classes')).body;
  await district.post('/api/sheaf/gather', { ids: [person!.id] });
  await browser.driver.manage().deleteAllCookies();
  await browser.go('/sign-in');
  await run("localStorage.setItem('language', 'pseudo')");
  await browser.signIn(at.username('district'), demoPassword);
  names.add(await nameOf('district'));
  for (const { label } of (await district.get<{ label: string }[]>('/api/product-keys')).body) names.add(label);
  for (const name of [`${person!.givenName} ${person!.familyName}`, `${person!.familyName}, ${person!.givenName}`])
    names.add(name);
  const row = () => browser.keys(Key.ENTER);
  await walk([
    '/',
    '/imports',
    `/imports/${id}`,
    `/plans/${planId}`,
    ['/people', row],
    '/people?new=students',
    '/people?new=staff',
    `/people/${person!.id}`,
    ['/classes', row],
    '/classes?new=1',
    '/classes/groups',
    `/classes/${some!.id}`,
    '/ledger',
    '/ledger/log',
    '/ledger/past',
    '/requests',
    '/pairs',
    '/profile',
  ]);
});

it('has all texts of what is held, handed out, rolled over and set in the catalog', async () => {
  const { world } = at;
  const { id } = (await world.db.one<{ id: string }>(
    "SELECT c.id FROM classes c JOIN schools s ON s.id = c.schoolId AND s.code = 'LAN' WHERE c.name = '3A' AND c.ends IS NULL",
  ))!;
  for (const { name } of await world.db.select<{ name: string }>(
    'SELECT name FROM products UNION SELECT title FROM materials UNION SELECT name FROM carts UNION SELECT model FROM devices',
  ))
    names.add(name);
  await walk([
    ...['/licenses', '/licenses/materials', '/classes/work', '/classes/use', `/classes/${id}/progress`],
    ...['/devices', '/devices/carts', '/devices/scan', '/devices/stock', '/handouts'],
    ...['/year', '/year/sections', '/year/archive', '/year/retention'],
    ...[
      ...['year', 'schools', 'staff', 'usernames', 'passwords', 'sign-on', 'security', 'feeds', 'directory'],
      ...['products', 'mail', 'letters', 'devices', 'retention'],
    ].map((room) => `/settings/${room}`),
  ]);
});
