/**
 * Taint: a district in which every value of every record is a marker that says whose it is. For each role and each route
 * nothing in an answer is anybody's who is not theirs by the rules, which are written here once more, in SQL alone. And
 * of hundreds of plans, made of random changes in a coordinator's name, nothing outside the scope changes.
 */
import type { Account, Step } from '#core/entities/index';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Change, Fields } from '#core/plan/index';
import { pick, type Random, randomFrom } from '#core/random/index';
import { creates, ends, updates } from '#core/register/steps';
import type { RouteName } from '../contract';
import { carryOut } from '../plans/apply';
import { mint } from '../plans/mint';
import { savePlan } from '../plans/store';
import { roam } from '../testing/roam';
import { type Caller, World } from '../testing/world';
import { NotAllowed } from './check';

let world: World;
let own: string;
const indexOf = new Map<string, number>();
const idOf: string[] = [];

/** Random moves and leavings first, so that there are children of other schools who once were here. */
async function shuffle(r: Random): Promise<void> {
  const { db } = world;
  const schools = await db.select<{ id: string }>('SELECT id FROM schools ORDER BY id');
  const places = await db.select<{ id: string; personId: string; schoolId: string; grade: string | null }>(
    "SELECT a.id, a.personId, a.schoolId, a.grade FROM affiliations a JOIN people p ON p.id = a.personId AND p.role = 'student' WHERE a.ends IS NULL ORDER BY a.id",
  );
  for (let n = 0; n < 150; n++) {
    const place = pick(r, places);
    const to = pick(r, schools).id;
    await db.run("UPDATE affiliations SET ends = '2026-08-10' WHERE id = :id AND ends IS NULL", { id: place.id });
    await db.run("UPDATE enrollments SET ends = '2026-08-10' WHERE personId = :id AND ends IS NULL", {
      id: place.personId,
    });
    if (r.below(4) === 0) await db.run("UPDATE people SET status = 'left' WHERE id = :id", { id: place.personId });
    else
      await db.run(
        "INSERT INTO affiliations (id, personId, schoolId, grade, begins) VALUES (:id, :personId, :to, :grade, '2026-08-10')",
        { id: mint(), personId: place.personId, to, grade: place.grade },
      );
  }
}

const word = (what: string, index: number) => `${what}${String(index).padStart(5, '0')}q`;
const born = (index: number) => new Date(Date.UTC(1901, 0, 1) + index * 86_400_000).toISOString().slice(0, 10);

/** Each value of each person's record says whose it is. */
async function mark(): Promise<void> {
  const { db } = world;
  const people = await db.select<{ id: string }>('SELECT id FROM people ORDER BY id');
  await db.transaction(async (tx) => {
    await db.batch(
      'UPDATE people SET familyName = ?, givenName = ?, middleName = ?, number = ?, email = ?, guardianEmail = ?, birthDate = ? WHERE id = ?',
      people.map(({ id }, i) => {
        indexOf.set(id, i);
        idOf.push(id);
        return [
          word('fam', i),
          word('giv', i),
          word('mid', i),
          word('num', i),
          `${word('eml', i)}@x.example`,
          `${word('grd', i)}@x.example`,
          born(i),
          id,
        ];
      }),
      tx,
    );
    await db.batch(
      'UPDATE accounts SET username = ? WHERE personId = ?',
      people.map(({ id }, i) => [word('usr', i), id]),
      tx,
    );
    await db.batch(
      'UPDATE contacts SET name = ?, email = ?, phone = ?, relation = ? WHERE personId = ?',
      people.map(({ id }, i) => [word('cnm', i), `${word('cem', i)}@x.example`, word('cph', i), word('crl', i), id]),
      tx,
    );
  });
}

/** Whose values a text holds, and which: "number of the person 17". */
function markersIn(text: string): { index: number; what: string }[] {
  const found = [...text.matchAll(/(fam|giv|mid|num|usr|eml|grd|cnm|cem|cph|crl)(\d{5})q/gi)].map(
    ([, what, index]) => ({
      index: Number(index),
      what: what!.toLowerCase(),
    }),
  );
  for (const [day] of text.matchAll(/\b19[0-2]\d-\d\d-\d\d\b/g)) {
    const index = Math.round((Date.parse(day) - Date.UTC(1901, 0, 1)) / 86_400_000);
    if (index >= 0 && index < idOf.length) found.push({ index, what: 'born' });
  }
  return found;
}

const ids = async (sql: string, params: Record<string, string> = {}) =>
  new Set((await world.db.select<{ id: string }>(sql, params)).map(({ id }) => id));
