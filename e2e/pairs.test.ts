/** Settling by keyboard: every kind of trouble in one sheet, rows that could be somebody on record, people twice on record. */
import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { expect, it } from 'vitest';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('pairs', { as: 'district' });

async function openFile(name: string): Promise<void> {
  await at.browser.go('/imports');
  await (await at.browser.find('input[type=file]')).sendKeys(resolve(`demo/files/${name}`));
  await at.browser.sees('Preview');
}

it('settles nine kinds of trouble in one sheet, each by its key', async () => {
  await openFile('skerry-middle-students.csv');
  await at.browser.sees('Problems in 31 rows');
  await at.browser.tabTo('[role=grid]', 60);
  const why = async () => (await at.browser.find('.why')).getText();
  // What a message says to what a person does about it; null: leave the row out.
  const answers: [RegExp, string, string | null][] = [
    [/Use “/, 'a repair', ''],
    [/not on the calendar/, 'an impossible date', '28/02/2014'],
    [/last digits are lost/, 'lost digits', '009911'],
    [/is not a grade/, 'no grade', '6'],
    [/family name is missing/, 'no family name', 'Mended'],
    [/given name is missing/, 'no given name', 'Mended'],
    [/more cells than there are headings/, 'cells in the wrong column', null],
    [/also has the number/, 'a number twice', null],
  ];
  const kinds = new Set<string>();
  const lines = new Set<string>();
  for (let left = 31; left > 0;) {
    await at.browser.chord(Key.ALT, Key.ARROW_DOWN);
    // The line below the sheet may still tell of a row that was just settled: each has one problem.
    let text = '';
    const line = () => text.match(/^line \d+/)?.[0] ?? '';
    const answer = () => answers.find(([pattern]) => pattern.test(text));
    await at.browser
      .until(async () => {
        text = await why();
        return answer() !== undefined && !lines.has(line());
      }, 'the next problem is not reached')
      .catch(() => expect.fail(`after ${[...lines].at(-1)} the next problem is not reached: ${text}`));
    lines.add(line());
    const [, kind, typed] = answer()!;
    kinds.add(kind === 'a repair' ? text.replace(/^line \d+|“[^”]*”/g, '…').slice(0, 60) : kind);
    if (typed === null) await at.browser.chord(Key.ALT, Key.DELETE);
    else if (typed === '') await at.browser.chord(Key.ALT, Key.ENTER);
    else {
      await at.browser.keys(Key.ENTER);
      await at.browser.find('.line input');
      await at.browser.keys(typed === '009911' ? `00${9900 + left}` : typed, Key.ENTER);
    }
    await at.browser.until(async () => {
      const found = (await at.browser.text()).match(/Problems in (\d+) row/);
      const now = found ? Number(found[1]) : 0;
      if (now >= left) return false;
      left = now;
      return true;
    }, `“${text}” is not settled`);
  }
  expect(kinds.size).toBeGreaterThanOrEqual(8);
});

it('takes keys typed ahead for the problem that is on its way', async () => {
  const rows = Array.from({ length: 900 }, (_, n) => {
    const born = n === 850 ? '31/02/2015' : `${10 + (n % 19)}/03/2014`;
    return `008${100 + n},Fenwick${String.fromCharCode(97 + (n % 26))},Ada,${born},5`;
  });
  const file = join(tmpdir(), `sheaf-ahead-${process.pid}.csv`);
  writeFileSync(file, ['Student Number,Family Name,Given Name,Date of Birth,Grade', ...rows].join('\n'));
  await at.browser.go('/imports');
  await (await at.browser.find('input[type=file]')).sendKeys(file);
  await at.browser.sees('Problems in 1 row');
  await at.browser.tabTo('[role=grid]', 60);
  // Row 850 is on a page that is not here yet; none of these keys waits for it.
  const { driver } = at.browser;
  const toNext = driver.actions().keyDown(Key.ALT).sendKeys(Key.ARROW_DOWN).keyUp(Key.ALT);
  await toNext.sendKeys(Key.ENTER, ...'28/02/2015', Key.ENTER).perform();
  await at.browser.find('#cell-850-3.mended');
  expect(await (await at.browser.find('#cell-850-3')).getText()).toBe('28/02/2015');
  // In the cell itself: what was there is replaced by the first key, not by each.
  await at.browser.keys(Key.ENTER);
  await at.browser.keys('Orla', Key.ENTER);
  await at.browser.find('#cell-851-3.mended');
  expect(await (await at.browser.find('#cell-851-3')).getText()).toBe('Orla');
  // The browser may read it until the list stands.
  rmSync(file);
});

