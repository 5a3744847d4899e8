/** Who is where, by hand: gathering over several searches, verbs on the sheaf, new classes, a child at the door. */
import { expect, it } from 'vitest';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('byhand', { as: 'district' });

const gathered = async (): Promise<number> =>
  Number(await at.browser.driver.executeScript("return document.querySelector('.sheaf .count b')?.innerText ?? '0'"));
const total = async () => Number((await at.browser.text()).match(/([\d,]+) people/)?.[1]?.replace(',', '') ?? 0);
/** Puts the word into Find and gathers all that the list then shows. */
async function gatherAll(word: string): Promise<void> {
  const before = [await total(), await gathered()] as const;
  await at.browser.keys(Key.ESCAPE);
  await (await at.browser.find('#find')).sendKeys(word);
  await at.browser.sees(`All people who match “${word}”`);
  await at.browser.keys(Key.ENTER);
  await at.browser.sees(`Matches “${word}”`);
  await at.browser.until(async () => (await total()) !== before[0], `the list does not follow ${word}`);
  const shown = await total();
  expect(shown).toBeGreaterThan(0);
  await at.browser.chord(Key.CONTROL, 'a');
  await at.browser.until(async () => (await gathered()) > before[1], `nobody is gathered by ${word}`);
}

it('makes a class, gathers over four searches on three filters, enrolls and prints', async () => {
  await at.browser.go('/classes');
  await at.browser.sees('New classes');
  await at.browser.find('[role=grid]');
  await at.browser.press('New classes');
  await at.browser.find('.new input');
  await at.browser.keys('Regatta club, 3A');
  await at.browser.choose('.new input[role=combobox]', 'Lantern', 10);
  await at.browser.sees('3A already exists: the class of');
  // A club is no homeroom, of which a student has one.
  await at.browser.choose('.new label:nth-of-type(4) input[role=combobox]', 'course', 10);
  expect(await at.browser.violations()).toEqual([]);
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('Adds 1 class.');

  await at.browser.go('/people');
  await at.browser.sees('Gather all');
  // Three filters: the school, what is lacking, the role.
  await at.browser.press('Lantern Point');
  await at.browser.until(async () => (await total()) < 500, 'the school does not narrow the list');
  const atSchool = await total();
  await at.browser.press('Students');
  await at.browser.until(async () => (await total()) < atSchool, 'the role does not narrow the list');
  const students = await total();
  await at.browser.press('First sign-in');
  await at.browser.until(async () => (await total()) < students, 'the lack does not narrow the list');
  for (const word of ['ab', 'mo', 'sa', 'tan']) await gatherAll(word);
  const count = await gathered();
  expect(count).toBeGreaterThan(4);

  await at.browser.press('Enroll');
  await at.browser.find('.verb input');
  await at.browser.keys('regatta');
  await at.browser.sees('Regatta club');
  // Beside whatever courses they have.
  await at.browser.choose('.verb .choice input[role=combobox]', 'in addition', 10);
  await at.browser.sees(`Enrolls ${count} people in a class.`);
  expect(await at.browser.violations()).toEqual([]);
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees(`Enroll ${count} people in Regatta club`);
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('Applied. Enrolls');
  const enrolled = await at.world.db.one<{ n: number }>(
    "SELECT COUNT(*) AS n FROM enrollments e JOIN classes c ON c.id = e.classId WHERE c.name = 'Regatta club' AND e.ends IS NULL",
  );
  expect(Number(enrolled!.n)).toBe(count);

  // A group of those who have just been enrolled, made from the sheaf.
  await at.browser.press('Group');
  await at.browser.find('.verb');
  await at.browser.find('.verb form');
  await at.browser.until(
    () => at.browser.driver.executeScript('return document.activeElement.matches(".verb form input")'),
    'the name has no focus',
  );
  await at.browser.keys('Spinnakers');
  await at.browser.choose('.verb form label:nth-of-type(3) input[role=combobox]', 'gathered students of one', 10);
  await at.browser.choose('.verb form .picker input', 'regatta', 5);
  await at.browser.until(
    () => at.browser.driver.executeScript('return !document.querySelector(".verb form button[type=submit]").disabled'),
    'the class is not found',
  );
  expect(await at.browser.violations()).toEqual([]);
  await at.browser.press('Create');
  await at.browser.sees(`Adds ${count} people to a group. Adds 1 group.`);
  await at.browser.sees('Gather ');
  expect(await at.browser.violations()).toEqual([]);

  await at.browser.press('Cards');
  await at.browser.sees(`Print ${count} cards`);
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.find('#last-print');
});

it('takes in a child at the door, and asks when somebody like that is there', async () => {
  const twin = await at.world.db.one<{ familyName: string; givenName: string; birthDate: string }>(
    "SELECT familyName, givenName, birthDate FROM people WHERE role = 'student' AND status = 'active' AND birthDate IS NOT NULL AND number IS NOT NULL ORDER BY id LIMIT 1",
  );
  await at.browser.alone();
  await at.browser.go('/people');
  await at.browser.sees('Gather all');
  await at.browser.press('New students');
  await at.browser.until(
    () => at.browser.driver.executeScript('return document.activeElement.matches(".typed [data-row=\\"0\\"] input")'),
    'the first field has no focus',
  );
  await at.browser.choose('.typed input[role=combobox]', 'Lantern', 5, true);
  await at.browser.tabTo('.typed [data-row="0"] input', 20);
  await at.browser.keys(
    'Fjellheim',
    Key.TAB,
    'Sunniva',
    Key.TAB,
    '3A',
    Key.TAB,
    '3',
    Key.TAB,
    Key.TAB,
    '2017-03-25',
    Key.ENTER,
  );
  await at.browser.keys(twin!.familyName, Key.TAB, twin!.givenName, ...Array<string>(4).fill(Key.TAB), twin!.birthDate);
  // What is typed is still there after a reload.
  await at.browser.go('/people');
  await at.browser.sees('Gather all');
  await at.browser.press('New students');
  await at.browser.until(
    async () => (await (await at.browser.find('.typed [data-row="0"] input')).getAttribute('value')) === 'Fjellheim',
    'the draft is lost',
  );
  expect(await at.browser.violations()).toEqual([]);
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('Preview');
  await at.browser.sees('1 new');
  // The other one is known again, though only by name and birth date.
  await at.browser.sees('1 unchanged');
});

it('holds two people and lets the two be merged, seen side by side', async () => {
  await at.browser.alone();
  await at.browser.go('/people?gathered=1');
  await at.browser.sees('gathered');
  await at.browser.press('Clear the sheaf');
  await at.browser.go('/people');
  await at.browser.sees('Gather all');
  await at.browser.until(
    () => at.browser.driver.executeScript('return document.activeElement?.getAttribute("role") === "grid"'),
    'the worksheet has no focus',
  );
  await at.browser.find('.scroller .line.focused');
  await at.browser.keys(' ', Key.ARROW_DOWN, ' ');
  await at.browser.until(async () => (await gathered()) === 2, 'two are not gathered');
  await at.browser.fromMenu('.sheaf .verbs [aria-haspopup=menu]', 'Suspend');
  await at.browser.sees('Plan 2 changes');
  await at.browser.keys(Key.ESCAPE);
  await at.browser.fromMenu('.sheaf .verbs [aria-haspopup=menu]', 'Merge');
  await at.browser.sees('The two people you gathered');
  await at.browser.sees('Merge into it');
  expect(await at.browser.violations()).toEqual([]);
});
