/** What a coordinator does besides the straight way: taking parts out of a plan, releasing a guard, meeting someone else's change, a server that goes away. */
import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { unpack } from '#core/plan/index';
import { demoPassword } from '#demo/scenario';
import { ServerProcess } from '#server/testing/process';
import { type Caller } from '#server/testing/world';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('work', { as: 'district' });

let district: Caller;
beforeAll(async () => {
  district = await at.world.as('district');
});

const focusOnGrid = () =>
  at.browser.until(
    () => at.browser.driver.executeScript('return document.activeElement?.getAttribute("role") === "grid"'),
    'the worksheet has no focus',
  );
const schoolId = async (code: string) =>
  (await at.world.db.one<{ id: string }>('SELECT id FROM schools WHERE code = :code', { code }))!.id;

async function intake(file: string, school: string, complete: boolean): Promise<string> {
  const { id } = (await district.post<{ id: string }>(`/api/intakes?name=${file}`, readFileSync(`demo/files/${file}`)))
    .body;
  await district.post(`/api/intakes/${id}/draft`, {
    hints: {},
    repairs: {},
    leftOut: [],
    schoolId: await schoolId(school),
    complete,
  });
  return id;
}

describe('a plan', () => {
  it('has a person taken out with all that is theirs, is applied without them, and undone from the line below', async () => {
    const before = await at.world.checksum();
    const id = await intake('lantern-point-students.csv', 'LAN', false);
    const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
    await at.browser.go(`/plans/${planId}`);
    await at.browser.sees('New people');
    await focusOnGrid();
    const applied = async () =>
      Number(
        (await (await at.browser.find('footer .ant-btn-primary')).getText())
          .match(/Apply ([\d,]+) changes/)![1]!
          .replace(',', ''),
      );
    const whole = await applied();
    // The first change is a new person; with them go their place, account and enrollment.
    await at.browser.keys(Key.HOME);
    // Enter opens the change and takes nothing out; Esc closes it.
    await at.browser.keys(Key.ENTER);
    await at.browser.find('.change dl');
    expect(await applied()).toBe(whole);
    await at.browser.keys(Key.ESCAPE);
    await at.browser.until(
      async () => (await at.browser.driver.findElements({ css: '.change' })).length === 0,
      'the change stays open',
    );
    await at.browser.keys(' ');
    await at.browser.until(
      async () => (await applied()) === whole - 4,
      'the four changes of a new student are not taken out together',
    );
    await at.browser.sees('taken out');
    await at.browser.keys(' ');
    await at.browser.until(async () => (await applied()) === whole, 'the student is not put back');
    await at.browser.keys(' ');
    await at.browser.until(async () => (await applied()) === whole - 4, 'the student is not taken out again');
    const [label] = await at.world.db.select<{ body: string }>(
      'SELECT body FROM plan_chunks WHERE planId = :planId ORDER BY seq LIMIT 1',
      { planId },
    );
    const first = unpack(label!.body)[0]!.after.number!;
    await at.browser.chord(Key.CONTROL, Key.ENTER);
    await at.browser.sees('Applied. Adds');
    expect(await at.world.db.select('SELECT id FROM people WHERE number = :first', { first })).toEqual([]);
    await at.browser.press('Undo');
    await at.browser.sees('Undone.');
    expect(await at.world.checksum()).toBe(before);
  });

  it('that a guard holds does not apply until it is released with a reason', async () => {
    const before = await at.world.checksum();
    const id = await intake('gull-sound-students.csv', 'GUL', true);
    await at.browser.go(`/imports/${id}`);
    await at.browser.sees('a guard will hold it');
    await at.browser.chord(Key.CONTROL, Key.ENTER);
    await at.browser.sees('Release with reason');
    await at.browser.chord(Key.CONTROL, Key.ENTER);
    await at.browser.sees('A guard holds this plan. Release it with a reason first.');
    expect(await at.world.checksum()).toBe(before);
    await at.browser.tabTo('.held input', 60);
    await at.browser.keys('they move to the mainland', Key.ENTER);
    await at.browser.sees('“they move to the mainland”');
    await at.browser.chord(Key.CONTROL, Key.ENTER);
    await at.browser.sees('Applied. Withdraws 88 people.');
    const left = await at.world.db.one<{ n: number }>("SELECT COUNT(*) AS n FROM people WHERE status = 'left'");
    expect(left!.n).toBeGreaterThan(80);
    await at.browser.press('Undo');
    await at.browser.sees('Undone.');
    expect(await at.world.checksum()).toBe(before);
  });

  it('that meets somebody else’s change is refused whole and says whose record it is', async () => {
    const id = await intake('lantern-point-students.csv', 'LAN', false);
    const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
    const ended = await at.world.db.one<{ body: string }>(
      "SELECT body FROM plan_chunks WHERE planId = :planId AND kind = 'enrollment.end'",
      { planId },
    );
    const change = unpack(ended!.body)[0]!;
    await at.world.db.run("UPDATE enrollments SET ends = '2026-08-16' WHERE id = :id", { id: change.id });
    const before = await at.world.checksum();
    await at.browser.go(`/plans/${planId}`);
    await at.browser.sees('New people');
    await at.browser.chord(Key.CONTROL, Key.ENTER);
    await at.browser.sees('1 change can no longer be made, so none was made');
    await at.browser.sees(change.label);
    expect(await at.world.checksum()).toBe(before);
    // All that is not about that record goes through, and back.
    await at.browser.press('Apply the rest');
    await at.browser.sees('Applied. Adds');
    await at.browser.press('Undo');
    await at.browser.sees('Undone.');
    expect(await at.world.checksum()).toBe(before);
    await at.world.db.run('UPDATE enrollments SET ends = NULL WHERE id = :id', { id: change.id });
  });
});