const theirsSql = `SELECT p.id FROM people p JOIN affiliations a ON a.personId = p.id
  WHERE a.schoolId = :own AND (a.ends IS NULL OR NOT EXISTS (SELECT 1 FROM affiliations o WHERE o.personId = p.id AND (o.ends IS NULL OR o.ends > a.ends OR (o.ends = a.ends AND o.id > a.id))))`;

beforeAll(async () => {
  world = await World.open('taint');
  own = (await world.db.one<{ id: string }>("SELECT id FROM schools WHERE code = 'SKM'"))!.id;
  await shuffle(randomFrom(11));
  await mark();
});
afterAll(() => world.close());

/** The demo's sign-ins have new usernames now. */
async function signIn(who: string): Promise<Caller & { personId: string }> {
  const role = who === 'school' ? 'school' : who;
  const { secret, username } = world.signIns.find((s) => s.who.startsWith(who))!;
  void username;
  const rows = await world.db.select<{ username: string; personId: string }>(
    role === 'student'
      ? "SELECT ac.username, ac.personId FROM accounts ac WHERE ac.role = 'student' AND ac.status = 'active' AND ac.secretSealed IS NOT NULL ORDER BY ac.id LIMIT 1"
      : `SELECT ac.username, ac.personId FROM accounts ac JOIN people p ON p.id = ac.personId AND p.status = 'active' JOIN affiliations a ON a.personId = ac.personId AND a.ends IS NULL
         WHERE ac.role = :role AND ac.passwordHash IS NOT NULL ${role === 'school' ? 'AND a.schoolId = :own' : ''} ORDER BY ac.id LIMIT 1`,
    { role, own },
  );
  const [row] = rows;
  if (!row) throw new Error(`no ${who}`);
  if (role === 'student') {
    const { token } = await (
      await import('../auth/sessions')
    ).begin(
      world.db,
      {
        id: (await world.db.one<{ id: string }>('SELECT id FROM accounts WHERE personId = :id', { id: row.personId }))!
          .id,
        personId: row.personId,
        role: 'student',
      },
      'password',
      { address: '', browser: '' },
    );
    const { Caller: Made } = await import('../testing/world');
    return Object.assign(new Made(world, `sheaf=${token}`), { personId: row.personId });
  }
  return Object.assign(await world.signIn(row.username, secret), { personId: row.personId });
}

describe('an answer', () => {
  it('holds nobody’s values who is not theirs, for any role at any route', async () => {
    const { db } = world;
    const pool: string[] = [];
    for (const table of 'people classes schools devices carts bookings products licenses class_groups materials plans join_requests set_work'.split(
      ' ',
    ))
      for (const { id } of await db.select<{ id: string }>(`SELECT id FROM ${table} ORDER BY RAND(3) LIMIT 30`))
        pool.push(id);
    const staffNames = await ids("SELECT id FROM people WHERE role = 'staff'");
    const names = new Set(['fam', 'giv']);
    for (const who of ['school', 'teacher', 'student'] as const) {
      const caller = await signIn(who);
      const me = caller.personId;
      const theirs =
        who === 'school'
          ? await ids(theirsSql, { own })
          : who === 'teacher'
            ? await ids(
                "SELECT e.personId AS id FROM enrollments e JOIN enrollments t ON t.classId = e.classId AND t.role = 'teacher' AND t.ends IS NULL AND t.personId = :me WHERE e.role = 'student' AND e.ends IS NULL",
                { me },
              )
            : new Set<string>();
      theirs.add(me);
      // By name alone: who once was here (that they left, and when), and who has a device of the school.
      const byName =
        who === 'school'
          ? await ids(
              'SELECT personId AS id FROM affiliations WHERE schoolId = :own UNION SELECT l.personId FROM loans l JOIN devices d ON d.id = l.deviceId WHERE d.schoolId = :own',
              { own },
            )
          : new Set<string>();
      const told = new Map<RouteName, string[]>();
      let [answers, seen] = [0, 0];
      const places = [...pool, ...[...theirs].slice(0, 40)];
      for await (const { name, asked, status, text } of roam(caller.send, places, 14, 1)) {
        if (status !== 200) continue;
        answers++;
        for (const { index, what } of markersIn(text)) {
          seen++;
          const id = idOf[index]!;
          const allowed =
            theirs.has(id) ||
            // Colleagues are named: who teaches a class, who applied a plan.
            (names.has(what) && (staffNames.has(id) || byName.has(id))) ||
            asked.includes(`${what}${String(index).padStart(5, '0')}q`);
          if (!allowed) told.set(name, [...(told.get(name) ?? []), `${what} of ${index}`].slice(0, 4));
        }
      }
      expect([who, [...told]]).toEqual([who, []]);
      expect([
        who,
        answers > (who === 'student' ? 3 : 100),
        seen > { school: 300, teacher: 30, student: 0 }[who],
      ]).toEqual([who, true, true]);
    }
  });
});

