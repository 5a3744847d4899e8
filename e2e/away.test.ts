/** The database goes away while somebody is at work, and comes back. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { DroppingWay } from '#server/testing/dropping';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser } from './browser';

let world: World;
let way: DroppingWay;
let server: ServerProcess;
let browser: Browser;
beforeAll(async () => {
  world = await World.open('away');
  const { database } = world.config;
  way = await DroppingWay.to(database.host, database.port);
  server = await ServerProcess.start({ ...world.config, database: { ...database, host: '127.0.0.1', port: way.port } });
  browser = await Browser.open(server.base);
});
afterAll(async () => {
  await browser?.close();
  await server?.stop();
  await way?.close();
  await world?.close();
});

it('says so once at the top, also where a page is opened, and goes on by itself when it is back', async () => {
  const { username } = world.signIns.find(({ who }) => who.startsWith('district'))!;
  await browser.signIn(username, demoPassword);
  await browser.sees('until school opens');
  way.cut();
  await browser.go('/classes');
  await browser.sees('Sheaf can’t reach its database');
  expect(await browser.text()).not.toMatch(/SQL|ECONN|Sequelize/);
  way.mend();
  await browser.sees('Lantern Point');
  await browser.until(async () => !(await browser.text()).includes('reach its database'), 'the line stays');
});
