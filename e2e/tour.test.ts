/** The tour of docs/tour.md, walked heading by heading: each page without a violation, and the year undone to the row. */
import { readFileSync } from 'node:fs';
import { afterAll, afterEach, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { loadDemoWeeks } from '#server/demo';
import { freePorts } from '#server/testing/ports';
import { ServerProcess, StandIn } from '#server/testing/process';
import { World } from '#server/testing/world';
import { Browser } from './browser';
import { tour } from './tour';

let world: World;
let server: ServerProcess | null = null;
let browser: Browser;
let standIn: StandIn | null = null;
let port: number;
beforeAll(async () => {
  world = await World.open('tour');
  await loadDemoWeeks(world.db, world.config);
  port = await freePorts();
  browser = await Browser.open(`http://127.0.0.1:${port}`);
});
afterEach(async () => {
  expect(await browser.errors()).toEqual([]);
});
afterAll(async () => {
  standIn?.stop();
  await browser.close();
  await server?.stop();
  await world.close();
});

it('goes from the August file to the June roll-over and back', { timeout: 300_000 }, async () => {
  const before = await world.checksum();
  const steps: string[] = [];
  let sent = 0;
  await tour({
    open: async (day) => {
      await server?.stop();
      server = await ServerProcess.start({ ...world.config, today: () => day }, { port });
      await browser.driver.manage().deleteAllCookies();
      await browser.signIn(world.signIns.find(({ who }) => who.startsWith('district'))!.username, demoPassword);
      return browser;
    },
    product: async (to, name, secret) => {
      standIn = await StandIn.start('product', ['--to', to, '--name', name, '--secret', secret]);
      return async (path, body) => {
        const answer = await fetch(standIn!.base + path, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify(body ?? {}),
        });
        const told = (await answer.json()) as { sent: number; error: string | null; seconds: number };
        expect([told.error, told.sent > 100]).toEqual([null, true]);
        const kept = await world.db.one<{ seconds: number }>(
          "SELECT SUM(seconds) AS seconds FROM use_days WHERE day BETWEEN '2026-09-28' AND '2026-10-02'",
        );
        // To the second what the product says it sent.
        expect(Number(kept!.seconds)).toBe(told.seconds);
        sent = told.seconds;
        return told;
      };
    },
    tell: async (title) => {
      steps.push(title);
      expect([title, await browser.violations()]).toEqual([title, []]);
      if (title !== 'A week of use') return;
      // The week's bar is as high as what was sent, and the sixth grade's classes share it.
      const shown = (await browser.driver.executeScript(
        'return [...document.querySelectorAll("figure .sr")].map((f) => f.innerText).join(" ")',
      )) as string;
      const week = Number(/Sep 28: .*?(\d+)/.exec(shown)?.[1]);
      expect(Math.abs(week - sent / 60)).toBeLessThanOrEqual(1);
    },
  });
  const headings = [...readFileSync('docs/tour.md', 'utf8').matchAll(/^## (.*)$/gm)].map(([, heading]) => heading);
  expect(steps).toEqual(headings);
  expect(await world.checksum()).toBe(before);
});
