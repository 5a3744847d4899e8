/** The whole slice by keyboard alone: from the office's file to a child's own page, and back. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { expect, it } from 'vitest';
import { readCodes } from '#server/testing/codes';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('story');

const focusOnGrid = () =>
  at.browser.until(
    () => at.browser.driver.executeScript('return document.activeElement?.getAttribute("role") === "grid"'),
    'the worksheet has no focus',
  );

/** The names on the preview: where they begin, stand and end on the paper, in millimetres. */
const shownTexts = (): Promise<{ text: string; xMm: number; baseMm: number; endMm: number }[]> =>
  at.browser.driver.executeScript(`
    const svg = document.querySelector('.preview svg');
    const scale = svg.getBoundingClientRect().width / svg.viewBox.baseVal.width;
    const { left, top } = svg.getBoundingClientRect();
    return [...svg.querySelectorAll('text')].filter((t) => t.getAttribute('font-weight') === '700').map((t) => {
      const at = new DOMPoint(Number(t.getAttribute('x')), Number(t.getAttribute('y'))).matrixTransform(t.getScreenCTM());
      const xMm = (at.x - left) / scale;
      return { text: t.textContent.trim(), xMm, baseMm: (at.y - top) / scale, endMm: xMm + t.getComputedTextLength() };
    });`);

