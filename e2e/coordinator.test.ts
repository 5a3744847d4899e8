/** What a coordinator comes for in the year, counted in actions: a click, a key or a typed field each. */
import { resolve } from 'node:path';
import { expect, it } from 'vitest';
import { Actions } from './actions';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('coordinator', { as: 'district' });
const actions = new Actions(at);

const course = async () =>
  (await at.world.db.one<{ id: string; name: string }>(
    "SELECT c.id, c.name FROM classes c JOIN schools s ON s.id = c.schoolId WHERE c.kind = 'homeroom' AND c.ends IS NULL AND s.code = 'LAN' ORDER BY c.name, c.id LIMIT 1",
  ))!;
const students = async (id: string) =>
  Number(
    (await at.world.db.one<{ n: number }>(
      "SELECT COUNT(*) AS n FROM enrollments WHERE classId = :id AND role = 'student' AND ends IS NULL",
      { id },
    ))!.n,
  );
const given = ['Ailsa', 'Bram', 'Ciara', 'Dougal', 'Eilidh'];
const family = ['Kittiwake', 'Quillfeather', 'Vexley', 'Wrenfold', 'Zephyrine'];
const names = given.flatMap((one) => family.map((other) => `${one} ${other}`)).join('\n');

it('adds 25 names pasted into a class: 5 by mouse, 6 by keyboard; and undoes it', async () => {
  const { id, name } = await course();
  const before = await students(id);
  await at.browser.go(`/classes/${id}`);
  await at.browser.sees('Add people');
  await actions.isFocused('[role=grid]');
  actions.count();
  await actions.click('Add people');
  await actions.isFocused('.ordering input');
  await actions.paste(names);
  await at.browser.sees('25 new');
  await actions.click('Plan ');
  await at.browser.sees('No guard holds this plan');
  expect(await at.browser.text()).toContain(name);
  await actions.click('Apply ');
  await at.browser.sees('Applied.');
  expect(actions.count()).toBeLessThanOrEqual(5);
  expect(await students(id)).toBe(before + 25);
  // One plan has one Undo, and what was said of it goes away with its place.
  const undos = "return [...document.querySelectorAll('button')].filter((b) => b.innerText.startsWith('Undo')).length";
  expect(await actions.run(undos)).toBe(1);
  await actions.click('Undo');
  await at.browser.sees('Undone.');
  await actions.isFocused('[role=grid]');
  expect(await students(id)).toBe(before);
  await actions.click('People');
  await at.browser.sees('Gather all');
  expect(await at.browser.text()).not.toContain('Undone.');

  await at.browser.go(`/classes/${id}`);
  await at.browser.sees('Add people');
  await actions.isFocused('[role=grid]');
  actions.count();
  await actions.chord(Key.CONTROL, Key.ENTER);
  await actions.isFocused('.ordering input');
  await actions.paste(names);
  await at.browser.sees('25 new');
  await actions.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('No guard holds this plan');
  await actions.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('Applied.');
  expect(actions.count()).toBeLessThanOrEqual(6);
  expect(await students(id)).toBe(before + 25);
  await actions.click('Back to the class');
  await at.browser.sees(`${before + 25} students`);
});

/** Printed, or about to be: the notice offers the file. */
const printed = () => at.browser.sees('to print.');

it('adds a student by name and class and prints the card: 9 by mouse, 12 by keyboard', async () => {
  const { name } = await course();
  for (const [isByKeys, family] of [
    [false, 'Marlinspike'],
    [true, 'Bowsprit'],
  ] as const) {
    await at.browser.go('/people');
    await at.browser.sees('Gather all');
    if (!isByKeys) await at.browser.choose('input[aria-label=School]', 'Lantern', 120);
    await at.browser.until(
      async () => /People 4\d\d people/.test(await at.browser.text()),
      'the school is not shown alone',
    );
    await at.browser.tabTo('[role=grid]', 120);
    actions.count();
    if (isByKeys) await actions.chord(Key.CONTROL, Key.ENTER);
    else await actions.click('New students');
    const go = (words: string) => (isByKeys ? actions.chord(Key.CONTROL, Key.ENTER) : actions.click(words));
    const next = async () => {
      if (isByKeys) await actions.keys(Key.TAB);
      else await at.browser.keys(Key.TAB);
    };
    await actions.isFocused('[data-row="0"] input');
    await actions.keys(family);
    await next();
    await actions.keys('Isla');
    await next();
    await actions.keys(name);
    await go('Review');
    await at.browser.sees('Preview');
    await at.browser.sees('Plan ');
    await go('Plan ');
    await at.browser.sees('No guard holds this plan');
    await go('Apply ');
    await at.browser.sees('Print their cards');
    await go('Print their cards');
    await at.browser.sees('Print 1 card');
    await go('Print 1 card');
    await printed();
    expect([family, actions.count() <= (isByKeys ? 12 : 9)]).toEqual([family, true]);
  }
});

