/** The year by keyboard: a late arrival made ready, a grade split beside an interface that answers, the roll-over and back, a class from the archive. */
import { expect, it } from 'vitest';
import { wordOf } from '#core/random/index';
import { mint } from '#server/plans/mint';
import type { World } from '#server/testing/world';
import { By } from 'selenium-webdriver';
import { Key } from './browser';
import { stage } from './stage';

/** 600 more in grade 5, of several languages, so that there is something to split. */
async function crowd({ db }: World): Promise<void> {
  const room = (await db.one<{ id: string; schoolId: string }>(
    "SELECT c.id, c.schoolId FROM classes c JOIN schools s ON s.id = c.schoolId AND s.code = 'LAN' WHERE c.name = '5A'",
  ))!;
  const ids = Array.from({ length: 600 }, () => mint());
  await db.transaction(async (tx) => {
    await db.batch(
      "INSERT INTO people (id, role, givenName, familyName, language, status) VALUES (?, 'student', ?, ?, ?, 'active')",
      ids.map((id, i) => [id, wordOf(i), wordOf(i * 7), ['es', 'vi', 'pl', null][i % 4]]),
      tx,
    );
    await db.batch(
      "INSERT INTO affiliations (id, personId, schoolId, grade, begins) VALUES (?, ?, ?, '05', '2026-07-01')",
      ids.map((id) => [mint(), id, room.schoolId]),
      tx,
    );
    await db.batch(
      "INSERT INTO enrollments (id, personId, classId, role, begins) VALUES (?, ?, ?, 'student', '2026-07-01')",
      ids.map((id) => [mint(), id, room.id]),
      tx,
    );
  });
}
const at = stage('year', { as: 'district', before: crowd });
const one = async <T extends object>(sql: string): Promise<T> => (await at.world.db.one<T>(sql))!;
const applied = async () => {
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('Applied.');
};

it('makes a child ready who is added here: all that is lacking in one plan, then the card', async () => {
  const { browser } = at;
  await browser.find('[role=grid], .today');
  await browser.chord(Key.ALT, '3');
  await browser.sees('Gather all');
  await browser.press('New students');
  await browser.choose('.typed input[role=combobox]', 'Outer', 200, true);
  await browser.tabTo('.typed [data-row="0"] input', 20);
  await browser.keys('Vinterhav', Key.TAB, 'Alva', Key.TAB, Key.TAB, '9', Key.TAB, '009123', Key.TAB, '2012-03-25');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('1 new');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Apply 3 changes');
  await applied();
  await browser.go('/people?lacks=class');
  await browser.sees('Vinterhav');
  await browser.press('Gather all');
  await browser.sees('1 gathered');
  await browser.press('Provision');
  await browser.sees('account, the homeroom');
  expect(await browser.violations()).toEqual([]);
  await browser.until(async () => /Plan \d+ changes/.test(await browser.text()), 'nothing is planned');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Provision 1 student');
  await applied();
  await browser.press('Print their cards');
  await browser.sees('Print 1 card on 1 page');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.find('#last-print');
  const child = await one<Record<string, number>>(
    `SELECT COUNT(DISTINCT c.id) > 4 AS classes, COUNT(DISTINCT s.id) > 0 AS seats, COUNT(DISTINCT l.id) AS devices, COUNT(DISTINCT pc.printId) AS cards
     FROM people p JOIN accounts ac ON ac.personId = p.id JOIN enrollments e ON e.personId = p.id AND e.ends IS NULL JOIN classes c ON c.id = e.classId
       JOIN seats s ON s.personId = p.id LEFT JOIN loans l ON l.personId = p.id AND l.ends IS NULL LEFT JOIN printed_cards pc ON pc.personId = p.id AND pc.voidedAt IS NULL
     WHERE p.number = '009123'`,
  );
  expect(child).toEqual({ classes: 1, seats: 1, devices: 1, cards: 1 });
});

it('splits a grade while the interface answers, and keeps what is put by hand', async () => {
  const { browser } = at;
  await browser.chord(Key.ALT, '8');
  await browser.press('Sections');
  await browser.sees('Same classmates');
  expect(await browser.violations()).toEqual([]);
  const school = await one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'");
  await browser.go(`/year/sections/${school.id}%3A06`);
  await browser.sees('are not in a class yet');
  // Counts the turns that the page gets while the split is under way.
  await browser.driver.executeScript(
    'window.turns = 0; setInterval(() => { if (document.querySelector(".ant-progress")) window.turns++; }, 20)',
  );
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('0 would be perfectly even');
  expect(await browser.driver.executeScript('return window.turns')).toBeGreaterThan(5);
  expect(await browser.violations()).toEqual([]);
  // The first one goes into another class by hand, and stays there when the grade is split again.
  const classOfFirst = (): Promise<string> =>
    browser.driver.executeScript(
      'return document.querySelector(".scroller .line.focused .ant-select-selection-item")?.innerText ?? ""',
    );
  await browser.keys('1');
  await browser.until(async () => (await classOfFirst()) === '6A', 'it is not in 6A');
  await browser.keys('2');
  await browser.until(async () => (await classOfFirst()) === '6B', 'it is not in 6B');
  await browser.sees('Release');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('saved');
  await browser.until(async () => !(await browser.text()).includes('Stop'), 'it does not end');
  expect(await classOfFirst()).toBe('6B');
  await browser.until(async () => / saved \d/.test(await browser.text()), 'it is not kept');
  await browser.go(`/year/sections/${school.id}%3A06`);
  await browser.sees('0 would be perfectly even');
  await browser.until(async () => (await classOfFirst()) === '6B', 'it is in another class');
  // Nobody said who needs support: it is told, and counts for nothing.
  await browser.sees('on record for no one, so it is left out');
  // Side by side, a student is dragged from one class into another.
  const { driver } = browser;
  await driver
    .findElement(By.css('input[value=columns]'))
    .then((choice) => driver.executeScript('arguments[0].click()', choice));
  const column = (name: string) => browser.find(`section[aria-label="${name}"] ul`);
  const students = async (name: string) => (await (await column(name)).findElements(By.css('li'))).length;
  const [from, to] = [await students('6B'), await students('6A')];
  const [dragged] = await (await column('6B')).findElements(By.css('li'));
  expect(await browser.violations()).toEqual([]);
  const [onto] = await (await column('6A')).findElements(By.css('li'));
  const hand = driver.actions().move({ origin: dragged! }).press().move({ origin: dragged!, y: 8, duration: 50 });
  await hand.move({ origin: onto!, duration: 300 }).move({ origin: onto!, y: 6, duration: 100 }).release().perform();
  await browser.until(async () => (await students('6A')) === to + 1, 'it is not dropped');
  expect(await students('6B')).toBe(from - 1);
  await browser.until(async () => / saved \d/.test(await browser.text()), 'it is not kept');
});

