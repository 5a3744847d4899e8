/** What a coordinator does besides the straight way: taking parts out of a plan, releasing a guard, meeting someone else's change, a server that goes away. */
import { readFileSync } from 'node:fs';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { unpack } from '#core/plan/index';
import { demoPassword } from '#demo/scenario';
import { ServerProcess } from '#server/testing/process';
import { type Caller, World } from '#server/testing/world';
import { Browser, Key } from './browser';

let world: World;
let server: ServerProcess;
let browser: Browser;
let district: Caller;
const username = (who: string) => world.signIns.find((signIn) => signIn.who.startsWith(who))!.username;
beforeAll(async () => {
  world = await World.open('work');
  district = await world.as('district');
  server = await ServerProcess.start(world.config);
  browser = await Browser.open(server.base);
  await browser.signIn(username('district'), demoPassword);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
  await world.close();
});
afterEach(async () => {
  expect(await browser.errors()).toEqual([]);
});

const focusOnGrid = () =>
  browser.until(
    () => browser.driver.executeScript('return document.activeElement?.getAttribute("role") === "grid"'),
    'the worksheet has no focus',
  );
const schoolId = async (code: string) =>
  (await world.db.one<{ id: string }>('SELECT id FROM schools WHERE code = :code', { code }))!.id;

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
    const before = await world.checksum();
    const id = await intake('lantern-point-students.csv', 'LAN', false);
    const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
    await browser.go(`/plans/${planId}`);
    await browser.sees('new people');
    await focusOnGrid();
    const applied = async () =>
      Number(
        (await (await browser.find('footer .ant-btn-primary')).getText())
          .match(/Apply ([\d,]+) changes/)![1]!
          .replace(',', ''),
      );
    const whole = await applied();
    // The first change is a new person; with them go their place, account and enrollment.
    await browser.keys(Key.HOME);
    await browser.keys(' ');
    await browser.until(
      async () => (await applied()) === whole - 4,
      'the four changes of a new student are not taken out together',
    );
    await browser.sees('taken out');
    await browser.keys(' ');
    await browser.until(async () => (await applied()) === whole, 'the student is not put back');
    await browser.keys(' ');
    await browser.until(async () => (await applied()) === whole - 4, 'the student is not taken out again');
    const [label] = await world.db.select<{ body: string }>(
      'SELECT body FROM plan_chunks WHERE planId = :planId ORDER BY seq LIMIT 1',
      { planId },
    );
    const first = unpack(label!.body)[0]!.after.number!;
    await browser.chord(Key.CONTROL, Key.ENTER);
    await browser.sees('Applied. Adds');
    expect(await world.db.select('SELECT id FROM people WHERE number = :first', { first })).toEqual([]);
    await browser.tabTo('.work .ant-btn', 60);
    await browser.keys(Key.ENTER);
    await browser.sees('Undone.');
    expect(await world.checksum()).toBe(before);
  });

  it('that a guard holds does not apply until it is released with a reason', async () => {
    const before = await world.checksum();
    const id = await intake('gull-sound-students.csv', 'GUL', true);
    await browser.go(`/intake/${id}`);
    await browser.sees('a guard will hold it');
    await browser.chord(Key.CONTROL, Key.ENTER);
    await browser.sees('Release it, since');
    await browser.chord(Key.CONTROL, Key.ENTER);
    await browser.sees('A guard holds this plan: Gull Sound');
    expect(await world.checksum()).toBe(before);
    await browser.tabTo('.held input', 60);
    await browser.keys('they move to the mainland', Key.ENTER);
    await browser.sees('“they move to the mainland”');
    await browser.chord(Key.CONTROL, Key.ENTER);
    await browser.sees('Applied. Lets 88 people leave.');
    const left = await world.db.one<{ n: number }>("SELECT COUNT(*) AS n FROM people WHERE status = 'left'");
    expect(left!.n).toBeGreaterThan(80);
    await browser.tabTo('.work .ant-btn', 60);
    await browser.keys(Key.ENTER);
    await browser.sees('Undone.');
    expect(await world.checksum()).toBe(before);
  });

  it('that meets somebody else’s change is refused whole and says whose record it is', async () => {
    const id = await intake('lantern-point-students.csv', 'LAN', false);
    const planId = (await district.job(`/api/intakes/${id}/plan`)).result!.planId!;
    const ended = await world.db.one<{ body: string }>(
      "SELECT body FROM plan_chunks WHERE planId = :planId AND kind = 'enrollment.end'",
      { planId },
    );
    const change = unpack(ended!.body)[0]!;
    await world.db.run("UPDATE enrollments SET ends = '2026-08-16' WHERE id = :id", { id: change.id });
    const before = await world.checksum();
    await browser.go(`/plans/${planId}`);
    await browser.sees('new people');
    await browser.chord(Key.CONTROL, Key.ENTER);
    await browser.sees('1 of the changes can no longer be made, so none was');
    await browser.sees(change.label);
    expect(await world.checksum()).toBe(before);
    await world.db.run('UPDATE enrollments SET ends = NULL WHERE id = :id', { id: change.id });
  });
});

