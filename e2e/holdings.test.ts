/** Seats and devices: a shortage found and planned for, a cart booked twice, and the scan loop with a server that goes away. */
import { spawn } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { ServerProcess } from '#server/testing/process';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('holdings', { as: 'district' });
const focusIs = (css: string) =>
  at.browser.until(
    () => at.browser.driver.executeScript('return document.activeElement.matches(arguments[0])', css),
    `${css} has no focus`,
  );

it('finds the seats that are short, plans what can be done, and the chart agrees afterwards; by keyboard', async () => {
  const { browser } = at;
  await browser.find('[role=grid], .today');
  await browser.chord(Key.ALT, '5');
  await browser.sees('23 seats short from Sep 6');
  const caption = async () =>
    (
      (await browser.driver.executeScript('return document.querySelector(".panel figcaption")?.textContent')) as string
    ).replace(/\s+/g, ' ');
  const foreseen = (await caption()).match(/assigned after the proposal: ([^.]*)\./)?.[1];
  expect(foreseen).toContain('from 2026-09-06');
  expect(await browser.violations()).toEqual([]);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.until(
    async () => /Assigns a seat to \d+ people\. Takes a seat back from 14 people\./.test(await browser.text()),
    'the plan does not say what it does',
  );
  await browser.sees('23 people have no seat from Sep 6, 2026');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Undo');
  await browser.chord(Key.ALT, '5');
  await browser.sees('Seats are already assigned as well as possible');
  expect((await caption()).match(/assigned: ([^.]*)\./)?.[1]).toBe(foreseen);
});

it('edits a product where it stands, and takes that back', async () => {
  const { browser } = at;
  await browser.go('/licenses');
  await browser.sees('Wrackline Readers');
  const checksum = await at.world.checksum();
  await browser.press('Edit product');
  await focusIs('form[aria-label="Edit product"] input');
  expect(await browser.violations()).toEqual([]);
  const name = await browser.driver.executeScript<string>('return document.activeElement.value');
  await browser.keys(Key.END, ' for the quay', Key.ENTER);
  await browser.sees(`Saved: ${name} for the quay.`);
  await browser.find('.panel h2');
  await browser.sees('Edit product');
  await browser.press('Undo');
  await browser.until(async () => !(await browser.text()).includes('for the quay'), 'the name is not as before');
  expect(await at.world.checksum()).toBe(checksum);
});

it('entitles several grades but one school in one rule, which is edited and ended; by keyboard', async () => {
  const { browser } = at;
  await browser.go('/licenses');
  await browser.sees('Binnacle Practice Tests');
  const checksum = await at.world.checksum();
  const rules = () =>
    browser.driver.executeScript<string[]>(
      `return [...document.querySelectorAll('.panel section li .grow')].map((one) => one.innerText)`,
    );
  await browser.press('New rule');
  const form = 'form[aria-label="Entitlement rule"]';
  await focusIs(`${form} input`);
  const field = (n: number) => `${form} label:nth-of-type(${n}) input`;
  for (const grade of ['9', '10']) await browser.choose(field(3), grade);
  await browser.keys(Key.ESCAPE);
  await browser.press('Add exceptions');
  await focusIs(`${form} .except input`);
  await browser.choose(`${form} .except input`, 'Skerry');
  expect(await browser.violations()).toEqual([]);
  await browser.press('Add rule');
  await browser.sees('The rule is added.');
  const words = 'students in grades 9 and 10 but not at Skerry Middle';
  await browser.until(async () => (await rules()).includes(words), 'the rule is not told as it was said');
  await browser.tabTo(`[aria-label="Edit: ${words}"]`, 200);
  await browser.keys(Key.ENTER);
  await focusIs(`${form} input`);
  await browser.choose(field(1), 'teachers');
  await browser.press('Save rule');
  await browser.sees('The rule is saved.');
  const taught = words.replace('students', 'teachers');
  await browser.until(async () => (await rules()).includes(taught), 'the rule is not edited');
  await browser.tabTo(`[aria-label="End: ${taught}"]`, 200);
  await browser.keys(Key.ENTER);
  await browser.sees('The rule ended.');
  const district = await at.world.as('district');
  const { body } = await district.get<{ planId: string }[]>('/api/ledger');
  for (const { planId } of body.slice(0, 3)) await district.job(`/api/plans/${planId}/undo`);
  expect(await at.world.checksum()).toBe(checksum);
});