it('rolls the year over as one plan, brings a class back, and takes all of it back', async () => {
  const { browser, world } = at;
  const before = await world.checksum();
  await browser.chord(Key.ALT, '8');
  await browser.sees('Summary by school');
  await browser.until(async () => /Plan [\d,]+ changes/.test(await browser.text()), 'nothing is counted');
  expect(await browser.violations()).toEqual([]);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Roll-over to 2027–28');
  // In August the year has not ended: a guard holds the plan until somebody says why it is right.
  await browser.sees('The school year runs until Jun ');
  await browser.tabTo('.held input', 60);
  await browser.keys('a rehearsal before school opens', Key.ENTER);
  await browser.sees('“a rehearsal before school opens”');
  await applied();
  expect(await browser.text()).toMatch(
    /Withdraws 16\d people\. Moves 1,77\d people up a grade\. Transfers 925 people to another school/,
  );
  // The grade that was split is as it was split.
  const split = JSON.parse(
    (await one<{ draft: string }>("SELECT draft FROM year_drafts WHERE about LIKE '%:06'")).draft,
  ) as {
    classes: { name: string }[];
    placed: Record<string, number>;
  };
  const rows = await world.db.select<{ personId: string; name: string }>(
    "SELECT e.personId, c.name FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.grade = '06' JOIN schools s ON s.id = c.schoolId AND s.code = 'SKM' WHERE e.ends IS NULL AND c.ends IS NULL AND e.role = 'student'",
  );
  expect(rows.length).toBe(Object.keys(split.placed).length);
  for (const { personId, name } of rows) expect(split.classes[split.placed[personId]!]!.name).toBe(name);

  await browser.chord(Key.ALT, '8');
  await browser.sees('Roll-over to 2027–28 was applied');
  expect(await browser.text()).toContain('2027–28');
  await browser.press('Archive');
  await browser.sees('Restore');
  expect(await browser.violations()).toEqual([]);
  await browser.tabTo('input[type=search]', 60);
  await browser.keys('4A');
  await browser.until(
    async () => /4A Thornhope/.test(await browser.text()) && !(await browser.text()).includes('12F'),
    'the list is not narrowed',
  );
  await browser.tabTo('[role=grid]', 10);
  await browser.keys(Key.ENTER);
  await browser.sees('grade 4 · ');
  expect(await browser.violations()).toEqual([]);
  await browser.press('Restore');
  await browser.sees('4A is restored');
  await browser.press('Undo');
  await browser.sees('Undone.');
  await browser.go('/year');
  await browser.press('View it, or undo it');
  await browser.sees('Undo 2');
  await browser.press('Undo 2');
  await browser.until(async () => /Apply 2[\d,]+ changes/.test(await browser.text()), 'it is not undone');
  await browser.until(async () => !(await browser.text()).includes('Undo 2'), 'the year is still the next one');
  expect(await world.checksum()).toBe(before);
});

it('gets terms and days off as a plan, typed by keyboard and kept when the page is left', async () => {
  const { browser } = at;
  await browser.go('/settings/year');
  await browser.sees('School year');
  await browser.press('Add term');
  await browser.tabTo('[aria-label="Name of term 1"]', 200, true);
  await browser.keys('Fall');
  // Each field by itself: where the focus goes after a day that is the same as before is the picker's own business.
  const [begins, ends] = await browser.driver.findElements({ css: '[aria-label="Terms"] .ant-picker input' });
  await begins!.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Aug 26, 2026', Key.ENTER);
  await ends!.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Jan 22, 2027', Key.ENTER);
  await browser.press('Add day off');
  await browser.sees('The day off in row 1 has no name.');
  // Whoever comes back finds it as it was left.
  await browser.go('/');
  await browser.find('.today');
  await browser.go('/settings/year');
  await browser.sees('The day off in row 1 has no name.');
  await browser.tabTo('[aria-label="Name of day off 1"]', 200);
  await browser.keys('Teacher workday');
  expect(await browser.violations()).toEqual([]);
  await browser.press('Review the plan');
  await browser.sees('New terms');
  await applied();
  await browser.sees('Teacher workday');
  expect(await at.world.db.select('SELECT name, begins, ends FROM terms')).toEqual([
    { name: 'Fall', begins: '2026-08-26', ends: '2027-01-22' },
  ]);
});
