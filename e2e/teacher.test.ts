/** What a teacher comes for, counted in actions: a click, a key or a typed field each. */
import type { WebElement } from 'selenium-webdriver';
import { expect, it } from 'vitest';
import { demoKey, keyNameOf } from '#demo/product';
import { hashToken } from '#server/auth/seal';
import { StandIn } from '#server/testing/process';
import { Actions } from './actions';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('teacher', { as: 'teacher' });

const actions = new Actions(at);
const { run, isFocused } = actions;
const keys = actions.keys.bind(actions);
const chord = actions.chord.bind(actions);
const click = actions.click.bind(actions);
const count = actions.count.bind(actions);
const mine = async () =>
  (await at.world.db.one<{ id: string; name: string; schoolId: string }>(
    `SELECT c.id, c.name, c.schoolId FROM classes c JOIN enrollments e ON e.classId = c.id AND e.role = 'teacher' AND e.ends IS NULL
       JOIN accounts a ON a.personId = e.personId WHERE a.username = :username AND c.kind = 'homeroom' AND c.ends IS NULL LIMIT 1`,
    { username: at.username('teacher') },
  ))!;
/** Staff of the school who do not teach the class, and a student of it. */
const colleague = async () =>
  (await at.world.db.one<{ name: string }>(
    `SELECT CONCAT(p.givenName, ' ', p.familyName) AS name FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.schoolId = :schoolId
     WHERE p.role = 'staff' AND p.status = 'active' AND NOT EXISTS (SELECT 1 FROM enrollments e WHERE e.personId = p.id AND e.classId = :id)
       AND NOT EXISTS (SELECT 1 FROM people o WHERE o.id <> p.id AND o.familyName = p.familyName AND o.givenName = p.givenName) ORDER BY p.id LIMIT 1`,
    await mine(),
  ))!.name;
const students = async () => {
  const { id } = await mine();
  return Number(
    (await at.world.db.one<{ n: number }>(
      "SELECT COUNT(*) AS n FROM enrollments WHERE classId = :id AND role = 'student' AND ends IS NULL",
      { id },
    ))!.n,
  );
};

it('opens her class in one action from where she arrives', async () => {
  const { name, id } = await mine();
  await at.browser.sees('Your classes');
  await isFocused('[role=grid]');
  expect(await at.browser.violations()).toEqual([]);
  count();
  await click(name);
  await at.browser.sees('Add people');
  expect(count()).toBe(1);
  expect(await at.browser.driver.getCurrentUrl()).toMatch(new RegExp(`/classes/${id}$`));
  expect(await at.browser.violations()).toEqual([]);
});

it('adds a co-teacher: 4 by mouse, 6 by keyboard; and removes them again', async () => {
  const name = await colleague();
  count();
  await click('Add people');
  await isFocused('.ordering input');
  await keys(name);
  await click(name);
  await at.browser.sees(`${name} is now in`);
  expect(count()).toBeLessThanOrEqual(4);
  await click(`Remove ${name} from the teachers`);
  await at.browser.sees(`${name} is no longer in`);
  await click('Done');
  await isFocused('[role=grid]');
  count();
  await chord(Key.CONTROL, Key.ENTER);
  await isFocused('.ordering input');
  await keys(name);
  await at.browser.until(
    async () => (await run("return document.querySelector('.ant-select-item-option-active')?.innerText ?? ''")) !== '',
    'nobody is found',
  );
  expect(await at.browser.violations()).toEqual([]);
  await keys(Key.ENTER);
  await at.browser.sees(`${name} is now in`);
  expect(count()).toBeLessThanOrEqual(6);
  await keys(Key.ESCAPE);
  await isFocused('[role=grid]');
});

it('removes a student: 3 by mouse, 4 by keyboard; Undo brings the student back', async () => {
  await at.browser.go(`/classes/${(await mine()).id}`);
  await at.browser.sees('Add people');
  await isFocused('[role=grid]');
  const before = await students();
  count();
  await keys(Key.ARROW_DOWN, Key.DELETE);
  await at.browser.sees('is no longer in');
  expect(count()).toBeLessThanOrEqual(4);
  expect(await students()).toBe(before - 1);
  await click('Undo');
  await at.browser.sees('Undone.');
  expect(await students()).toBe(before);
  count();
  await actions.on(await at.browser.find('.roster .line[role=row]'));
  await click('Remove ');
  await at.browser.until(async () => (await students()) === before - 1, 'nobody was removed');
  expect(count()).toBeLessThanOrEqual(3);
  await click('Undo');
  await at.browser.until(async () => (await students()) === before, 'the student is not back');
});

it('gives one student a new password and a card: 4 by mouse, 6 by keyboard', async () => {
  await at.browser.go(`/classes/${(await mine()).id}`);
  await at.browser.sees('Add people');
  await isFocused('[role=grid]');
  count();
  await keys(Key.ENTER);
  await at.browser.sees('New password');
  await click('New password');
  await at.browser.sees('has a new password');
  await click('Print card');
  await at.browser.sees('1 card ready to print.');
  expect(count()).toBeLessThanOrEqual(4);
  expect(await at.browser.violations()).toEqual([]);
});

it('shows the class code: 3 by mouse', async () => {
  count();
  await click('Show code');
  await at.browser.until(async () => (await at.browser.driver.getCurrentUrl()).includes('/board/'), 'no code is shown');
  expect(count()).toBeLessThanOrEqual(3);
});

