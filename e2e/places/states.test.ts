/** Each place while the server answers with errors, refuses, is slow or does not answer: nothing false is said, and there is a way to go on. */
import { createServer, request, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { By } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser } from '../browser';

/** What becomes of questions to the API, but for who is signed in. */
type Mode = 'passed on' | 'late' | 'not answered' | number;
class Way {
  mode: Mode = 'passed on';
  private readonly held: ServerResponse[] = [];
  private waiting: (() => void)[] = [];
  private constructor(private readonly server: Server) {}

  static async to(target: string): Promise<Way> {
    const { hostname, port } = new URL(target);
    const way: Way = new Way(
      createServer((asked, response) => {
        const pass = () => {
          const { method, url, headers } = asked;
          const onward = request({ host: hostname, port, method, path: url, headers }, (answer) => {
            response.writeHead(answer.statusCode!, answer.headers);
            answer.pipe(response);
          });
          onward.on('error', () => response.destroy());
          asked.pipe(onward);
        };
        const isTold = asked.url!.startsWith('/api/') && !/^\/api\/(me|setup|sign-in|sign-out)\b/.test(asked.url!);
        if (!isTold || way.mode === 'passed on') pass();
        else if (way.mode === 'late') way.waiting.push(pass);
        else if (way.mode === 'not answered') way.held.push(response);
        else {
          response.writeHead(way.mode, { 'Content-Type': 'application/json' });
          response.end(JSON.stringify({ error: `It said ${way.mode}.` }));
        }
      }),
    );
    await new Promise<void>((done) => way.server.listen(0, '127.0.0.1', done));
    return way;
  }
  get base(): string {
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }
  /** Passes on what came so far, and all that comes. */
  goOn(): void {
    this.mode = 'passed on';
    for (const pass of this.waiting.splice(0)) pass();
  }
  /** Hangs up on whoever still waits. */
  letGo(): void {
    for (const response of this.held.splice(0)) response.destroy();
  }
  async close(): Promise<void> {
    this.letGo();
    this.server.closeAllConnections();
    await new Promise((done) => this.server.close(done));
  }
}

let world: World;
let server: ServerProcess;
let way: Way;
let browser: Browser;
beforeAll(async () => {
  world = await World.open('states');
  server = await ServerProcess.start(world.config);
  way = await Way.to(server.base);
  browser = await Browser.open(way.base);
  await browser.signIn(world.signIns.find(({ who }) => who.startsWith('district'))!.username, demoPassword);
});
afterAll(async () => {
  await browser?.close();
  await way?.close();
  await server?.stop();
  await world?.close();
});

/** With what each says when all is well. */
const places: [string, string][] = [
  ['/', 'Student readiness'],
  ['/imports', 'New feed'],
  ['/people', 'Gather all'],
  ['/classes', 'New classes'],
  ['/classes/work', 'A letter in a bottle'],
  ['/classes/use', 'rush through'],
  ['/licenses', '23 seats short'],
  ['/licenses/materials', 'Nine nets'],
  ['/devices', 'Updates until'],
  ['/devices/carts', 'is booked by'],
  ['/devices/stock', 'need one'],
  ['/handouts', 'Skerry'],
  ['/year', 'Moving on'],
  ['/year/sections', 'Same classmates'],
  ['/year/archive', 'No classes have ended yet'],
  ['/year/retention', 'Due today'],
  ['/ledger', 'Opening register'],
  ['/requests', 'Milo Vantongeren'],
  ['/pairs', 'record'],
  ['/settings/passwords', 'Student passwords'],
  ['/settings/feeds', 'New feed'],
  ['/settings/staff', 'Create code'],
  ['/settings/products', 'Last report'],
  ['/settings/letters', 'Text to sign'],
  ['/profile', 'Sign out everywhere'],
];
/** What would be said of a list that is empty. */
const falsehoods =
  /\b0 (people|students|classes|devices|products|files|entries)\b|\bNo \w+ (is|are|yet)|Nothing (is|to)|Nobody|nobody/;
const inPlace = async (): Promise<string> =>
  ((await browser.driver.executeScript('return document.querySelector("main")?.innerText ?? ""')) as string).replace(
    /\s+/g,
    ' ',
  );

const tryAgain = (): Promise<unknown> =>
  browser.driver.findElement(By.xpath('//button[normalize-space()="Try again"]')).click();

describe.each(places)('%s', (path, well) => {
  it.each([
    [500, 'Couldn’t load'],
    [403, 'Your role does not allow this'],
  ])('with answers of %i', async (mode, words) => {
    way.mode = mode;
    await browser.go(path);
    await browser.sees(words);
    expect(await inPlace()).not.toMatch(falsehoods);
    way.mode = 'passed on';
    if (mode !== 500) return;
    await tryAgain();
    await browser.sees(well);
    expect(await inPlace()).not.toContain('Couldn’t load');
  });
  it('with answers that come late', async () => {
    way.mode = 'late';
    await browser.go(path);
    await browser.find('.loading, .ant-skeleton');
    expect(await inPlace()).not.toMatch(falsehoods);
    way.goOn();
    await browser.sees(well);
  });
});

it('says that it takes long where nothing comes, and goes on when it is tried again', async () => {
  way.mode = 'not answered';
  await browser.go('/classes');
  await browser.sees('taking longer than usual');
  expect(await inPlace()).not.toMatch(falsehoods);
  way.mode = 'passed on';
  await tryAgain();
  await browser.sees('New classes');
  way.letGo();
});

it('says that there is nothing at an address that nobody has, and that a place is not for a role', async () => {
  await browser.go('/nowhere/at/all');
  await browser.sees('There is nothing at this address');
  await browser.signOut();
  await browser.signIn(world.signIns.find(({ who }) => who.startsWith('teacher'))!.username, demoPassword);
  for (const path of ['/ledger', '/devices/carts', '/settings']) {
    await browser.go(path);
    await browser.sees('Your role does not allow this');
    expect(await inPlace()).not.toMatch(falsehoods);
  }
});
