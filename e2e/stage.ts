/** What every test of the interface stands on: a demo world of its own, the built server over it, and a browser. */
import { afterAll, afterEach, beforeAll, expect } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { ServerProcess } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser } from './browser';

export class Stage {
  world!: World;
  server!: ServerProcess;
  browser!: Browser;

  username = (who: string): string => this.world.signIns.find((signIn) => signIn.who.startsWith(who))!.username;
  /** As staff of the demo: district, school or teacher. */
  signIn = (who: string): Promise<void> => this.browser.signIn(this.username(who), demoPassword);
}

/** `before` changes the world before the server starts. After each test the console must be free of errors. */
export function stage(name: string, options: { as?: string; before?: (world: World) => Promise<void> } = {}): Stage {
  const made = new Stage();
  beforeAll(async () => {
    made.world = await World.open(name);
    await options.before?.(made.world);
    made.server = await ServerProcess.start(made.world.config);
    made.browser = await Browser.open(made.server.base);
    if (options.as) await made.signIn(options.as);
  });
  afterAll(async () => {
    await made.browser?.close();
    await made.server?.stop();
    await made.world?.close();
  });
  afterEach(async () => {
    expect(await made.browser.errors()).toEqual([]);
    // A text that is kept by key is said, not shown.
    expect(await made.browser.driver.executeScript("return document.body.textContent.includes('\\u0002')")).toBe(false);
  });
  return made;
}
