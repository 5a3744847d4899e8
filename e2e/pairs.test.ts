/** Settling by keyboard: every kind of trouble in one sheet, rows that could be somebody on record, people twice on record. */
import { resolve } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser, Key } from './browser';

let world: World;
let server: ServerProcess;
let browser: Browser;
beforeAll(async () => {
  world = await World.open('pairs');
  server = await ServerProcess.start(world.config);
  browser = await Browser.open(server.base);
  await browser.signIn(world.signIns.find(({ who }) => who.startsWith('district'))!.username, demoPassword);
});
afterAll(async () => {
  await browser?.close();
  await server?.stop();
  await world?.close();
});

async function openFile(name: string): Promise<void> {
  await browser.go('/intake');
  await (await browser.find('input[type=file]')).sendKeys(resolve(`demo/files/${name}`));
  await browser.sees('What would happen');
}

it('settles nine kinds of trouble in one sheet, each by its key', async () => {
  await openFile('skerry-middle-students.csv');
  await browser.sees('Problems in 31 rows');
  await browser.tabTo('[role=grid]', 60);
  const why = async () => (await browser.find('.why')).getText();
  // What a message says to what a person does about it; null: leave the row out.
  const answers: [RegExp, string, string | null][] = [
    [/Take “/, 'a repair', ''],
    [/no day of the calendar/, 'an impossible date', '28/02/2014'],
    [/last digits are lost/, 'lost digits', '009911'],
    [/is no grade/, 'no grade', '6'],
    [/family name is empty/, 'no family name', 'Mended'],
    [/given name is empty/, 'no given name', 'Mended'],
    [/more cells than there are headings/, 'cells out of step', null],
    [/stands in line/, 'a number twice', null],
  ];
  const kinds = new Set<string>();
  for (let left = 31; left > 0;) {
    const was = await why();
    await browser.chord(Key.ALT, Key.ARROW_DOWN);
    await browser.until(async () => (await why()) !== was || left === 1, 'the next problem is not reached');
    const text = await why();
    const [, kind, typed] = answers.find(([pattern]) => pattern.test(text)) ?? [];
    expect([text, kind !== undefined]).toEqual([text, true]);
    kinds.add(kind === 'a repair' ? text.replace(/“[^”]*”/g, '…').slice(0, 60) : kind!);
    if (typed === null) await browser.chord(Key.ALT, Key.DELETE);
    else if (typed === '') await browser.chord(Key.ALT, Key.ENTER);
    else {
      await browser.keys(Key.ENTER);
      await browser.find('.line input');
      await browser.keys(typed === '009911' ? `00${9900 + left}` : typed!, Key.ENTER);
    }
    await browser.until(async () => {
      const found = (await browser.text()).match(/Problems in (\d+) row/);
      const now = found ? Number(found[1]) : 0;
      if (now >= left) return false;
      left = now;
      return true;
    }, `“${text}” is not settled`);
  }
  expect(kinds.size).toBeGreaterThanOrEqual(8);
});

it('settles ten pairs with S, D and L, and takes one back', async () => {
  await openFile('lantern-point-bus-list.csv');
  await browser.sees('to tell apart');
  await browser.tabTo('.outcome .pairs', 120);
  await browser.keys(Key.ENTER);
  await browser.sees('Who is meant');
  const facts = async () => {
    const text = await browser.text();
    return {
      count: Number(text.match(/\d+ of (\d+)/)?.[1] ?? 0),
      settled: Number(text.match(/(\d+) settled/)?.[1] ?? 0),
      line: text.match(/line (\d+) of the file/)?.[1],
    };
  };
  await browser.until(async () => (await facts()).count > 0, 'no pair is shown');
  const start = await facts();
  expect(start.count).toBeGreaterThanOrEqual(10);
  await browser.keys('l');
  await browser.until(async () => (await facts()).line !== start.line, 'the pair is not put off');
  for (let n = 1; n <= 10; n++) {
    await browser.keys(n % 3 === 0 ? 'd' : 's');
    await browser.until(async () => (await facts()).settled === n, `pair ${n} is not settled`);
  }
  const decided = async () => Number((await world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM decisions'))!.n);
  await browser.until(async () => (await decided()) === 10, 'the answers do not arrive');
  await browser.keys('u');
  await browser.until(async () => (await decided()) === 9, 'the last one is not taken back');
});

it('merges two on record and parts them again', async () => {
  const before = await world.checksum();
  await browser.go('/pairs');
  await browser.sees('Twice on record');
  await browser.sees('goes into it');
  await browser.keys('s');
  await browser.sees('is one record now');
  expect(await world.checksum()).not.toBe(before);
  await browser.tabTo('.work .ant-btn', 60);
  await browser.keys(Key.ENTER);
  await browser.sees('Two records again');
  expect(await world.checksum()).toBe(before);
  expect(await browser.errors()).toEqual([]);
});