describe('the worksheet of people', () => {
  it('gathers by keys across searches, and lets go', async () => {
    await browser.go('/people');
    await browser.sees('Gather all 2,');
    await focusOnGrid();
    await browser.find('.line.focused');
    await browser.keys(' ');
    await browser.sees('1 gathered');
    await browser.keys(Key.ARROW_DOWN, Key.ARROW_DOWN, Key.ARROW_DOWN);
    await browser.chord(Key.SHIFT, ' ');
    await browser.sees('4 gathered');
    await browser.keys('/');
    await browser.keys('ta');
    await browser.sees('who match “ta”');
    await browser.keys(Key.ENTER);
    await focusOnGrid();
    await browser.keys(Key.END);
    await browser.keys(' ');
    await browser.sees('5 gathered');
    await browser.keys('/');
    await browser.keys(Key.ESCAPE);
    await browser.sees('Gather all 2,');
    await browser.tabTo('[role=grid]', 120);
    await browser.keys(Key.HOME);
    await browser.keys(' ');
    await browser.sees('4 gathered');
    // Far down, rows come as they are reached.
    await browser.driver.executeScript('document.querySelector("[role=grid]").scrollTop = 1e7');
    await browser.until(
      async () => (await browser.driver.findElements({ css: '.line:not(.waiting)' })).length > 5,
      'the rows far down do not come',
    );
    await browser.tabTo('.sheaf > button:last-child', 160);
    await browser.keys(Key.ENTER);
    await browser.until(
      async () => (await browser.driver.findElements({ css: '.sheaf' })).length === 0,
      'they are not let go',
    );
  });

  it('opens the record, edits in place, and undoes the edit', async () => {
    const before = await world.checksum();
    await browser.go('/people');
    await browser.sees('Gather all 2,');
    await focusOnGrid();
    await browser.find('.line.focused');
    await browser.keys(Key.ENTER);
    await browser.find('.record');
    const name = await (await browser.find('.record h1')).getText();
    await browser.keys(Key.ARROW_DOWN);
    await browser.until(
      async () => (await (await browser.find('.record h1')).getText()) !== name,
      'the record does not follow the focus',
    );
    await browser.tabTo('#f-middleName', 60);
    await browser.keys('Skerry', Key.ENTER);
    await browser.sees('middle name is now Skerry.');
    await browser.tabTo('.work .ant-btn', 60);
    await browser.keys(Key.ENTER);
    await browser.sees('Undone.');
    expect(await world.checksum()).toBe(before);
  });
});

describe('a draft', () => {
  it('outlives a reload, and a server that is killed and comes back', async () => {
    const id = await intake('skerry-middle-students.csv', 'SKM', false);
    await browser.go(`/intake/${id}`);
    await browser.sees('Problems in 31 rows');
    await browser.tabTo('select[aria-label="Column 6, House"]');
    await browser.keys('class');
    await browser.sees('a guard will hold it');
    await browser.driver.navigate().refresh();
    await browser.sees('a guard will hold it');

    const port = Number(new URL(server.base).port);
    await server.kill();
    await browser.tabTo('[role=grid]', 60);
    await browser.keys('9', Key.ENTER);
    await browser.sees('The server does not answer. What you typed is kept here');
    server = await ServerProcess.start(world.config, { port });
    await browser.sees('Problems in 32 rows');
    const record = await world.db.one<{ draft: string }>('SELECT draft FROM intakes WHERE id = :id', { id });
    expect((JSON.parse(record!.draft) as { repairs: object }).repairs).toEqual({ 5: { 0: '9' } });
    // What the browser itself says of a refused connection is no error of the page.
    await browser.errors();
  });
});

describe('a teacher', () => {
  it('prints the cards of their own class and nobody else’s', async () => {
    await browser.driver.manage().deleteAllCookies();
    await browser.signIn(username('teacher'), demoPassword);
    await browser.chord(Key.ALT, '7');
    await browser.sees('Printed before');
    expect(await browser.driver.findElements({ css: '.handouts .left .line' })).toHaveLength(1);
    await browser.keys(Key.HOME);
    await browser.sees('Login cards for class');
    await browser.sees('Print 2');
    await browser.chord(Key.CONTROL, Key.ENTER);
    await browser.sees('cards are ready');
    await browser.chord(Key.ALT, '2');
    expect(await browser.text()).toContain('Login cards');
  });
});
