/** A teacher in Spanish, from the sign-in to the cards; and the language for tests, which shows what is in no catalog. */
import { expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { Key } from './browser';
import { stage } from './stage';

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

it('has all headings, columns and labels of a teacher’s pages in the catalog, and they fit when they are longer', async () => {
  const { browser } = at;
  await run("localStorage.setItem('language', 'pseudo')");
  for (const path of ['/', '/people', '/classes', '/handouts', '/requests', '/profile']) {
    await browser.go(path);
    await browser.sees('⟦');
    await browser.until(
      async () =>
        (await run("return document.querySelector('.place .part:not([style*=none]) .shown') !== null")) === true,
      `${path} is not shown`,
    );
    const bare = (await run(
      `return [...document.querySelectorAll('h2, [role=columnheader], dt, label')]
         .map((one) => one.innerText.trim()).filter((text) => /\\p{L}{2}/u.test(text) && !text.includes('⟦'))`,
    )) as string[];
    expect([path, bare.filter((text) => !['English', 'Español'].includes(text))]).toEqual([path, []]);
    expect([path, await run('return document.documentElement.scrollWidth <= innerWidth')]).toEqual([path, true]);
  }
});
