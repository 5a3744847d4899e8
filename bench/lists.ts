import { everywhere } from '#server/authority/actor';
/**
 * What the interface asks for most, in a district of 100,000; each beside the same question asked of the database by a
 * bare driver. And new secrets with their cards for 2,000, as the jobs make them.
 */
import { createConnection } from 'mariadb';
import type { Viewer } from '../server/services';
import { classList } from '#server/classes/list';
import type { Config } from '#server/config';
import type { Db } from '#server/db/connection';
import { enqueue, jobById } from '#server/jobs/queue';
import { workOnce } from '#server/jobs/work';
import { peopleFacets, peoplePage } from '#server/people/list';
import { Roll } from '#server/people/roll';
import { personSheet } from '#server/people/sheet';
import { handouts, today as todayOf } from '#server/today';
import { print, table, timed } from './table';
import { today } from './world';

const shown = `SELECT p.id, p.familyName, p.givenName, p.number, p.role, a.grade, s.name AS school, ac.username FROM people p
  LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId LEFT JOIN accounts ac ON ac.personId = p.id`;
const inOrder = 'ORDER BY p.familyName, p.givenName, p.id LIMIT 300';
const begins = (word: string) =>
  `(p.familyName LIKE '${word}%' OR p.givenName LIKE '${word}%' OR p.number LIKE '${word}%' OR ac.username LIKE '${word}%')`;
const counts = (where: string) =>
  `SELECT a.schoolId, a.grade, p.role, COUNT(*) AS n, SUM(NOT EXISTS (SELECT 1 FROM enrollments e WHERE e.personId = p.id AND e.ends IS NULL)) AS noClass,
     SUM(NOT EXISTS (SELECT 1 FROM printed_cards pc WHERE pc.personId = p.id AND pc.voidedAt IS NULL AND pc.secretVersion = ac.secretVersion)) AS noCard,
     SUM(NOT EXISTS (SELECT 1 FROM sign_ins i WHERE i.personId = p.id)) AS noSignIn
   FROM people p LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN accounts ac ON ac.personId = p.id
   WHERE p.status = 'active' AND ${where} GROUP BY a.schoolId, a.grade, p.role`;
const classCounts = (where: string) =>
  `SELECT c.id, c.name, s.name AS school, c.grade, COUNT(e.id) AS students,
     SUM(NOT EXISTS (SELECT 1 FROM printed_cards pc JOIN accounts ac ON ac.personId = pc.personId AND ac.secretVersion = pc.secretVersion WHERE pc.personId = e.personId AND pc.voidedAt IS NULL)) AS noCard
   FROM classes c JOIN schools s ON s.id = c.schoolId LEFT JOIN enrollments e ON e.classId = c.id AND e.ends IS NULL AND e.role = 'student' WHERE c.ends IS NULL AND ${where} GROUP BY c.id`;

