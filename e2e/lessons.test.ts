/** Assignments as staff keep and give them: a class for staff only, a library, and goals with who is behind them. */
import { By, type WebElement } from 'selenium-webdriver';
import { expect, it } from 'vitest';
import { Actions } from './actions';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('lessons', { as: 'district' });
const actions = new Actions(at);
const click = actions.click.bind(actions);
const classAt = async (name: string) =>
  (await at.world.db.one<{ id: string }>(
    "SELECT c.id FROM classes c JOIN schools s ON s.id = c.schoolId AND s.code = 'LAN' WHERE c.name = :name AND c.ends IS NULL",
    { name },
  ))!.id;
const teacher = async () =>
  (await at.world.db.one<{ name: string }>(
    "SELECT CONCAT(p.givenName, ' ', p.familyName) AS name FROM people p JOIN accounts a ON a.personId = p.id WHERE a.username = :username",
    { username: at.username('teacher') },
  ))!.name;
const lineOf =
  'return [...document.querySelectorAll(".line[role=row]")].find((one) => one.innerText.includes(arguments[0])) ?? null';
/** Opens the form of an assignment for the class and chooses the material. */
async function begin(className: string, material: string): Promise<void> {
  const { browser } = at;
  await browser.go('/classes/work');
  await click('New assignment');
  await browser.find('.whom li');
  await browser.keys(className);
  await browser.until(
    async () => (await browser.driver.executeScript('return document.querySelectorAll(".whom li").length')) === 1,
    `${className} is not offered alone`,
  );
  await browser.tabTo('.whom input[type=checkbox]', 5);
  await browser.keys(Key.SPACE);
  await browser.choose('.what label:nth-of-type(1) input[role=combobox]:enabled', material, 20);
}
async function assign(): Promise<void> {
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.until(async () => !(await at.browser.text()).includes('Answers shown'), 'it is not made');
}

it('keeps assignments in a class for staff, shares it with a teacher by name, and copies them to a class', async () => {
  const { browser } = at;
  await browser.go('/classes');
  await browser.sees('3A');
  await click('New classes');
  await browser.find('.new .names input');
  await browser.keys('Shelf of reading');
  await browser.choose('.new label:nth-of-type(2) input[role=combobox]', 'Lantern', 10);
  await browser.choose('.new label:nth-of-type(4) input[role=combobox]', 'staff', 10);
  await click('Create 1');
  await browser.sees('Adds 1 class');

  await browser.go(`/classes/${await classAt('Shelf of reading')}`);
  await click('Add people');
  const name = await teacher();
  await actions.isFocused('.ordering input');
  // Nobody joins it by a code, no cards are printed for it.
  for (const none of ['Show code', 'Print cards']) expect(await browser.text()).not.toContain(none);
  await browser.keys(name);
  await click(name);
  await browser.sees(`${name} is now in`);
  expect(await browser.violations()).toEqual([]);

  await begin('Shelf of reading', 'letter in a bottle');
  expect(await browser.violations()).toEqual([]);
  await assign();
  await browser.sees('Adds 1 assignment');
  // It is nobody's to do, and nothing to complain of.
  await browser.until(async () => (await actions.run(lineOf, 'Shelf of reading')) !== null, 'it is not listed');
  const line = (await actions.run(lineOf, 'Shelf of reading')) as WebElement;
  expect(await line.getText()).toContain('staff only');
  await line.click();
  await browser.press('Copy to classes');
  await browser.choose('form.bar input[role=combobox]', '3B · Lantern', 10);
  await browser.press('Copy 1');
  await browser.until(async () => (await actions.run(lineOf, '3B')) !== null, 'it is not copied');
  expect(await browser.violations()).toEqual([]);
});

it('opens to a class without being assigned, and is due for nobody', async () => {
  const { browser, world } = at;
  await begin('3A Lantern', 'letter in a bottle');
  await browser.choose('.what label:nth-of-type(2) input[role=combobox]', 'library', 10);
  expect(await browser.driver.findElements(By.css('.what input[aria-label=Due]'))).toEqual([]);
  await browser.tabTo('.what label:nth-of-type(3) input', 10);
  await browser.chord(Key.CONTROL, 'a');
  await browser.keys('A letter to read again');
  await assign();
  await browser.sees('A letter to read again');
  await browser.go(`/classes/${await classAt('3A')}/progress`);
  await browser.sees('A letter in a bottle');
  expect(await browser.text()).not.toContain('A letter to read again');

  const student = world.signIns.find(({ who }) => who.startsWith('student'))!;
  await browser.signOut();
  await browser.signIn(student.username, student.secret);
  await browser.sees('Library');
  await browser.sees('A letter to read again');
  expect(await browser.violations()).toEqual([]);
  await browser.driver.manage().deleteAllCookies();
  await at.signIn('district');
});

it('expects minutes a week of a class and others of one child, shows who is behind, and gathers them', async () => {
  const { browser, world } = at;
  const id = await classAt('3A');
  const { n: students } = (await world.db.one<{ n: number }>(
    "SELECT COUNT(*) AS n FROM enrollments WHERE classId = :id AND role = 'student' AND ends IS NULL",
    { id },
  ))!;
  await browser.go(`/classes/${id}/progress`);
  await browser.sees('Set goals');
  await browser.sees('A letter in a bottle');
  // Where nothing is expected nobody is on track or behind.
  expect(await browser.text()).not.toContain('On track');
  await world.db.run(
    `INSERT INTO use_days (productId, personId, day, seconds, times) SELECT p.id, e.personId, '2026-08-16', 1800, 1
     FROM enrollments e JOIN products p ON p.name = 'Wrackline Readers' WHERE e.classId = :id AND e.role = 'student' AND e.ends IS NULL`,
    { id },
  );
  const child = await (await browser.find('.line[role=row] a')).getText();
  await (await browser.find('.line[role=row] [role=gridcell]:nth-child(3)')).click();
  const form = 'form[aria-label^="Goals"]';
  for (const minutes of ['40', '30']) {
    await browser.press('Set goals');
    if (minutes === '30') await browser.choose(`${form} input[role=combobox]`, child, 10);
    await browser.tabTo(`${form} label:nth-of-type(2) input`, 10);
    await browser.keys(minutes, Key.ENTER);
    await browser.until(async () => !(await browser.text()).includes('Save goals'), 'it is not saved');
  }
  await browser.sees('On track');
  expect((await browser.text()).match(/On track/g)).toHaveLength(1);
  expect(await browser.violations()).toEqual([]);
  await browser.press('Gather');
  await browser.sees(`${students - 1} gathered`);
});
