/** Who is where, by hand: gathering over several searches, verbs on the sheaf, new classes, a child at the door. */
import { afterAll, afterEach, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser, Key } from './browser';

let world: World;
let server: ServerProcess;
let browser: Browser;
beforeAll(async () => {
  world = await World.open('byhand');
  server = await ServerProcess.start(world.config);
  browser = await Browser.open(server.base);
  await browser.signIn(world.signIns.find(({ who }) => who.startsWith('district'))!.username, demoPassword);
});
afterAll(async () => {
  await browser?.close();
  await server?.stop();
  await world?.close();
});
afterEach(async () => {
  expect(await browser.errors()).toEqual([]);
});

const gathered = async (): Promise<number> =>
  Number(await browser.driver.executeScript("return document.querySelector('.sheaf .count b')?.innerText ?? '0'"));
const total = async () => Number((await browser.text()).match(/([\d,]+) people/)?.[1]?.replace(',', '') ?? 0);
/** Presses the button that says so, reached by Tab. */
async function press(words: string): Promise<void> {
  const marked = await browser.driver.executeScript(
    `const found = [...document.querySelectorAll('button')].find((b) => b.innerText.trim().startsWith(arguments[0]));
     document.querySelectorAll('[data-wanted]').forEach((b) => b.removeAttribute('data-wanted'));
     found?.setAttribute('data-wanted', ''); return !!found;`,
    words,
  );
  expect([words, marked]).toEqual([words, true]);
  await browser.tabTo('[data-wanted]', 200);
  await browser.keys(Key.ENTER);
}
/** Puts the word into Find and gathers all that the list then shows. */
async function gatherAll(word: string): Promise<void> {
  const before = [await total(), await gathered()] as const;
  await browser.keys(Key.ESCAPE);
  await (await browser.find('#find')).clear();
  await (await browser.find('#find')).sendKeys(word);
  await browser.sees(`who match “${word}”`);
  await browser.until(async () => (await total()) !== before[0], `the list does not follow ${word}`);
  const shown = await total();
  expect(shown).toBeGreaterThan(0);
  await browser.keys(Key.ENTER);
  await browser.chord(Key.CONTROL, 'a');
  await browser.until(async () => (await gathered()) > before[1], `nobody is gathered by ${word}`);
}

it('makes a class, gathers over four searches on three filters, enrolls and prints', async () => {
  await browser.go('/classes');
  await browser.sees('New classes');
  await browser.find('[role=grid]');
  await press('New classes');
  await browser.find('.new input');
  await browser.keys('Regatta club, 3A');
  await browser.tabTo('.new select.pick', 10);
  await browser.keys('Lantern');
  await browser.sees('3A is there already: the class of');
  expect(await browser.violations()).toEqual([]);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Adds 1 class.');

  await browser.go('/people');
  await browser.sees('Gather all');
  // Three filters: the school, what is lacking, the role.
  await press('Lantern Point');
  await browser.until(async () => (await total()) < 500, 'the school does not narrow the list');
  const atSchool = await total();
  await press('student');
  await browser.until(async () => (await total()) < atSchool, 'the role does not narrow the list');
  const students = await total();
  await press('first sign-in');
  await browser.until(async () => (await total()) < students, 'the lack does not narrow the list');
  for (const word of ['ab', 'mo', 'sa', 'tan']) await gatherAll(word);
  const count = await gathered();
  expect(count).toBeGreaterThan(4);

  await press('Enroll');
  await browser.find('.verb input');
  await browser.keys('regatta');
  await browser.sees('Regatta club');
  // As it stands the class would take the place of their homerooms; seen beforehand, and set right.
  await browser.sees(`Moves ${count} people to another class.`);
  expect(await browser.violations()).toEqual([]);
  await browser.tabTo('.verb select', 10);
  await browser.keys('besides');
  await browser.sees(`Enrolls ${count} people.`);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees(`Enrolling ${count} people in Regatta club`);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Applied. Enrolls');
  const enrolled = await world.db.one<{ n: number }>(
    "SELECT COUNT(*) AS n FROM enrollments e JOIN classes c ON c.id = e.classId WHERE c.name = 'Regatta club' AND e.ends IS NULL",
  );
  expect(Number(enrolled!.n)).toBe(count);

  await press('Cards');
  await browser.sees(`Print ${count} cards`);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.find('#last-print', 60_000);
});

it('takes in a child at the door, and asks when somebody like that is there', async () => {
  const twin = await world.db.one<{ familyName: string; givenName: string; birthDate: string }>(
    "SELECT familyName, givenName, birthDate FROM people WHERE role = 'student' AND status = 'active' AND birthDate IS NOT NULL AND number IS NOT NULL ORDER BY id LIMIT 1",
  );
  await browser.go('/people');
  await browser.sees('Gather all');
  await press('New students');
  await browser.tabTo('.typed select', 200, true);
  await browser.keys('Lantern');
  await browser.tabTo('.typed [data-row="0"] input', 20);
  await browser.keys(
    'Fjellheim',
    Key.TAB,
    'Sunniva',
    Key.TAB,
    '2017-03-25',
    Key.TAB,
    Key.TAB,
    '3',
    Key.TAB,
    '3A',
    Key.ENTER,
  );
  await browser.keys(twin!.familyName, Key.TAB, twin!.givenName, Key.TAB, twin!.birthDate);
  // What is typed is still there after a reload.
  await browser.go('/people');
  await browser.sees('Gather all');
  await press('New students');
  await browser.until(
    async () => (await (await browser.find('.typed [data-row="0"] input')).getAttribute('value')) === 'Fjellheim',
    'the draft is lost',
  );
  expect(await browser.violations()).toEqual([]);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('What would happen');
  await browser.sees('1 new');
  // The other one is known again, though only by name and birth date.
  await browser.sees('1 the same');
});

it('holds two people and lets the two be merged, seen side by side', async () => {
  await browser.go('/people?gathered=1');
  await browser.sees('gathered');
  await press('Let all go');
  await browser.go('/people');
  await browser.sees('Gather all');
  await browser.until(
    () => browser.driver.executeScript('return document.activeElement?.getAttribute("role") === "grid"'),
    'the worksheet has no focus',
  );
  await browser.keys(' ', Key.ARROW_DOWN, ' ');
  await browser.until(async () => (await gathered()) === 2, 'two are not gathered');
  await press('Hold');
  await browser.sees('Plan 2 changes');
  await browser.keys(Key.ESCAPE);
  await press('Merge');
  await browser.sees('The two who are gathered');
  await browser.sees('goes into it');
  expect(await browser.violations()).toEqual([]);
});