it('shows the cart that is promised twice and takes a free one instead', async () => {
  const { browser } = at;
  await browser.chord(Key.ALT, '6');
  await browser.press('Carts');
  await browser.sees('Cart SKM 3 is booked by English 7C and Science 7A at the same time, Tue 2');
  expect(await browser.violations()).toEqual([]);
  await browser.press('Use Cart');
  await browser.sees('is booked instead');
  await browser.until(async () => !(await browser.text()).includes('at once'), 'the cart is still promised twice');
});

it('books 300 scans at 10 a second, all once and in order, those made while the server is away with the day that each was for', async () => {
  const { browser, world } = at;
  const people = await world.db.select<{ id: string; number: string }>(
    `SELECT p.id, p.number FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL AND a.grade = '09' WHERE p.role = 'student' AND p.number IS NOT NULL ORDER BY p.number LIMIT 150`,
  );
  const devices = await world.db.select<{ id: string; tag: string }>(
    `SELECT d.id, d.tag FROM devices d JOIN schools s ON s.id = d.schoolId AND s.code = 'OIH' WHERE d.\`condition\` = 'good' AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.deviceId = d.id AND l.ends IS NULL) ORDER BY d.tag DESC LIMIT 150`,
  );
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-scans-'));
  const codes = people.flatMap(({ number }, i) => [number, devices[i]!.tag]);

  await browser.go('/devices/scan');
  await focusIs('input[aria-label=Scan]');
  expect(await browser.violations()).toEqual([]);
  // Each key chooses what is done, whatever the language.
  for (const [key, said] of [
    [Key.F4, 'Returning'],
    [Key.F8, 'Swapping'],
    [Key.F9, 'Checking'],
    [Key.F2, 'Checking out'],
  ] as const) {
    await browser.keys(key);
    await browser.until(
      async () => (await (await browser.find('[aria-live=assertive]')).getText()).includes(said),
      `${said} is not chosen by its key`,
    );
  }
  /** A scanner at work on some of the codes; resolves when it has typed them. */
  const scan = async (from: number, to: number): Promise<void> => {
    const file = join(folder, `codes-${from}.txt`);
    writeFileSync(file, codes.slice(from, to).join('\n'));
    const options = ['--debugger', await browser.debugger(), '--file', file, '--rate', '10'];
    const scanner = spawn(process.execPath, ['--import', 'tsx', 'standins/scanner/main.ts', ...options], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    expect(await new Promise<number | null>((done) => scanner.once('exit', done))).toBe(0);
  };
  const { port } = new URL(at.server.base);
  // The server goes away in the middle, and comes back long after; the last 60 have three days among them.
  await Promise.all([scan(0, 240), new Promise((wait) => setTimeout(wait, 9_000)).then(() => at.server.kill())]);
  expect(await browser.text()).toContain('The server does not answer');
  const days = ['2026-12-18', '2027-01-15', '2027-06-11'];
  for (const [i, day] of days.entries()) {
    const [until] = await browser.driver.findElements({ css: '.ant-picker input' });
    await until!.sendKeys(Key.chord(Key.CONTROL, 'a'), day, Key.ENTER);
    await focusIs('input[aria-label=Scan]');
    await scan(240 + i * 20, 260 + i * 20);
  }
  at.server = await ServerProcess.start(world.config, { port: Number(port) });
  await browser.until(async () => /\b0 waiting to be booked/.test(await browser.text()), 'scans wait for ever', 60_000);
  const loans = await world.db.select<{ personId: string; deviceId: string; due: string | null }>(
    'SELECT personId, deviceId, due FROM loans WHERE deviceId IN (:ids) ORDER BY id',
    { ids: devices.map(({ id }) => id) },
  );
  const due = (i: number) => (i < 120 ? null : days[Math.floor((i - 120) / 10)]!);
  expect(loans).toEqual(people.map(({ id }, i) => ({ personId: id, deviceId: devices[i]!.id, due: due(i) })));
  const station = await world.db.one<{ seq: number }>('SELECT MAX(seq) AS seq FROM scan_stations');
  expect(station!.seq).toBe(304);
  // The calls that nobody answered stand on the console, as they should.
  await browser.errors();
});