it('makes a group across classes, finds it again and prints it: 8 by mouse, 12 by keyboard', async () => {
  for (const isByKeys of [false, true]) {
    const name = isByKeys ? 'Guillemots' : 'Razorbills';
    await at.browser.go('/people?lacks=signed-in&role=student');
    await at.browser.sees('Gather all');
    await at.browser.tabTo('[role=grid]', 120);
    actions.count();
    if (isByKeys) {
      await actions.chord(Key.CONTROL, 'a');
      await at.browser.sees('gathered');
      await actions.keys('/', 'group');
      await at.browser.sees('Group the');
      await actions.keys(Key.ENTER);
    } else {
      await actions.click('Gather all');
      await at.browser.sees('gathered');
      await actions.click('Group');
    }
    await actions.isFocused('.verb form input');
    await actions.keys(name);
    if (isByKeys) await actions.keys(Key.ENTER);
    else await actions.click('Create');
    await at.browser.sees('Adds 1 group.');
    // Somewhere else it is found by its name.
    const made = actions.count();
    await at.browser.go('/classes');
    await at.browser.sees('New classes');
    if (isByKeys) await actions.keys('/', name);
    else {
      // A field into which something is typed is one action, however it is reached.
      await (await at.browser.find('#find')).click();
      await actions.keys(name);
    }
    await at.browser.find('.ant-select-item-option');
    if (isByKeys) await actions.keys(Key.ENTER);
    else await actions.on(await at.browser.find('.ant-select-item-option'));
    await at.browser.sees('End group');
    if (isByKeys) await actions.chord(Key.CONTROL, Key.ENTER);
    else await actions.click('Print cards');
    await at.browser.until(async () => /Print [\d,]+ cards/.test(await at.browser.text()), 'nothing is to be printed');
    if (isByKeys) await actions.chord(Key.CONTROL, Key.ENTER);
    else await actions.click('Print ');
    await printed();
    expect([name, made + actions.count() <= (isByKeys ? 12 : 8)]).toEqual([name, true]);
    await at.browser.go('/people?gathered=1');
    await at.browser.press('Clear the sheaf');
  }
});

it('gives a student a new password and a card by keyboard: 6', async () => {
  const student = (await at.world.db.one<{ number: string; familyName: string }>(
    "SELECT p.number, p.familyName FROM people p JOIN accounts a ON a.personId = p.id WHERE p.role = 'student' AND p.status = 'active' AND p.number IS NOT NULL ORDER BY p.id LIMIT 1",
  ))!;
  await at.browser.go('/people');
  await at.browser.sees('Gather all');
  await actions.isFocused('[role=grid]');
  actions.count();
  await actions.keys('/', student.number);
  await at.browser.find('.ant-select-item-option');
  await actions.keys(Key.ENTER);
  await at.browser.sees('Print card');
  await actions.isFocused('.page-acts button');
  await actions.keys(Key.ENTER);
  await at.browser.sees('has a new password');
  await at.browser.until(
    async () => (await actions.run('return document.activeElement.innerText')) === 'Print card',
    'the card is not next',
  );
  await actions.keys(Key.ENTER);
  await printed();
  expect(actions.count()).toBeLessThanOrEqual(6);
});

it('goes from the office’s file to the cards of one class: 10 by mouse, 14 by keyboard', async () => {
  for (const isByKeys of [false, true]) {
    const go = (words: string) => (isByKeys ? actions.chord(Key.CONTROL, Key.ENTER) : actions.click(words));
    await at.browser.go('/imports');
    await at.browser.press('Skerry Isles Unified');
    await at.browser.tabTo('.page-acts .ant-btn-primary', 80);
    actions.count();
    const file = 'skerry-middle-students.csv';
    await (await at.browser.find('input[type=file]')).sendKeys(resolve(`demo/files/${file}`));
    // The button, and the file in the system’s own window.
    const opened = 2;
    await at.browser.sees('Preview');
    await at.browser.until(async () => /Plan [\d,]+/.test(await at.browser.text()), 'nothing is counted');
    await go('Plan ');
    await at.browser.sees('No guard holds this plan');
    await go('Apply ');
    await at.browser.sees('Applied.');
    if (isByKeys) {
      await actions.chord(Key.ALT, '7');
      await actions.isFocused('.handouts [role=grid]');
      await actions.chord(Key.SHIFT, Key.TAB);
      await actions.keys('6A', Key.ENTER);
    } else {
      await actions.click('Handouts');
      await at.browser.sees('Print for class');
      await (await at.browser.find('.left input[type=search]')).click();
      await actions.keys('6A');
      await at.browser.until(async () => !(await at.browser.text()).includes('Evening 1 '), 'the list is not narrowed');
      await actions.on(await at.browser.find('.left .scroller .line[role=row]'));
    }
    await at.browser.sees('Print for class 6A');
    await at.browser.until(async () => /Print \d+ cards/.test(await at.browser.text()), 'nothing is to be printed');
    await go('Print ');
    await printed();
    expect([isByKeys, opened + actions.count() <= (isByKeys ? 14 : 10)]).toEqual([isByKeys, true]);
    const district = await at.world.as('district');
    const [last] = (await district.get<{ planId: string; canUndo: boolean }[]>('/api/ledger')).body.filter(
      ({ canUndo }) => canUndo,
    );
    expect((await district.job(`/api/plans/${last!.planId}/undo`)).status).toBe('done');
  }
});