describe('a plan', () => {
  /** Random changes of rows that are there and of new ones: most plans about their own alone, the others about anybody's. */
  function changesFrom(r: Random, sample: Record<string, { theirs: Fields[]; others: Fields[] }>): Change[] {
    const isCareful = r.below(3) > 0;
    const any = (table: string) => {
      const { theirs, others } = sample[table]!;
      return pick(r, isCareful || others.length === 0 || r.below(2) === 0 ? theirs : others);
    };
    const text = (row: Fields, field: string) => String(row[field]);
    const person = () => text(any('people'), 'id');
    const some = (): Step => {
      // A role is hardly ever theirs to give.
      switch (isCareful && r.below(10) > 0 ? pick(r, [0, 1, 2, 3, 4, 5, 7, 8, 9, 10, 13]) : r.below(14)) {
        case 0: {
          const row = any('people');
          return updates(
            'person',
            text(row, 'id'),
            { email: row.email as string },
            { email: `x${r.below(999)}@y.example` },
            '',
          );
        }
        case 1:
          return ends('affiliation', text(any('affiliations'), 'id'), '2026-08-17', '');
        case 2:
          return creates(
            'affiliation',
            mint(),
            { personId: person(), schoolId: text(any('schools'), 'id'), grade: '06', begins: '2026-08-17', ends: null },
            '',
          );
        case 3:
          return ends('enrollment', text(any('enrollments'), 'id'), '2026-08-17', '');
        case 4:
          return creates(
            'enrollment',
            mint(),
            {
              personId: person(),
              classId: text(any('classes'), 'id'),
              role: 'student',
              begins: '2026-08-17',
              ends: null,
            },
            '',
          );
        case 5: {
          const row = any('accounts');
          return updates(
            'account',
            text(row, 'id'),
            { status: row.status as Account['status'] },
            { status: row.status === 'active' ? 'frozen' : 'active' },
            '',
          );
        }
        case 6: {
          const row = any('accounts');
          return updates(
            'account',
            text(row, 'id'),
            { role: row.role as Account['role'] },
            { role: pick(r, ['district', 'school', 'teacher'] as const) },
            '',
          );
        }
        case 7: {
          const row = any('devices');
          return updates(
            'device',
            text(row, 'id'),
            { schoolId: text(row, 'schoolId') },
            { schoolId: text(any('schools'), 'id') },
            '',
          );
        }
        case 8:
          return creates(
            'loan',
            mint(),
            {
              deviceId: text(any('devices'), 'id'),
              personId: person(),
              kind: 'loan',
              begins: '2026-08-17',
              due: null,
              ends: null,
            },
            '',
          );
        case 9: {
          const row = any('classes');
          return updates('class', text(row, 'id'), { name: text(row, 'name') }, { name: `n${r.below(9999)}` }, '');
        }
        case 10:
          return creates(
            'contact',
            mint(),
            { personId: person(), name: 'x', email: null, phone: '1', relation: null },
            '',
          );
        case 11: {
          const row = any('schools');
          return updates('school', text(row, 'id'), { name: text(row, 'name') }, { name: `s${r.below(9999)}` }, '');
        }
        case 12: {
          const row = any('people');
          return updates(
            'person',
            text(row, 'id'),
            { mergedInto: row.mergedInto as string | null },
            { mergedInto: person() },
            '',
          );
        }
        default:
          return ends('loan', text(any('loans'), 'id'), '2026-08-17', '');
      }
    };
    return Array.from({ length: 1 + r.below(3) }, () => ({ ...some(), label: 'x', subject: mint() }));
  }

  const tables = {
    people: 'SELECT id, email, status, mergedInto, familyName FROM people',
    affiliations: 'SELECT id, personId, schoolId, ends FROM affiliations',
    enrollments: 'SELECT id, personId, classId, ends FROM enrollments',
    accounts: 'SELECT id, personId, status, role, secretVersion FROM accounts',
    devices: 'SELECT id, schoolId FROM devices',
    loans: 'SELECT id, personId, deviceId, ends FROM loans',
    classes: 'SELECT id, schoolId, name FROM classes',
    schools: 'SELECT id, name FROM schools',
    contacts: 'SELECT id, personId FROM contacts',
  };
  const everything = async () => {
    const all = new Map<string, Fields>();
    for (const [table, sql] of Object.entries(tables))
      for (const row of await world.db.select<Fields & { id: string }>(sql)) all.set(`${table}:${row.id}`, row);
    return all;
  };

  it('of three hundred, with undos, merges and bundles among them, changes nothing outside the scope', async () => {
    const { db } = world;
    const r = randomFrom(5);
    const caller = await signIn('school');
    const theirs = await ids(theirsSql, { own });
    const classes = await ids('SELECT id FROM classes WHERE schoolId = :own', { own });
    const devices = await ids('SELECT id FROM devices WHERE schoolId = :own', { own });
    const before = await everything();
    const sample: Record<string, { theirs: Fields[]; others: Fields[] }> = {};
    for (const [table, sql] of Object.entries(tables)) {
      const open = /affiliations|enrollments|loans/.test(table) ? 'ends IS NULL' : '1 = 1';
      const all = await db.select<Fields & { id: string }>(`${sql} WHERE ${open} ORDER BY RAND(7)`);
      // Whoever ends their own place or sign-in does nothing more afterwards.
      const rows = all.filter(({ personId }) => personId !== caller.personId);
      const isTheirs = (row: Fields) =>
        theirs.has(String(row.personId ?? row.id)) ||
        row.schoolId === own ||
        row.id === own ||
        classes.has(String(row.id)) ||
        devices.has(String(row.id));
      sample[table] = {
        theirs: rows.filter(isTheirs).slice(0, 200),
        others: rows.filter((row) => !isTheirs(row)).slice(0, 60),
      };
    }
    const counts = { applied: 0, refused: 0, undone: 0, other: 0 };
    const applied: string[] = [];
    for (let n = 0; n < 300; n++) {
      try {
        if (applied.length > 0 && r.below(6) === 0) {
          await carryOut(db, applied.splice(r.below(applied.length), 1)[0]!, 'undo', caller.personId);
          counts.undone++;
          continue;
        }
        const changes = changesFrom(r, sample);
        const planId = await db.transaction((tx) =>
          savePlan(db, tx, { kind: 'edit', title: 'random', createdBy: caller.personId, plan: { changes } }),
        );
        await carryOut(db, planId, 'apply', caller.personId);
        applied.push(planId);
        counts.applied++;
      } catch (error) {
        if (error instanceof NotAllowed) counts.refused++;
        else counts.other++;
      }
    }
    const anybody = [...sample.people!.theirs, ...sample.people!.others];
    for (let n = 0; n < 40; n++)
      await caller.post('/api/pairs/merge', { keep: pick(r, anybody).id, gone: pick(r, anybody).id });
    const bundle = Buffer.from(
      await (
        await (
          await world.signIn(
            (await db.one<{ u: string }>(
              "SELECT username AS u FROM accounts WHERE role = 'district' AND passwordHash IS NOT NULL LIMIT 1",
            ))!.u,
            world.signIns.find((s) => s.who.startsWith('district'))!.secret,
          )
        ).raw('/api/exports/people?format=roster')
      ).arrayBuffer(),
    );
    const { id } = (await caller.post<{ id: string }>('/api/intakes?name=bundle.zip', bundle)).body;
    const planned = await caller.job(`/api/intakes/${id}/plan`);
    expect(planned.error?.message).toContain('A roster bundle covers a whole district');

    const after = await everything();
    const outside: string[] = [];
    for (const key of new Set([...before.keys(), ...after.keys()])) {
      const [was, is] = [before.get(key), after.get(key)];
      if (JSON.stringify(was) === JSON.stringify(is)) continue;
      const [table] = key.split(':') as [string];
      const row = { ...is, ...was };
      // By whose it was before; what is new by whose it is.
      const isTheirs =
        table === 'schools'
          ? row.id === own
          : table === 'devices'
            ? devices.has(String(row.id)) && is?.schoolId === own
            : table === 'classes'
              ? classes.has(String(row.id))
              : table === 'people'
                ? theirs.has(String(row.id))
                : table === 'loans'
                  ? devices.has(String(row.deviceId))
                  : table === 'enrollments'
                    ? classes.has(String(row.classId)) || theirs.has(String(row.personId))
                    : table === 'affiliations'
                      ? row.schoolId === own
                      : theirs.has(String(row.personId));
      if (!isTheirs) outside.push(`${key} ${JSON.stringify(was)} ${JSON.stringify(is)}`);
    }
    expect(outside).toEqual([]);
    // Nobody became what they must not be made.
    expect((await db.one<{ n: number }>("SELECT COUNT(*) AS n FROM accounts WHERE role = 'district'"))!.n).toBe(
      [...before.entries()].filter(([key, row]) => key.startsWith('accounts:') && row.role === 'district').length,
    );
    console.log(`random plans: ${JSON.stringify(counts)}`);
    expect(counts.applied).toBeGreaterThan(90);
    expect(counts.refused).toBeGreaterThan(60);
    expect(counts.undone).toBeGreaterThan(22);
  });
});