it('goes from the file to the card to the child, and is undone', async () => {
  const before = await at.world.checksum();
  await at.signIn('district');
  await at.browser.sees('9 days until school opens');

  // Open the file. The chooser is the system's own window, so its answer is given to the field behind it.
  await at.browser.chord(Key.ALT, '2');
  await (await at.browser.find('input[type=file]')).sendKeys(resolve('demo/files/skerry-middle-students.csv'));
  await at.browser.sees('Preview');
  await at.browser.sees('Problems in 31 rows');
  await focusOnGrid();

  // A column can be anything else, and back: the houses are no classes.
  await at.browser.choose('input[aria-label="Column 6, House"]', 'class');
  await at.browser.sees('a guard will hold it');
  await at.browser.choose('input[aria-label="Column 6, House"]', 'skip');
  await at.browser.choose('input[aria-label="Column 7, Set"]', 'class');
  await at.browser.sees('class 37');

  // Mend the date that cannot be: found from problem to problem, typed over in place.
  await at.browser.tabTo('[role=grid]', 20, true);
  const why = async () => (await at.browser.find('.why')).getText();
  const nextProblem = async () => {
    const was = await why();
    await at.browser.chord(Key.ALT, Key.ARROW_DOWN);
    await at.browser.until(async () => (await why()) !== was, 'the next problem is not reached');
  };
  for (let i = 0; i < 31 && !(await why()).includes('“31/02/2014” is not on the calendar'); i++) await nextProblem();
  expect(await why()).toContain('“31/02/2014” is not on the calendar');
  await at.browser.keys(Key.ENTER);
  await at.browser.find('.line input');
  await at.browser.keys('28/02/2014', Key.ENTER);
  await at.browser.sees('Problems in 30 rows');

  // Take one proposed repair by its key.
  do await nextProblem();
  while (!(await why()).includes('Use “'));
  await at.browser.chord(Key.ALT, Key.ENTER);
  await at.browser.sees('Problems in 29 rows');

  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('No guard holds this plan');
  await focusOnGrid();
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees('Applied. Adds');
  expect(await at.world.checksum()).not.toBe(before);

  // Gather a class: where, then everyone who is shown.
  await at.browser.chord(Key.ALT, '3');
  await focusOnGrid();
  await at.browser.choose('input[aria-label=School]', 'Skerry M', 120);
  await at.browser.sees('Skerry Middle');
  await at.browser.choose('input[aria-label=Grade]', 'grade 6');
  await at.browser.find('input[aria-label=Class]');
  await at.browser.choose('input[aria-label=Class]', '6B');
  await at.browser.tabTo('[role=grid]', 120);
  await at.browser.until(async () => /\b2\d people/.test(await at.browser.text()), 'the class is not shown alone');
  await at.browser.chord(Key.CONTROL, 'a');
  await at.browser.sees('gathered');
  // It stays gathered through a reload and another search.
  await at.browser.driver.navigate().refresh();
  await at.browser.sees('gathered');
  const gathered = Number((await (await at.browser.find('.sheaf b')).getText()).replace(',', ''));
  expect(gathered).toBeGreaterThan(20);

  // Print its cards.
  await at.browser.tabTo('.sheaf .verbs button:first-child', 160);
  await at.browser.keys(Key.ENTER);
  await at.browser.sees(`Print for the ${gathered} gathered`);
  await at.browser.sees(`Print ${gathered} cards`);
  const seen = await shownTexts();
  await at.browser.chord(Key.CONTROL, Key.ENTER);
  await at.browser.sees(`${gathered} cards ready to print.`);
  const link = await (await at.browser.find('#last-print')).getAttribute('href');
  const cookies = await at.browser.driver.manage().getCookies();
  const pdf = await fetch(link!, {
    headers: { Cookie: cookies.map(({ name, value }) => `${name}=${value}`).join('; ') },
  });
  const folder = mkdtempSync(join(tmpdir(), 'sheaf-story-'));
  writeFileSync(join(folder, 'cards.pdf'), Buffer.from(await pdf.arrayBuffer()));
  // What was shown is what was printed, to 0.2 mm: each name begins and ends where it did.
  const words = execFileSync('pdftotext', ['-bbox', '-l', '1', 'cards.pdf', '-'], { cwd: folder })
    .toString()
    .matchAll(/<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">([^<]*)</g);
  const printed = [...words].map(([, x0, y0, x1, y1, text]) => {
    const [xMm, topMm, endMm, bottomMm] = [x0, y0, x1, y1].map((points) => (Number(points) * 25.4) / 72);
    return { text: text!.replaceAll('&apos;', "'"), xMm: xMm!, topMm: topMm!, endMm: endMm!, bottomMm: bottomMm! };
  });
  expect(seen.length).toBe(8);
  for (const { text, xMm, baseMm, endMm } of seen) {
    const onLine = printed.filter((word) => word.topMm < baseMm && baseMm < word.bottomMm);
    const [first, last] = [text.split(' ')[0], text.split(' ').at(-1)];
    const begins = onLine.find((word) => word.text === first && Math.abs(word.xMm - xMm) < 0.2);
    const ends = onLine.find((word) => word.text === last && Math.abs(word.endMm - endMm) < 0.2);
    expect([text, begins !== undefined, ends !== undefined]).toEqual([text, true, true]);
  }
  const codes = readCodes(folder, 'cards.pdf', 8, 1);
  expect(codes).toHaveLength(8);
  const hash = await at.world.db.one<{ givenName: string }>(
    'SELECT p.givenName FROM people p JOIN printed_cards c ON c.personId = p.id WHERE c.tokenHash = SHA2(:token, 256)',
    { token: codes[3]!.slice(-26) },
  );

  // Sign in as that child: a scanner types what the code holds.
  await at.browser.signOut();
  await at.browser.until(
    () => at.browser.driver.executeScript('return document.activeElement.matches("input[autocomplete=username]")'),
    'the first field has no focus',
  );
  await at.browser.keys(codes[3]!, Key.ENTER);
  await at.browser.sees(`Hello, ${hash!.givenName}`);
  await at.browser.sees('6B');
  await at.browser.tabTo('.mine button');
  await at.browser.keys(Key.ENTER);
  await at.browser.find('input[autocomplete=username]');

  // Undo the import.
  await at.signIn('district');
  await at.browser.sees('days until school opens');
  await at.browser.chord(Key.ALT, '9');
  await at.browser.sees('Import of skerry-middle-students.csv');
  await focusOnGrid();
  await at.browser.tabTo('.line .ant-btn', 40);
  await at.browser.keys(Key.ENTER);
  await at.browser.sees('Undone.');
  expect(await at.world.checksum()).toBe(before);
  expect(await at.browser.errors()).toEqual([]);
});
