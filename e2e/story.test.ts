/** The whole slice by keyboard alone: from the office's file to a child's own page, and back. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { readCodes } from '#server/testing/codes';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser, Key } from './browser';

let world: World;
let server: ServerProcess;
let browser: Browser;
beforeAll(async () => {
  world = await World.open('story');
  server = await ServerProcess.start(world.config);
  browser = await Browser.open(server.base);
});
afterAll(async () => {
  await browser.close();
  await server.stop();
  await world.close();
});

const coordinator = () => world.signIns.find(({ who }) => who.startsWith('district'))!.username;
const focusOnGrid = () =>
  browser.until(
    () => browser.driver.executeScript('return document.activeElement?.getAttribute("role") === "grid"'),
    'the worksheet has no focus',
  );

it('goes from the file to the card to the child, and is undone', async () => {
  const before = await world.checksum();
  await browser.signIn(coordinator(), demoPassword);
  await browser.sees('9 days until school opens');

  // Open the file. The chooser is the system's own window, so its answer is given to the field behind it.
  await browser.chord(Key.ALT, '2');
  await (await browser.find('input[type=file]')).sendKeys(resolve('demo/files/skerry-middle-students.csv'));
  await browser.sees('What would happen');
  await browser.sees('Problems in 31 rows');
  await focusOnGrid();

  // A column can be anything else, and back: the houses are no classes.
  await browser.tabTo('select[aria-label="Column 6, House"]');
  await browser.keys('class');
  await browser.sees('a guard will hold it');
  await browser.keys('skip');
  await browser.tabTo('select[aria-label="Column 7, Set"]');
  await browser.keys('class');
  await browser.sees('class 37');

  // Mend the date that cannot be: found from problem to problem, typed over in place.
  await browser.tabTo('[role=grid]', 20, true);
  const why = async () => (await browser.find('.why')).getText();
  const nextProblem = async () => {
    const was = await why();
    await browser.chord(Key.ALT, Key.ARROW_DOWN);
    await browser.until(async () => (await why()) !== was, 'the next problem is not reached');
  };
  for (let i = 0; i < 31 && !(await why()).includes('“31/02/2014” is no day of the calendar'); i++) await nextProblem();
  expect(await why()).toContain('“31/02/2014” is no day of the calendar');
  await browser.keys(Key.ENTER);
  await browser.find('.line input');
  await browser.keys('28/02/2014', Key.ENTER);
  await browser.sees('Problems in 30 rows');

  // Take one proposed repair by its key.
  do await nextProblem();
  while (!(await why()).includes('Take “'));
  await browser.chord(Key.ALT, Key.ENTER);
  await browser.sees('Problems in 29 rows');

  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('none holds this plan');
  await focusOnGrid();
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Applied. Adds');
  expect(await world.checksum()).not.toBe(before);

  // Gather a class: where, then everyone who is shown.
  await browser.chord(Key.ALT, '3');
  await focusOnGrid();
  await browser.tabTo('select[aria-label=School]', 120);
  await browser.keys('Skerry M');
  await browser.sees('Skerry Middle');
  await browser.tabTo('select[aria-label=Grade]');
  await browser.keys('grade 6');
  await browser.find('select[aria-label=Class] option:nth-child(2)');
  await browser.tabTo('select[aria-label=Class]');
  await browser.keys('6B');
  await browser.tabTo('[role=grid]', 120);
  await browser.until(async () => /\b2\d people/.test(await browser.text()), 'the class is not shown alone');
  await browser.chord(Key.CONTROL, 'a');
  await browser.sees('gathered');
  // It stays gathered through a reload and another search.
  await browser.driver.navigate().refresh();
  await browser.sees('gathered');
  const gathered = Number((await (await browser.find('.sheaf b')).getText()).replace(',', ''));
  expect(gathered).toBeGreaterThan(20);

  // Print its cards.
  await browser.tabTo('.sheaf .verbs button:first-child', 160);
  await browser.keys(Key.ENTER);
  await browser.sees(`Login cards for the ${gathered} gathered`);
  await browser.sees(`Print ${gathered} cards`);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees(`${gathered} cards are ready on ${Math.ceil(gathered / 8)} sheets`);
  const link = await (await browser.find('#last-print')).getAttribute('href');
  const cookies = await browser.driver.manage().getCookies();
  const pdf = await fetch(link!, {
    headers: { Cookie: cookies.map(({ name, value }) => `${name}=${value}`).join('; ') },
  });
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-story-'));
  writeFileSync(join(folder, 'cards.pdf'), Buffer.from(await pdf.arrayBuffer()));
  const codes = readCodes(folder, 'cards.pdf', 8, 1);
  expect(codes).toHaveLength(8);
  const hash = await world.db.one<{ givenName: string }>(
    'SELECT p.givenName FROM people p JOIN printed_cards c ON c.personId = p.id WHERE c.tokenHash = SHA2(:token, 256)',
    { token: codes[3]!.slice(-26) },
  );

  // Sign in as that child: a scanner types what the code holds.
  await browser.tabTo('.head > button', 160, true);
  await browser.keys(Key.ENTER);
  await browser.find('input[autocomplete=username]');
  await browser.until(
    () => browser.driver.executeScript('return document.activeElement.matches("input[autocomplete=username]")'),
    'the first field has no focus',
  );
  await browser.keys(codes[3]!, Key.ENTER);
  await browser.sees(`Hello, ${hash!.givenName}`);
  await browser.sees('6B');
  await browser.tabTo('.mine button');
  await browser.keys(Key.ENTER);
  await browser.find('input[autocomplete=username]');

  // Undo the import.
  await browser.signIn(coordinator(), demoPassword);
  await browser.sees('days until school opens');
  await browser.chord(Key.ALT, '9');
  await browser.sees('Import of skerry-middle-students.csv');
  await focusOnGrid();
  await browser.tabTo('.line .ant-btn', 40);
  await browser.keys(Key.ENTER);
  await browser.sees('Undone.');
  expect(await world.checksum()).toBe(before);
  expect(await browser.errors()).toEqual([]);
});
