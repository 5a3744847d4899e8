/** A teacher's class from nothing: made, its code on the board, a child joins on a small screen, a stranger is refused. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Browser, Key } from './browser';
import { stage } from './stage';

const at = stage('letin', { as: 'teacher' });
let phone: Browser;
beforeAll(async () => {
  phone = await Browser.open(at.server.base, 390, 700);
});
afterAll(async () => {
  await phone?.close();
});

const board = async () => (await (await at.browser.find('.board .code')).getText()).replace(/\s+/g, '');
async function join(code: string, ...who: string[]): Promise<void> {
  await phone.go('/join');
  await phone.until(
    () => phone.driver.executeScript('return document.activeElement.matches("input.big")'),
    'the code has no focus',
  );
  expect(await phone.violations()).toEqual([]);
  await phone.keys(code.toLowerCase(), Key.ENTER);
  await phone.sees('Who are you?');
  await phone.until(
    () => phone.driver.executeScript('return document.activeElement.matches("[autocomplete=given-name], .plain")'),
    'the name has no focus',
  );
  await phone.tabTo('[autocomplete=given-name]', 5);
  expect(await phone.violations()).toEqual([]);
  await phone.keys(who[0]!, Key.TAB, who[1]!, Key.TAB, who[2]!, Key.ENTER);
}

it('is set up, filled and kept free of strangers without a coordinator', async () => {
  const { browser, world } = at;
  await browser.go('/classes');
  await browser.find('[role=grid]');
  await browser.press('New classes');
  await browser.find('.new input');
  await browser.keys('Tide watchers');
  await browser.choose('.new label:nth-of-type(4) input[role=combobox]', 'course', 10);
  await browser.sees('Create 1');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Enrolls 1 person in a class. Adds 1 class.');
  await browser.sees('Tide watchers');
  await browser.tabTo('[role=grid]', 60);
  await browser.keys(Key.HOME);
  await browser.until(
    async () => (await (await browser.find('.line.focused')).getText()).includes('Tide'),
    'the new class is not the first of the list',
  );
  await browser.keys(Key.ENTER);
  await browser.sees('No code is open. With a code, students join by themselves.');
  await browser.press('New code');
  await browser.press('Create');
  await browser.sees('0 of 40');
  expect(await browser.violations()).toEqual([]);
  await browser.press('Show code');
  const code = await board();
  expect(code).toMatch(/^[2-9A-Z]{9,10}$/);
  expect(await browser.violations()).toEqual([]);

  const child = await world.db.one<{ familyName: string; givenName: string; number: string; id: string }>(
    `SELECT p.id, p.familyName, p.givenName, p.number FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId AND s.code = 'LAN'
     WHERE p.role = 'student' AND p.number IS NOT NULL AND NOT EXISTS (SELECT 1 FROM people o WHERE o.id <> p.id AND o.familyName = p.familyName AND o.givenName = p.givenName) ORDER BY p.id LIMIT 1`,
  );
  await join(code, child!.givenName, child!.familyName, child!.number);
  await phone.sees('You are in');
  await phone.sees('Tide watchers at Lantern Point');
  // A slip of the finger is told at once; nothing is sent.
  await phone.go('/join');
  await phone.until(
    () => phone.driver.executeScript('return document.activeElement.matches("input.big")'),
    'the code has no focus',
  );
  await phone.keys(code.slice(0, -1) + (code.endsWith('2') ? '3' : '2'), Key.ENTER);
  await phone.sees('One of the letters is wrong');
  await join(code, 'Milo', 'Vantongeren', '990412');
  await phone.sees('Your teacher will check');
  expect(await phone.text()).not.toContain(child!.familyName);
  expect(await phone.errors()).toEqual([]);

  await browser.sees('1 is in');
  await browser.keys(Key.ESCAPE);
  await browser.go('/');
  await browser.sees('1 join request');
  await browser.press('Review');
  await browser.sees('Milo Vantongeren');
  await browser.sees('No student on record is like this');
  expect(await browser.violations()).toEqual([]);
  await browser.press('Decline');
  await browser.press('Decline Milo');
  await browser.sees('Milo Vantongeren was declined.');
  await browser.sees('No join requests');
  const inside = await world.db.select<{ personId: string }>(
    "SELECT e.personId FROM enrollments e JOIN classes c ON c.id = e.classId WHERE c.name = 'Tide watchers' AND e.role = 'student' AND e.ends IS NULL",
  );
  expect(inside).toEqual([{ personId: child!.id }]);
});