it('copies, pastes, takes back, finds and replaces cells as a spreadsheet does, by keyboard', async () => {
  const file = join(tmpdir(), `lantern-point-cells-${process.pid}.csv`);
  const people = ['Ada Fenwickson', 'Bo Fenwickson', 'Cy Fenwickson', 'Ada Fenwickson'];
  const rows = people.map((name, n) => `${name},${n < 2 ? 'Wren 1' : 'Wren 2'},${12 + (n % 3)}/03/2017`);
  writeFileSync(file, ['Name,Home room,Date of Birth', ...rows].join('\n'));
  await at.browser.go('/imports');
  await (await at.browser.find('input[type=file]')).sendKeys(file);
  await at.browser.find('#cell-3-1');
  await at.browser.tabTo('[role=grid]', 60);
  const column = (index: number) =>
    at.browser.driver.executeScript<string[]>(
      'return [0, 1, 2, 3].map((row) => document.getElementById(`cell-${row}-${arguments[0]}`)?.innerText ?? "")',
      index,
    );
  const shows = (index: number, ...texts: string[]) =>
    at.browser.until(
      async () => (await column(index)).join() === texts.join(),
      `column ${index} does not show ${texts.join()}`,
    );
  await at.browser.keys(Key.ARROW_RIGHT);
  await at.browser.chord(Key.CONTROL, 'c');
  await at.browser.keys(Key.ARROW_DOWN, Key.ARROW_DOWN);
  await at.browser.chord(Key.SHIFT, Key.ARROW_DOWN);
  await at.browser.chord(Key.CONTROL, 'v');
  await shows(1, 'Wren 1', 'Wren 1', 'Wren 1', 'Wren 1');
  expect(await (await at.browser.find('#cell-2-1')).getAttribute('title')).toBe('Was “Wren 2”');
  await at.browser.chord(Key.CONTROL, 'z');
  await shows(1, 'Wren 1', 'Wren 1', 'Wren 2', 'Wren 2');
  await at.browser.chord(Key.CONTROL, 'y');
  await shows(1, 'Wren 1', 'Wren 1', 'Wren 1', 'Wren 1');
  await at.browser.chord(Key.CONTROL, 'f');
  await at.browser.keys('wren 1');
  await at.browser.sees('4 cells');
  await at.browser.tabTo('input[aria-label="Replace with"]', 5);
  await at.browser.keys('Wren 3');
  await at.browser.press('Replace all', 10);
  await shows(1, 'Wren 3', 'Wren 3', 'Wren 3', 'Wren 3');
  await at.browser.keys(Key.ESCAPE);
  // Back in the cells; the last row says the same name as the first, and is told to be somebody else.
  await at.browser.chord(Key.CONTROL, Key.END);
  await at.browser.keys(Key.ARROW_LEFT, Key.ARROW_LEFT);
  await at.browser.sees('The same person as line 2');
  await at.browser.press('Two people', 10);
  await at.browser.sees('Family name “Fenwickson”, given name “Ada”');
  expect(await at.browser.violations()).toEqual([]);
  rmSync(file);
});

it('settles ten pairs with S, D and L, and takes one back', async () => {
  await openFile('lantern-point-bus-list.csv');
  await at.browser.sees('matches to review');
  await at.browser.tabTo('.outcome .pairs', 120);
  await at.browser.keys(Key.ENTER);
  await at.browser.sees('Matches to review');
  const facts = async () => {
    const text = await at.browser.text();
    return {
      count: Number(text.match(/\d+ of (\d+)/)?.[1] ?? 0),
      settled: Number(text.match(/(\d+) resolved/)?.[1] ?? 0),
      line: text.match(/[Ll]ine (\d+) of the file/)?.[1],
    };
  };
  await at.browser.until(async () => (await facts()).count > 0, 'no pair is shown');
  const start = await facts();
  expect(start.count).toBeGreaterThanOrEqual(10);
  await at.browser.keys('l');
  await at.browser.until(async () => (await facts()).line !== start.line, 'the pair is not put off');
  for (let n = 1; n <= 10; n++) {
    await at.browser.keys(n % 3 === 0 ? 'd' : 's');
    await at.browser.until(async () => (await facts()).settled === n, `pair ${n} is not settled`);
  }
  const decided = async () => Number((await at.world.db.one<{ n: number }>('SELECT COUNT(*) AS n FROM decisions'))!.n);
  await at.browser.until(async () => (await decided()) === 10, 'the answers do not arrive');
  await at.browser.keys('u');
  await at.browser.until(async () => (await decided()) === 9, 'the last one is not taken back');
});

it('merges two on record and parts them again', async () => {
  const before = await at.world.checksum();
  await at.browser.go('/pairs');
  await at.browser.sees('Possible duplicates');
  await at.browser.sees('Merge into it');
  await at.browser.keys('s');
  await at.browser.sees('merged into one record');
  expect(await at.world.checksum()).not.toBe(before);
  await at.browser.tabTo('.work .ant-btn', 60);
  await at.browser.keys(Key.ENTER);
  await at.browser.sees('Two records again');
  expect(await at.world.checksum()).toBe(before);
  expect(await at.browser.errors()).toEqual([]);
});
