/** A school year with Sheaf, by keyboard, from the August file to the June roll-over and back: the steps of docs/tour.md. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { readCodes } from '#server/testing/codes';
import { type Browser, Key } from './browser';

export interface Teller {
  /** The server as of a day, with the district's coordinator signed in. */
  open: (day: string) => Promise<Browser>;
  /** A product that children learn with, which sends what it tells to the address with the key. */
  product: (to: string, name: string, secret: string) => Promise<(path: string, body?: object) => Promise<unknown>>;
  /** A step of the story, by its heading in docs/tour.md, with the page as it is now. */
  tell: (title: string) => Promise<void>;
}

const ask = <T>(browser: Browser, path: string): Promise<T> =>
  browser.driver.executeAsyncScript<T>(
    'const done = arguments[1]; fetch(arguments[0]).then((answer) => answer.json()).then(done);',
    path,
  );
const applied = async (browser: Browser): Promise<void> => {
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Applied.', 90_000);
};
/** Looks at the whole district again. */
const everywhere = (browser: Browser): Promise<void> => browser.press('Skerry Isles Unified');
const rowFocused = (browser: Browser): Promise<unknown> => browser.find('.scroller .line.focused');

/** Ticks the classes of a school by name in the sheet that sets work. */
async function choose(browser: Browser, names: string[]): Promise<void> {
  for (const name of names) {
    await browser.tabTo('.whom input[type=search]', 200, true);
    await browser.chord(Key.CONTROL, 'a');
    await browser.keys(name);
    await browser.until(
      () =>
        browser.driver.executeScript(
          'return [...document.querySelectorAll(".whom li")].some((li) => li.innerText.trim().startsWith(arguments[0]) && !li.querySelector("input").checked)',
          `${name} Skerry`,
        ),
      `${name} is not offered`,
    );
    await browser.driver.executeScript(
      '[...document.querySelectorAll(".whom li")].find((li) => li.innerText.trim().startsWith(arguments[0])).querySelector("input").focus()',
      `${name} Skerry`,
    );
    await browser.keys(' ');
  }
}

