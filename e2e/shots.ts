/** `./run shots`: the pictures in docs/screenshots, one of each main view, made from the demo scenario of a fixed day. */
import { keysFrom } from '#server/auth/keys';
import { alone } from '#server/config';
import { randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { demoPassword } from '#demo/scenario';
import type { DemoSignIn } from '#server/demo';
import { makeDatabase, portIsFree, startMariaDb } from '#server/local/mariadb';
import { ServerProcess } from '#server/testing/process';
import { Browser, Key } from './browser';

const folder = resolve('.shots-data');
rmSync(folder, { recursive: true, force: true });
let port = 18_600;
while (!(await portIsFree(port))) port++;
const database = await startMariaDb(folder, port);
await makeDatabase(database, 'sheaf', true);
const config = {
  port: 0,
  dataFolder: folder,
  url: '',
  today: () => '2026-08-17',
  key: keysFrom([randomBytes(32)]),
  ...alone,
  database: { ...database, name: 'sheaf' },
};
const server = await ServerProcess.start(config, { args: ['--demo'] });
const signIns = JSON.parse(readFileSync(resolve(folder, 'demo-sign-ins.json'), 'utf8')) as DemoSignIn[];
const named = (who: string) => signIns.find((signIn) => signIn.who.startsWith(who))!;
const browser = await Browser.open(server.base);
const out = resolve('docs/screenshots');
mkdirSync(out, { recursive: true });
const still = (ms = 700) => new Promise((next) => setTimeout(next, ms));
async function shot(name: string): Promise<void> {
  await still();
  await browser.picture(resolve(out, `${name}.png`));
  console.log(`docs/screenshots/${name}.png`);
}

const ask = <T>(path: string): Promise<T> =>
  browser.driver.executeAsyncScript<T>(
    'const done = arguments[1]; fetch(arguments[0]).then((answer) => answer.json()).then(done);',
    path,
  );
/** Three of the ninth grade get a device; the last scan is wrong. */
async function scans(): Promise<string[]> {
  const people = await ask<{ rows: { number: string }[] }>('/api/people?grade=09&limit=3');
  const devices = await ask<{ rows: { tag: string; school: string }[] }>('/api/devices?where=free&limit=1000');
  const tags = devices.rows.filter(({ school }) => school === 'Outer Isles High').map(({ tag }) => tag);
  return [...people.rows.flatMap(({ number }, i) => [number, tags[i]!]), tags[0]!];
}

try {
  await browser.go('/sign-in');
  await browser.find('form');
  await browser.signIn(named('district').username, demoPassword);
  await browser.sees('Student readiness');
  await browser.tabTo('tbody button');
  await browser.keys(Key.ENTER);
  await shot('today');

  await browser.go('/imports');
  await (await browser.find('input[type=file]')).sendKeys(resolve('demo/files/skerry-middle-students.csv'));
  await browser.sees('Problems in 31 rows');
  await browser.sees('class 37');
  await browser.tabTo('[role=grid]', 60);
  await browser.chord(Key.ALT, Key.ARROW_DOWN);
  await still();
  await browser.chord(Key.ALT, Key.ARROW_DOWN);
  await shot('imports');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('No guard holds this plan');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Applied. Adds');

  await browser.go('/imports');
  await (await browser.find('input[type=file]')).sendKeys(resolve('demo/files/gull-sound-students.csv'));
  await browser.sees('Preview');
  await browser.choose('input[aria-label="School of this file"]', 'Gull', 120);
  await browser.sees('unchanged');
  await still();
  await browser.tabTo('.about .ant-checkbox-input');
  await browser.keys(' ');
  await browser.sees('a guard will hold it');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('Release with reason');
  await shot('plan-held-by-a-guard');

  await browser.go('/people');
  await browser.find('[role=grid]');
  await browser.keys('/');
  await browser.keys('an');
  await browser.sees('All people who match “an”');
  await browser.keys(Key.ENTER);
  await still();
  for (let i = 0; i < 5; i++) await browser.keys(' ', Key.ARROW_DOWN);
  await browser.keys(Key.ENTER);
  await browser.find('.record');
  await shot('people');
  await browser.keys(Key.ESCAPE);
  await browser.go('/classes');
  await browser.find('.line');
  for (let i = 0; i < 8; i++) await browser.keys(Key.ARROW_DOWN);
  await browser.keys(Key.ENTER);
  await browser.find('.beside dl');
  await shot('classes');
  await browser.go('/settings/schools');
  await browser.sees('Sign-in options');
  await shot('settings');
  await browser.go('/licenses');
  await browser.sees('seats short');
  await still();
  await shot('licenses');
  await browser.go('/devices/carts');
  await browser.sees('is booked by');
  await shot('carts');
  await browser.go('/devices/scan');
  await browser.find('input[aria-label=Scan]');
  for (const text of await scans()) await browser.keys(text, Key.ENTER);
  await browser.sees('0 waiting to be booked');
  await still();
  await shot('scanning');
  await browser.go('/handouts?sheaf=1');
  await browser.sees('Print for the');
  await still();
  await shot('handouts');
  await browser.go('/classes/work');
  await browser.find('.scroller .line.focused');
  await browser.keys(Key.ENTER);
  await browser.sees('Answers shown');
  await shot('assignments');
  await browser.go('/classes/use');
  await browser.sees('rush through');
  await browser.press('View');
  await still();
  await shot('usage');
  await browser.go('/year');
  await browser.sees('Plan 2');
  await still();
  await shot('roll-over');
  await browser.press('Sections');
  await browser.sees('Same classmates');
  await browser.driver.executeScript(
    'document.querySelector(\'[aria-label="Split grade 6 of Skerry Middle"]\').click()',
  );
  await browser.sees('are not in a class yet');
  await browser.chord(Key.CONTROL, Key.ENTER);
  await browser.sees('0 would be perfectly even');
  await still();
  await shot('sections');
  await browser.go('/ledger');
  await browser.sees('Opening register');
  await shot('ledger');

  await browser.go('/imports');
  await (await browser.find('input[type=file]')).sendKeys(resolve('demo/files/lantern-point-bus-list.csv'));
  await browser.sees('matches to review');
  await browser.tabTo('.outcome .pairs', 120);
  await browser.keys(Key.ENTER);
  await browser.sees('Matches to review');
  await shot('pairs');
  await browser.size(1280, 800, true);
  await browser.go('/people?gathered=1');
  await browser.sees('The sheaf');
  await shot('people-by-night');
  await browser.size(390, 780);
  await browser.driver.manage().deleteAllCookies();
  await browser.go('/join');
  await browser.sees('Join a class');
  await shot('join');
  await browser.signIn(named('student').username, named('student').secret);
  await browser.sees('Hello');
  await shot('student');
} finally {
  await browser.close();
  await server.stop();
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
}
