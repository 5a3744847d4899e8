/**
 * A school signs in at once, at one address, with somebody at the same address who tries one picture password on
 * everyone; and whether the time of a refusal tells known from unknown usernames.
 */
import { Agent, request } from 'node:http';
import { pictureNames } from '#core/accounts/index';
import { randomFrom, shuffled } from '#core/random/index';
import { sealText, unsealText } from '#server/auth/seal';
import type { LocalDatabase } from '#server/local/mariadb';
import { table } from './table';
import { demoServer } from './world';

const children = 300;
const tries = 2000;

const at = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!;
const ms = (value: number): string => `${value.toFixed(0)} ms`;

/** The two-sample statistic of Kolmogorov and Smirnov, and how likely one as large is by chance (Smirnov 1948, asymptotic). */
export function kolmogorovSmirnov(a: readonly number[], b: readonly number[]): { d: number; p: number } {
  const [x, y] = [[...a].sort((p, q) => p - q), [...b].sort((p, q) => p - q)];
  let [i, j, d] = [0, 0, 0];
  while (i < x.length && j < y.length) {
    const next = Math.min(x[i]!, y[j]!);
    while (i < x.length && x[i]! <= next) i++;
    while (j < y.length && y[j]! <= next) j++;
    d = Math.max(d, Math.abs(i / x.length - j / y.length));
  }
  const n = Math.sqrt((x.length * y.length) / (x.length + y.length));
  const lambda = (n + 0.12 + 0.11 / n) * d;
  let p = 0;
  for (let k = 1; k <= 100; k++) p += 2 * (-1) ** (k - 1) * Math.exp(-2 * k * k * lambda * lambda);
  return { d, p: Math.min(1, Math.max(0, p)) };
}

export async function signIns(database: LocalDatabase): Promise<void> {
  const { config, server, db, signIns: known, close } = await demoServer(database, 'sheaf_bench_sign_in');
  const { key } = config;
  const agent = new Agent({ keepAlive: true, maxSockets: 400 });
  const ask = (username: string, secret: string): Promise<{ status: number; took: number }> =>
    new Promise((done, failed) => {
      const from = performance.now();
      const asking = request(
        `${server.base}/api/sign-in`,
        { method: 'POST', agent, headers: { Origin: server.base, 'Content-Type': 'application/json' } },
        (answer) => {
          answer.resume();
          answer.on('end', () => done({ status: answer.statusCode!, took: performance.now() - from }));
        },
      );
      asking.on('error', failed);
      asking.end(JSON.stringify({ username, secret }));
    });
  try {
    const all = await db.select<{
      id: string;
      personId: string;
      username: string;
      secretSealed: string;
      schoolId: string;
    }>(
      "SELECT ac.id, ac.personId, ac.username, ac.secretSealed, a.schoolId FROM accounts ac JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL WHERE ac.role = 'student' AND ac.status = 'active' AND ac.secretSealed IS NOT NULL ORDER BY a.schoolId, ac.id",
    );
    const bySchool = new Map<string, typeof all>();
    for (const one of all) bySchool.set(one.schoolId, [...(bySchool.get(one.schoolId) ?? []), one]);
    const school = [...bySchool.values()].find((list) => list.length >= children) ?? all;
    const storm = school.slice(0, children);
    // Those whom the sprayer is after sign in by pictures.
    const others = all.filter((one) => !storm.includes(one));
    const targets = others.slice(0, 600);
    // Of another school: a server that has just started is slower than one that has let a school in.
    const before = others.slice(-children);
    for (const [i, { id, personId }] of targets.entries()) {
      const [a, b, c] = [0, 5, 11].map((step) => pictureNames[(i + step) % pictureNames.length]!);
      await db.run('UPDATE accounts SET secretSealed = :s WHERE id = :id', {
        s: sealText(key, personId, `${a}-${b}-${c}`),
        id,
      });
    }
    const rows: string[][] = [];
    for (const [who, withSprayer, what] of [
      [before, false, ', the first after a start'],
      [storm, false, ''],
      [storm, true, ', a sprayer at the same address'],
    ] as const) {
      await db.run('DELETE FROM attempts');
      await db.run('DELETE FROM known_browsers');
      let spraying = withSprayer;
      const sprayed: number[] = [];
      const sprayer = (async () => {
        for (let i = 0; spraying; i = (i + 1) % targets.length)
          sprayed.push((await ask(targets[i]!.username, 'sun-moon-star')).status);
      })();
      const answers = await Promise.all(
        who.map((one) => ask(one.username, unsealText(key, one.personId, one.secretSealed))),
      );
      spraying = false;
      await sprayer;
      const took = answers.map((answer) => answer.took).sort((a, b) => a - b);
      const inside = answers.filter(({ status }) => status === 200).length;
      rows.push([
        `${children} children at once${what}`,
        `${inside} are in; half in ${ms(at(took, 0.5))}, 99 of 100 in ${ms(at(took, 0.99))}`,
      ]);
    }
    // A day of spraying, as fast as it is answered: every target once and again.
    await db.run('DELETE FROM attempts');
    const guesses = await Promise.all(
      Array.from({ length: 16 }, async (_, lane) => {
        const found = new Map<number, number>();
        for (let i = lane; i < 2000; i += 16) {
          const { status } = await ask(targets[i % targets.length]!.username, 'sun-moon-star');
          found.set(status, (found.get(status) ?? 0) + 1);
        }
        return found;
      }),
    );
    const count = (status: number) => guesses.reduce((sum, one) => sum + (one.get(status) ?? 0), 0);
    rows.push([
      '2,000 tries of one picture password on 600 children',
      `${count(401)} were looked at, ${count(429)} refused unseen, ${count(200)} let in`,
    ]);

    const staff = known.find(({ who }) => who.startsWith('teacher'))!;
    const times: Record<'student' | 'staff' | 'nobody', number[]> = { student: [], staff: [], nobody: [] };
    const r = randomFrom(1);
    const kinds = ['student', 'staff', 'nobody'] as const;
    for (let round = 0; round * 4 * kinds.length < tries; round++) {
      await db.run('DELETE FROM attempts');
      const asked = kinds.flatMap((kind) =>
        Array.from({ length: 4 }, (_, i) => ({
          kind,
          username:
            kind === 'student'
              ? all[(round * 4 + i) % all.length]!.username
              : kind === 'staff'
                ? staff.username
                : `nobody${round}x${i}`,
        })),
      );
      // In an order by chance: who stands first in the line is answered first.
      await Promise.all(
        shuffled(r, asked).map(async ({ kind, username }) =>
          times[kind].push((await ask(username, 'not this one')).took),
        ),
      );
    }
    for (const [a, b] of [
      ['student', 'nobody'],
      ['staff', 'nobody'],
      ['student', 'staff'],
    ] as const) {
      const { d, p } = kolmogorovSmirnov(times[a], times[b]);
      rows.push([`refusals of ${a} and ${b}, ${times[a].length} each`, `D ${d.toFixed(3)}, p ${p.toFixed(3)}`]);
    }
    table('Signing in', ['', ''], rows);
  } finally {
    agent.destroy();
    await close();
  }
}
