/** Requests of every route over a real socket: whether each is answered, and what of the server's memory stays taken. */
import { setTimeout as pause } from 'node:timers/promises';
import type { LocalDatabase } from '#server/local/mariadb';
import { roam } from '#server/testing/roam';
import { table } from './table';
import { demoServer } from './world';

const wanted = 10_000;

export async function fuzz(database: LocalDatabase): Promise<void> {
  const { server, db, signIns, close } = await demoServer(database, 'sheaf_bench_fuzz');
  try {
    const { username, secret } = signIns.find(({ who }) => who.startsWith('district'))!;
    const district = await server.signIn(username, secret);
    const me = (await district.get<{ personId: string }>('/api/me')).personId;
    const tables = 'people classes schools devices carts bookings products licenses class_groups materials plans';
    const pool: string[] = [];
    for (const one of tables.split(' '))
      for (const { id } of await db.select<{ id: string }>(
        `SELECT id FROM ${one} WHERE id <> :me ORDER BY id LIMIT 12`,
        { me },
      ))
        pool.push(id);
    const answers = new Map<number, number>();
    const failed: string[] = [];
    let [asked, warm] = [0, 0];
    const from = performance.now();
    for (let seed = 1; asked < wanted; seed++)
      for await (const one of roam(district.send, pool, 30, seed)) {
        asked++;
        if (one.status >= 500) failed.push(one.asked);
        answers.set(one.status, (answers.get(one.status) ?? 0) + 1);
        // Every thread has been begun and every part of the server loaded by then.
        if (asked === wanted / 4) warm = server.memory().now;
        if (asked === wanted) break;
      }
    const took = (performance.now() - from) / 1000;
    const { now, peak } = server.memory();
    await pause(60_000);
    const after = server.memory().now;
    const mb = (value: number): string => `${value.toFixed(0)} MB`;
    table(
      'Requests made up of every route',
      ['', ''],
      [
        ['asked', `${asked} in ${took.toFixed(0)} s; the server is ${server.isUp ? 'up' : 'gone'}`],
        ['answered', [...answers].map(([status, count]) => `${status}: ${count}`).join(', ')],
        ['failed (500 and above)', String(failed.length)],
        ['memory after a quarter', mb(warm)],
        ['memory at the end, and at the highest', `${mb(now)}, ${mb(peak)}`],
        ['memory after a minute of rest', `${mb(after)}, ${(after / warm).toFixed(2)} × that after a quarter`],
      ],
    );
    for (const one of failed.slice(0, 20)) console.log(`failed: ${one.slice(0, 300)}`);
  } finally {
    await close();
  }
}