it('shows the class code from Today: 4 by keyboard', async () => {
  await at.browser.go('/');
  await isFocused('[role=grid]');
  count();
  const isAtCode = () =>
    actions.run('return document.activeElement.matches(\'a[href^="/board/"], [aria-label^="New code for"]\')');
  for (let tabs = 0; tabs < 6 && !(await isAtCode()); tabs++) await keys(Key.TAB);
  await keys(Key.ENTER);
  await at.browser.until(async () => (await at.browser.driver.getCurrentUrl()).includes('/board/'), 'no code is shown');
  expect(count()).toBeLessThanOrEqual(4);
});

it('is told by pages of coordinators that they are not for her role', async () => {
  await at.browser.go('/imports');
  await at.browser.sees('Your role does not allow this');
});

it('leads a child by a link to the work, who signs in on the way; what the child did comes back to the class', async () => {
  const { browser, world } = at;
  const product = await StandIn.start('product', ['--to', `${at.server.base}/xapi`, '--key', demoKey]);
  const work = (await world.db.one<{ id: string; classId: string; materialId: string; productId: string }>(
    `SELECT w.id, w.classId, w.materialId, m.productId FROM set_work w JOIN materials m ON m.id = w.materialId
     JOIN classes c ON c.id = w.classId AND c.name = '3A' WHERE w.title = 'A letter in a bottle'`,
  ))!;
  await world.db.run('UPDATE materials SET address = :address WHERE id = :materialId', {
    ...work,
    address: `${product.base}/wrackline-readers/a-letter-in-a-bottle`,
  });
  await world.db.models.productKeys.create({
    ...{ productId: work.productId, name: keyNameOf('wrackline-readers'), keyHash: hashToken(demoKey) },
    ...{ createdBy: work.id, createdAt: '2026-08-17T08:00:00.000Z', lastAt: null },
  });
  const student = world.signIns.find(({ who }) => who.startsWith('student'))!;
  await browser.signOut();
  await browser.driver.get(`${at.server.base}/w/${work.id}`);
  await browser.find('input[autocomplete=username]');
  await browser.until(
    () =>
      browser.driver.executeScript<boolean>('return document.activeElement.matches("input[autocomplete=username]")'),
    'the first field has no focus',
  );
  await browser.keys(student.username, Key.TAB, student.secret, Key.ENTER);
  await browser.sees('A letter in a bottle');
  expect(new URL(await browser.driver.getCurrentUrl()).pathname).toBe(`/w/${work.id}`);
  await browser.press('Open');
  await browser.sees('stands in for the product');
  await browser.tabTo('input[name=who]');
  await browser.keys(student.username);
  await browser.press('I’m done');
  await browser.sees('was reported as done');
  await browser.press('Back to my assignments');
  await browser.sees('done, 80 of 100 points');
  product.stop();

  const district = await world.as('district');
  await district.post(`/api/classes/${work.classId}/goals`, { personId: null, goal: { minutes: 30, share: null } });
  await browser.driver.manage().deleteAllCookies();
  await at.signIn('district');
  await browser.go(`/classes/${work.classId}/progress`);
  await browser.sees('done · 80%');
  // The link leads staff to the sheet of the assignment; from there to the poster with its QR.
  await browser.go(`/w/${work.id}`);
  await browser.sees('Done 1 of');
  await browser.press('Show QR code');
  await browser.sees('Scan it, or go to');
  expect(await browser.violations()).toEqual([]);
});

it('leads back to where a session ended, though a question is refused after the sign-in is shown', async () => {
  const { browser } = at;
  await browser.driver.manage().deleteAllCookies();
  await at.signIn('teacher');
  await browser.find('nav.places');
  await browser.driver.manage().deleteAllCookies();
  await browser.chord(Key.ALT, '4');
  await browser.find('input[autocomplete=username]');
  // As the page hears of an answer that comes late.
  await browser.driver.executeScript("dispatchEvent(new Event('signed-out'))");
  await at.signIn('teacher');
  await browser.until(
    async () => new URL(await browser.driver.getCurrentUrl()).pathname === '/classes',
    'it does not lead back',
  );
});

const labelOf =
  'return [...document.querySelectorAll("label")].find((one) => one.innerText.trim() === arguments[0]) ?? null';

it('sees who has not reached which skill, and words that were missed, of her class', async () => {
  const { id } = await mine();
  const missed = await at.world.db.select<{ word: string }>(
    `SELECT DISTINCT m.word FROM missed_words m JOIN enrollments e ON e.personId = m.personId AND e.classId = :id AND e.ends IS NULL
     WHERE m.knownAt IS NULL OR m.knownAt < m.missedAt`,
    { id },
  );
  expect(missed.length).toBeGreaterThan(2);
  await at.browser.go('/classes/use');
  await actions.on(await at.browser.find('.line[role=row] button'));
  await at.browser.until(async () => (await run(labelOf, 'Skills and words')) !== null, 'nothing is said of skills');
  await actions.on((await run(labelOf, 'Skills and words')) as WebElement);
  await at.browser.sees('Words missed');
  for (const { word } of missed) expect(await at.browser.text()).toContain(word);
  expect(await at.browser.violations()).toEqual([]);
  expect(await at.browser.errors()).toEqual([]);
});