export async function lists(db: Db, at: Config['database']): Promise<void> {
  const roll = new Roll(db, () => '2026-08-17');
  const called = await timed(() => roll.everyone());
  await db.select('ANALYZE TABLE people, affiliations, enrollments, accounts, classes');
  const bare = await createConnection({ ...at, database: at.name });
  const viewer: Viewer = {
    ...everywhere,
    accountId: '',
    personId: '0'.repeat(26),
    role: 'district',
    schoolIds: [],
    classIds: [],
  };
  const school = (await db.one<{ id: string }>('SELECT id FROM schools ORDER BY name LIMIT 1'))!.id;
  const page = { sort: 'family' as const, desc: false, limit: 300 };
  const first = await peoplePage(roll, viewer, {}, page);
  const last = first.rows.at(-1)!;
  const after = first.next!;
  const ofSchool = `a.schoolId = '${school}'`;
  const someone = first.rows[0]!.id;
  const asked: [string, () => Promise<unknown>, string][] = [
    ['first page of everyone', () => peoplePage(roll, viewer, {}, page), `${shown} ${inOrder}`],
    [
      'next page',
      () => peoplePage(roll, viewer, {}, { ...page, after }),
      `${shown} WHERE (p.familyName, p.givenName, p.id) > ('${last.familyName}', '${last.givenName}', '${last.id}') ${inOrder}`,
    ],
    ['two letters', () => peoplePage(roll, viewer, { q: 'ba' }, page), `${shown} WHERE ${begins('ba')} ${inOrder}`],
    [
      'letters of rare names',
      () => peoplePage(roll, viewer, { q: 'vuvuv' }, page),
      `${shown} WHERE ${begins('vuvuv')} ${inOrder}`,
    ],
    [
      'a school’s third grade',
      () => peoplePage(roll, viewer, { school, grade: '03' }, page),
      `${shown} WHERE ${ofSchool} AND a.grade = '03' ${inOrder}`,
    ],
    ['facets of everyone', () => peopleFacets(roll, viewer, {}), counts('1 = 1')],
    ['facets of a school', () => peopleFacets(roll, viewer, { school }), counts(ofSchool)],
    ['facets of two letters', () => peopleFacets(roll, viewer, { q: 'ba' }), counts(begins('ba'))],
    ['Today, with readiness', () => todayOf(roll, viewer, today), counts("p.role = 'student'")],
    ['all classes', () => classList(roll, viewer, {}), classCounts('1 = 1')],
    ['classes of a school', () => classList(roll, viewer, { school }), classCounts(`c.schoolId = '${school}'`)],
    ['Handouts', () => handouts(roll, viewer), classCounts("c.kind = 'homeroom'")],
    [
      'one record, with history',
      () => personSheet({ db, roll, config: { today: () => today } }, viewer, someone),
      `${shown} WHERE p.id = '${someone}'`,
    ],
  ];
  const ms = (seconds: number) => `${(seconds * 1000).toFixed(1)} ms`;
  const rows: string[][] = [];
  for (const [what, ask, sql] of asked) {
    const times: number[] = [];
    for (let i = 0; i < 100; i++) times.push((await timed(ask)).seconds);
    times.sort((a, b) => a - b);
    // The bare question may take long: as often as a second allows, twice at least.
    const plain: number[] = [];
    for (let sum = 0; plain.length < 2 || (sum < 1 && plain.length < 100);) {
      const { seconds } = await timed(() => bare.query(sql));
      plain.push(seconds);
      sum += seconds;
    }
    plain.sort((a, b) => a - b);
    const median = plain[plain.length >> 1]!;
    rows.push([what, ms(times[50]!), ms(times[98]!), ms(median), `${(times[50]! / median).toFixed(2)} ×`]);
  }
  await bare.end();
  table(
    `Lists of a district of 100,000; the roll is called in ${called.seconds.toFixed(1)} s`,
    ['', 'median', '99th of 100', 'bare driver', 'ratio'],
    rows,
  );
}

/** Undone at the end, so that the database is as it was. */
export async function secretsAndCards(db: Db, config: Config): Promise<void> {
  const people = await db.select<{ id: string }>("SELECT id FROM people WHERE role = 'student' ORDER BY id LIMIT 2000");
  const personIds = people.map(({ id }) => id);
  const { personId: by } = (await db.one<{ personId: string }>(
    "SELECT personId FROM accounts WHERE role = 'district' LIMIT 1",
  ))!;
  const steps = new Set<string>();
  const job = async (kind: Parameters<typeof enqueue>[1], input: object) => {
    const id = await enqueue(db, kind, input, by);
    let looking = true;
    const look = (async () => {
      while (looking) {
        const at = (await jobById(db, id))?.job;
        if (at?.status === 'running') steps.add(`${kind} ${at.done}`);
        await new Promise((next) => setTimeout(next, 100));
      }
    })();
    const { seconds } = await timed(() => workOnce(db, config));
    looking = false;
    await look;
    const done = (await jobById(db, id))?.job;
    if (done?.status !== 'done') throw new Error(done?.error?.message ?? 'the job is not done');
    return { seconds, result: done.result! };
  };
  const planned = await job('secrets.plan', { personIds });
  const { planId } = planned.result;
  const applied = await job('plan.apply', { planId });
  const printed = await job('cards.print', {
    personIds,
    layout: 'cards',
    paper: 'A4',
    backs: null,
    stacked: true,
    skip: 0,
    language: null,
    large: true,
    voidOlder: false,
    what: 'bench',
  });
  const unit = { count: 2000, unit: 'people' };
  print(`New secrets for 2,000 and their cards; ${steps.size} states of progress were seen`, [
    { what: 'secrets made and planned', seconds: planned.seconds, ...unit },
    { what: 'applied', seconds: applied.seconds, ...unit },
    { what: 'cards drawn, sealed, recorded', seconds: printed.seconds, ...unit },
  ]);
  await job('plan.undo', { planId, oldPasswords: true });
  await db.run('DELETE FROM printed_cards');
  await db.run('DELETE FROM prints');
}