export async function tour({ open, product, tell }: Teller): Promise<void> {
  let browser = await open('2026-08-17');
  await browser.sees('9 days until school opens');
  await browser.sees('Past weeks');
  await tell('Nine days before school opens');

  await browser.chord(Key.ALT, '2');
  await (await browser.find('input[type=file]')).sendKeys(resolve('demo/files/skerry-middle-students.csv'));
  await browser.sees('Problems in 31 rows');
  await browser.sees('class 37');
  await tell('The office’s file');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('No guard holds this plan');
  await applied(browser);
  await tell('A plan, applied');

  const schools = (await ask<{ schools: { id: string; name: string }[] }>(browser, '/api/me')).schools;
  const middle = schools.find(({ name }) => name === 'Skerry Middle')!.id;
  await browser.chord(Key.ALT, '5');
  await browser.sees('seats short');
  await rowFocused(browser);
  await browser.press('Assign seats');
  await browser.sees('No guard holds this plan');
  await applied(browser);
  await tell('Seats');

  // Cards of one class, and the code of one child on paper.
  const people = await ask<{ rows: { username: string; givenName: string; className: string | null; id: string }[] }>(
    browser,
    `/api/people?school=${middle}&grade=06&role=student&limit=500`,
  );
  await browser.chord(Key.ALT, '3');
  await browser.find('[role=grid]');
  await browser.choose('input[aria-label=School]', 'Skerry M', 120);
  await browser.choose('input[aria-label=Grade]', 'grade 6');
  await browser.find('input[aria-label=Class]');
  await browser.choose('input[aria-label=Class]', '6A');
  await browser.tabTo('[role=grid]', 120);
  await browser.until(async () => /\b2\d people/.test(await browser.text()), 'the class is not shown alone');
  await browser.chord(Key.CONTROL, 'a');
  await browser.sees('gathered');
  await browser.tabTo('.sheaf .verbs button:first-child', 160);
  await browser.keys(Key.ENTER);
  await browser.sees('Print for the');
  await browser.until(async () => /Print 2\d cards/.test(await browser.text()), 'nothing is to be printed');
  await tell('Cards');
  await browser.chord(Key.CONTROL, Key.ENTER);
  const link = await (await browser.find('#last-print')).getAttribute('href');
  const cookies = await browser.driver.manage().getCookies();
  const pdf = await fetch(link!, {
    headers: { Cookie: cookies.map(({ name, value }) => `${name}=${value}`).join('; ') },
  });
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-tour-'));
  writeFileSync(join(folder, 'cards.pdf'), Buffer.from(await pdf.arrayBuffer()));
  const code = readCodes(folder, 'cards.pdf', 8, 1)[0]!;

  browser = await open('2026-10-05');
  await everywhere(browser);
  await browser.chord(Key.ALT, '4');
  await browser.press('Assignments');
  // What was set in August closed weeks ago. No row is waited for: one of the page before would do as well.
  await browser.sees('No assignments yet');
  await browser.press('New assignment');
  await choose(browser, ['6A']);
  await browser.find('.what input[role=combobox]');
  await browser.choose('.what input[role=combobox]', 'Balancing', 80);
  await browser.tabTo('.what input[placeholder=None]', 20);
  await browser.keys('curlew');
  await browser.sees('Assign to 1 class');
  await tell('Assign');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.until(async () => /Balancing loads 6A/.test(await browser.text()), 'it is not in the list');
  await browser.tabTo('[role=grid]', 80);
  await browser.keys(Key.HOME);
  await browser.press('Copy to classes');
  await browser.tabTo('.bar .picker input', 30);
  for (const name of ['6B · Skerry Middle', '6C · Skerry Middle']) {
    await browser.tabTo('.bar .picker input', 60, true);
    await browser.chord(Key.CONTROL, 'a');
    await browser.keys(name);
    await browser.until(
      () =>
        browser.driver.executeScript(
          'return document.querySelector(".bar .picker input").value !== "" && !document.querySelector(".bar button[disabled]")',
        ),
      `${name} is not meant`,
    );
    await browser.press('and another');
  }
  await browser.sees('2 chosen');
  await browser.press('Copy 1');
  await browser.until(
    async () =>
      /Balancing loads 6B .*Balancing loads 6C|Balancing loads 6C .*Balancing loads 6B/.test(await browser.text()),
    'it is not copied',
  );

  // A child of 6A scans the card, and finds it.
  await browser.driver.manage().deleteAllCookies();
  await browser.go('/sign-in');
  await browser.find('input[autocomplete=username]');
  await browser.until(
    () => browser.driver.executeScript('return document.activeElement.matches("input[autocomplete=username]")'),
    'the first field has no focus',
  );
  await browser.keys(code, Key.ENTER);
  await browser.sees('My work');
  await browser.sees('Balancing loads');
  await browser.size(390, 780);
  await browser.press('Open');
  await browser.sees('Start code from your teacher');
  await browser.keys('gull', Key.ENTER);
  await browser.sees('That is not the start code');
  await tell('A student’s page');
  await browser.size(1280, 800);

  browser = await open('2026-10-05');
  await browser.chord(Key.ALT, '4');
  await browser.press('Usage');
  await browser.press('Usage reporting');
  await browser.tabTo('main [aria-label*="Kelpline"]', 200);
  await browser.keys(Key.ENTER);
  await browser.find('dl[role=status]');
  const [, address, name, secret] = (await browser.driver.executeScript(
    'return [...document.querySelectorAll("dl[role=status] dd")].map((dd) => dd.innerText.trim())',
  )) as [string, string, string, string];
  const materials = await ask<{ address: string; minutes: number; product: string }[]>(browser, '/api/materials');
  const send = await product(address, name, secret);
  await send('/week', {
    monday: '2026-09-28',
    who: people.rows.map(({ username }) => username),
    materials: materials
      .filter(({ product: of }) => of === 'Kelpline Algebra')
      .map(({ address: at, minutes }) => ({ address: at, minutes })),
    skill: 'Equations',
  });
  await browser.go('/classes/use');
  await browser.sees('rush through');
  await browser.tabTo('.ant-picker input', 60);
  await browser.keys('2026-09-28', Key.ENTER);
  await browser.choose('input[aria-label=School]', 'Skerry M', 160, true);
  await browser.until(async () => /6A \d/.test(await browser.text()), 'no class is shown');
  await tell('A week of use');

  browser = await open('2027-06-22');
  await browser.chord(Key.ALT, '8');
  await browser.sees('Summary by school');
  await browser.until(async () => /Plan [\d,]+ changes/.test(await browser.text()), 'nothing is counted');
  await tell('June: the roll-over');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Roll-over to 2027–28', 90_000);
  await browser.sees('No guard holds this plan');
  await applied(browser);
  await browser.chord(Key.ALT, '8');
  await browser.press('Archive');
  await browser.sees('Restore');
  await tell('The archive');

  // And back: everything that was done, from the last to the first.
  await browser.chord(Key.ALT, '9');
  await browser.sees('Opening register');
  const left = (): Promise<number> =>
    browser.driver.executeScript(
      'return [...document.querySelectorAll("[role=grid] button")].filter((b) => b.innerText.trim() === "Undo").length',
    );
  for (let rest = await left(); rest > 0; rest = await left()) {
    await browser.press('Undo');
    await browser
      .until(async () => (await left()) < rest, 'it is not undone', 40_000)
      .catch(async () => {
        throw new Error(`it is not undone: ${(await browser.text()).slice(400)}`);
      });
  }
  await tell('And back');
}
