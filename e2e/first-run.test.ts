/** From an empty database to printed cards of a class, with the feed of a register, counted in actions. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { setupCode } from '#server/setup';
import { ServerProcess, StandIn } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Actions } from './actions';
import { Browser, Key } from './browser';

let register: StandIn;
let world: World;
let server: ServerProcess;
let browser: Browser;
let actions: Actions;
beforeAll(async () => {
  register = await StandIn.start('register', ['--students', '240']);
  world = await World.open('first-run', { demo: false });
  server = await ServerProcess.start(world.config);
  browser = await Browser.open(server.base);
  actions = new Actions({ browser });
});
afterAll(async () => {
  await browser?.close();
  await server?.stop();
  await world?.close();
  register?.stop();
});

/** Types into the field of that label; what has the focus already is not reached for. */
async function fill(label: string, ...keys: string[]): Promise<void> {
  actions.typed();
  await (await browser.labeled(label)).sendKeys(...keys);
}

it('leads from the first run to the cards of a class in at most 25 actions', async () => {
  await browser.go('/');
  await browser.sees('Set up Sheaf');
  expect(await browser.violations()).toEqual([]);
  // One page that fits.
  expect(await actions.run('return document.documentElement.scrollHeight <= innerHeight')).toBe(true);
  await fill('Set-up code', setupCode(world.config));
  await fill('District', 'Far Harbor District');
  const [begins, ends] = await browser.driver.findElements({ css: '.ant-picker-range input' });
  actions.typed();
  await begins!.sendKeys('Aug 26, 2026', Key.ENTER);
  actions.typed();
  await ends!.sendKeys('Jun 22, 2027', Key.ENTER);
  await fill('Your given name', 'Maren');
  await fill('Your family name', 'Holm');
  await fill('Username', 'mholm');
  await fill('Password', 'ferry at dawn', Key.ENTER);

  await browser.sees('Bring in the roster');
  expect(await browser.violations()).toEqual([]);
  await actions.click('Connect a register');
  await browser.find('form[aria-label=Feeds]');
  await fill('Name', 'Register');
  await fill('Address', `${register.base}/ims/oneroster/rostering/v1p2`);
  await fill('Tokens from', `${register.base}/token`);
  await fill('Client', 'sheaf');
  await fill('Client secret', 'ferry-timetable', Key.ENTER);
  await browser.sees('Schools that are not on record');
  expect(await browser.violations()).toEqual([]);
  await actions.click('Add all 2');
  await browser.sees('256 new');
  await browser.until(
    async () => !(await browser.text()).includes('Schools that are not on record'),
    'no school is made',
  );
  await actions.click('Plan ');
  await browser.sees('No guard holds this plan');
  await actions.click('Apply ');
  await browser.sees('Applied.');
  await actions.click('Handouts');
  await browser.find('.line[role=row]');
  await actions.on(await browser.find('.line[role=row]'));
  await actions.click('Print ');
  await browser.sees('ready to print');
  await actions.click('Open PDF');
  expect(actions.count()).toBeLessThanOrEqual(25);
  const printed = await world.db.one<{ cards: number; kept: number }>(
    'SELECT cards, LENGTH(sealedPdf) > 1000 AS kept FROM prints',
  );
  expect([printed!.cards > 5, Number(printed!.kept)]).toEqual([true, 1]);
  // The schools have the names and identifiers of the register; the steps are over.
  expect(await world.db.select('SELECT code FROM schools ORDER BY code')).toEqual([{ code: 'S0' }, { code: 'S1' }]);
  await browser.go('/');
  await browser.sees('Needs attention');
  expect(await browser.text()).not.toContain('Bring in the roster');
  expect(await browser.errors()).toEqual([]);
});