describe('the worksheet of people', () => {
  it('gathers by keys across searches, and lets go', async () => {
    await at.browser.go('/people');
    await at.browser.sees('Gather all 2,');
    await focusOnGrid();
    await at.browser.find('.line.focused');
    await at.browser.keys(' ');
    await at.browser.sees('1 gathered');
    await at.browser.keys(Key.ARROW_DOWN, Key.ARROW_DOWN, Key.ARROW_DOWN);
    await at.browser.chord(Key.SHIFT, ' ');
    await at.browser.sees('4 gathered');
    await at.browser.keys('/');
    await at.browser.keys('ta');
    await at.browser.sees('All people who match “ta”');
    await at.browser.keys(Key.ENTER);
    await focusOnGrid();
    await at.browser.keys(Key.END);
    await at.browser.keys(' ');
    await at.browser.sees('5 gathered');
    await at.browser.press('Matches “ta”');
    await at.browser.sees('Gather all 2,');
    await at.browser.tabTo('[role=grid]', 120);
    await at.browser.keys(Key.HOME);
    await at.browser.keys(' ');
    await at.browser.sees('4 gathered');
    // Far down, rows come as they are reached.
    await at.browser.driver.executeScript('document.querySelector("[role=grid]").scrollTop = 1e7');
    await at.browser.until(
      async () => (await at.browser.driver.findElements({ css: '.line:not(.waiting)' })).length > 5,
      'the rows far down do not come',
    );
    await at.browser.tabTo('.sheaf > button:last-child', 160);
    await at.browser.keys(Key.ENTER);
    await at.browser.until(
      async () => (await at.browser.driver.findElements({ css: '.sheaf' })).length === 0,
      'they are not let go',
    );
  });

  it('opens the record, edits in place, and undoes the edit', async () => {
    const before = await at.world.checksum();
    await at.browser.go('/people');
    await at.browser.sees('Gather all 2,');
    await focusOnGrid();
    await at.browser.find('.line.focused');
    await at.browser.keys(Key.ENTER);
    await at.browser.find('.record');
    const name = await (await at.browser.find('.record h2')).getText();
    await at.browser.keys(Key.ARROW_DOWN);
    await at.browser.until(
      async () => (await (await at.browser.find('.record h2')).getText()) !== name,
      'the record does not follow the focus',
    );
    await at.browser.tabTo('#f-middleName', 60);
    await at.browser.keys('Skerry', Key.ENTER);
    await at.browser.sees('Saved: middle name.');
    await at.browser.tabTo('.work .ant-btn', 60);
    await at.browser.keys(Key.ENTER);
    await at.browser.sees('Undone.');
    expect(await at.world.checksum()).toBe(before);
  });
});

describe('a draft', () => {
  it('outlives a reload, and a server that is killed and comes back', async () => {
    const id = await intake('skerry-middle-students.csv', 'SKM', false);
    await at.browser.go(`/imports/${id}`);
    await at.browser.sees('Problems in 31 rows');
    await at.browser.choose('input[aria-label="Column 6, House"]', 'class');
    await at.browser.sees('a guard will hold it');
    await at.browser.driver.navigate().refresh();
    await at.browser.sees('a guard will hold it');
    await at.browser.find('#cell-0-0');

    const port = Number(new URL(at.server.base).port);
    await at.server.kill();
    await at.browser.tabTo('[role=grid]', 60);
    await at.browser.keys('9', Key.ENTER);
    await at.browser.sees('The server does not answer. What you typed is saved here');
    at.server = await ServerProcess.start(at.world.config, { port });
    await at.browser.sees('Problems in 32 rows');
    const record = await at.world.db.one<{ draft: string }>('SELECT draft FROM intakes WHERE id = :id', { id });
    expect((JSON.parse(record!.draft) as { repairs: object }).repairs).toEqual({ 5: { 0: '9' } });
    // What the browser itself says of a refused connection is no error of the page.
    await at.browser.errors();
  });
});

describe('a teacher', () => {
  it('prints the cards of their own class and nobody else’s', async () => {
    await at.browser.driver.manage().deleteAllCookies();
    await at.browser.signIn(at.username('teacher'), demoPassword);
    await at.browser.chord(Key.ALT, '7');
    await at.browser.sees('Print history');
    await at.browser.find('.handouts .left .line');
    expect(await at.browser.driver.findElements({ css: '.handouts .left .line' })).toHaveLength(1);
    await at.browser.keys(Key.HOME);
    await at.browser.sees('Print for class');
    await at.browser.sees('Print 2');
    await at.browser.chord(Key.CONTROL, Key.ENTER);
    await at.browser.sees('cards ready to print');
    await at.browser.chord(Key.ALT, '2');
    expect(await at.browser.text()).toContain('Print for');
  });
});
