/** What coordinators look up and take in beside their every-day work: a past day, a list of devices, letters home, usage. */
import { expect, it } from 'vitest';
import { Actions } from './actions';
import { Key } from './browser';
import { stage } from './stage';

const at = stage('looking', { as: 'district' });
const actions = new Actions(at);
const says = (words: string) => at.browser.sees(words);

it('lists people, classes, devices and seats of a past day under the names of that day', async () => {
  const { browser, world } = at;
  const one = (await world.db.one<{ id: string; familyName: string; number: string }>(
    "SELECT id, familyName, number FROM people WHERE role = 'student' AND status = 'active' AND number IS NOT NULL ORDER BY id LIMIT 1",
  ))!;
  await browser.go(`/people/${one.id}`);
  await says(one.familyName);
  // By the server that the page asks: its clock is the demo's.
  const status = await browser.driver.executeAsyncScript<number>(
    `const [id, field, before, after, done] = arguments;
     fetch('/api/people/' + id + '/edit', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ field, before, after }) }).then((answer) => done(answer.status));`,
    ...[one.id, 'familyName', one.familyName, 'Zzyzx'],
  );
  expect(status).toBe(200);
  await browser.go('/ledger/past');
  await says('people');
  expect(await browser.violations()).toEqual([]);
  await browser.tabTo('[placeholder="Name, number or class"]', 80);
  await browser.keys(one.number);
  await says('Zzyzx');
  const day = await browser.find('.ant-picker input');
  await day.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Aug 10, 2026', Key.ENTER);
  await browser.until(async () => !(await browser.text()).includes('Zzyzx'), 'the name is of today');
  await says(one.familyName);
  await browser.keys(Key.ESCAPE);
  await browser.tabTo('[placeholder="Name, number or class"]', 80, true);
  await browser.chord(Key.CONTROL, 'a');
  await browser.keys(Key.DELETE);
  for (const kind of ['Classes', 'Devices', 'Seats']) {
    await browser.choose('input[aria-label=List]', kind, 80, true);
    await browser.find('.line[role=row]');
  }
  expect(await browser.violations()).toEqual([]);
});

it('takes in a list of devices as it is written, and leaves out those of a school that is not on record', async () => {
  const { browser, world } = at;
  await browser.go('/devices');
  await actions.click('Import a list');
  const list = await browser.find('textarea[aria-label="The list, pasted"]');
  await list.sendKeys(
    ['Asset tag,Model,School,Purchased', 'ZZ-1,Puffin 3,Lantern Point,8/14/2026', 'ZZ-2,Puffin 3,Nowhere,'].join('\n'),
  );
  await says('1 new, 0 updated,');
  await says('There is no school named “Nowhere”');
  expect(await browser.violations()).toEqual([]);
  await browser.chord(Key.CONTROL, Key.ENTER);
  await says('No guard holds this plan');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await says('Applied.');
  expect(
    await world.db.select(
      "SELECT d.tag, d.boughtOn, s.code FROM devices d JOIN schools s ON s.id = d.schoolId WHERE d.tag LIKE 'ZZ-%'",
    ),
  ).toEqual([{ tag: 'ZZ-1', boughtOn: '2026-08-14', code: 'LAN' }]);
});

it('counts new days of usage with the old chart marked, and sign-ins by week', async () => {
  const { browser } = at;
  await browser.go('/classes/use');
  await says('rush through');
  const [from] = await browser.driver.findElements({ css: '.bar .ant-picker input' });
  await from!.sendKeys('May 4, 2026', Key.ENTER);
  await browser.until(async () => !/Apr 2[0-9]/.test(await browser.text()), 'the days before are still shown');
  await browser.driver.executeScript(
    'for (const one of document.querySelectorAll("label")) if (one.innerText.trim() === "Sign-ins") one.click();',
  );
  await browser.find('[aria-label^="Students who signed in"], [role=img]');
  expect(await browser.violations()).toEqual([]);
});

it('prints letters home for a class, a page for each family', async () => {
  const { browser, world } = at;
  await browser.go('/handouts');
  await actions.on(await browser.find('.line[role=row]'));
  await browser.choose('.ant-select input[role=combobox]', 'letters home', 80);
  await actions.click('Print ');
  await says('ready to print');
  const { kept } = (await world.db.one<{ kept: number }>(
    'SELECT LENGTH(sealedPdf) AS kept FROM prints ORDER BY id DESC LIMIT 1',
  ))!;
  expect(Number(kept)).toBeGreaterThan(1000);
});
