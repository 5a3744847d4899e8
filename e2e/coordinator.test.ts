/** What a coordinator comes for in the year, counted in actions: a click, a key or a typed field each. */
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
  await actions.click('Undo');
  await at.browser.sees('Undone.');
  expect(await students(id)).toBe(before);

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
});
