import { inEnglish } from '#core/messages/languages';
import { rejected } from '#core/messages/expect';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { applying, type Change, type Fields, invert, kindOf, type State } from '#core/plan/index';
import { type EntityShape, randomPlan } from '#core/plan/arbitrary';
import { type Random, randomFrom } from '#core/random/index';
import { entities, entityNames } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { World } from '../testing/world';
import { Applier, carryOut, PlanConflict } from './apply';
import { savePlan } from './store';
import { mint } from './mint';

let world: World;
beforeAll(async () => {
  world = await World.open('apply', { demo: false });
});
afterAll(() => world.close());

const date = (r: Random) => `20${10 + r.below(20)}-0${1 + r.below(9)}-1${r.below(10)}`;
const maybe = <T>(r: Random, value: T): T | null => (r.below(3) ? value : null);
/** Rows of the register as they may really be, odd letters, nulls and ends included. */
const shapes: EntityShape[] = [
  {
    entity: 'school',
    fresh: (r) => ({ name: r.text(), code: `C${r.below(1e9)}`, kind: 'k8', lowGrade: 'KG', highGrade: '08' }),
    alter: (r) => ({ name: r.text() }),
    referredBy: [
      ['class', 'schoolId'],
      ['affiliation', 'schoolId'],
    ],
  },
  {
    entity: 'person',
    fresh: (r) => ({
      role: 'student',
      number: maybe(r, String(r.below(1e6))),
      givenName: r.text(),
      middleName: maybe(r, r.text()),
      familyName: r.text(),
      birthDate: maybe(r, date(r)),
      email: null,
      guardianEmail: maybe(r, 'a@b.example'),
      status: 'active',
    }),
    alter: (r): Fields =>
      r.below(2) ? { familyName: r.text(), birthDate: maybe(r, date(r)) } : { status: r.below(2) ? 'left' : 'active' },
    referredBy: [
      ['affiliation', 'personId'],
      ['enrollment', 'personId'],
      ['account', 'personId'],
    ],
  },
  {
    entity: 'class',
    endField: 'ends',
    fresh: (r, pick) => {
      const schoolId = pick('school');
      return schoolId
        ? {
            schoolId,
            name: r.text(),
            kind: r.below(4) ? 'course' : 'homeroom',
            grade: maybe(r, '03'),
            subject: null,
            begins: date(r),
            ends: null,
          }
        : null;
    },
    alter: (r) => ({ name: r.text() }),
    referredBy: [['enrollment', 'classId']],
  },
  {
    entity: 'affiliation',
    endField: 'ends',
    fresh: (r, pick) => {
      const [personId, schoolId] = [pick('person'), pick('school')];
      return personId && schoolId
        ? { personId, schoolId, grade: maybe(r, '04'), begins: date(r), ends: maybe(r, date(r)) }
        : null;
    },
    alter: (r) => ({ grade: maybe(r, '05') }),
  },
  {
    entity: 'enrollment',
    endField: 'ends',
    fresh: (r, pick) => {
      const [personId, classId] = [pick('person'), pick('class')];
      return personId && classId ? { personId, classId, role: 'student', begins: date(r), ends: null } : null;
    },
    alter: (r) => ({ begins: date(r) }),
  },
];

async function readState(): Promise<State> {
  const state: State = new Map();
  for (const name of entityNames) {
    const { table, columns } = entities[name];
    const rows = await world.db.select<Fields & { id: string }>(
      `SELECT id, ${columns.map((c) => `\`${c}\``).join(', ')} FROM ${table}`,
    );
    state.set(name, new Map(rows.map(({ id, ...fields }) => [id, fields])));
  }
  return state;
}
const inOrder = (changes: Change[]) => applying(changes, kindOf);
const direct = (changes: Change[]): Promise<void> =>
  world.db.transaction(async (tx) => {
    const applier = new Applier(world.db, tx);
    await applier.apply(changes);
    await applier.end();
  });

describe('a plan in the database', () => {
  it('applied and undone leaves every table as it was, a thousand times over', async () => {
    const r = randomFrom(42);
    /** Whether it could be made: what holds once only is refused. */
    const made = (changes: Change[]): Promise<boolean> =>
      direct(changes).then(
        () => true,
        (error: unknown) => {
          if (error instanceof PlanConflict) return false;
          throw error;
        },
      );
    for (let i = 0; i < 120; i++) {
      const { changes } = ordered(randomPlan(await readState(), shapes, 12, r, mint).changes);
      await made(inOrder(changes.filter(({ op }) => op !== 'purge')));
    }
    let state = await readState();
    expect(state.get('enrollment')!.size).toBeGreaterThan(10);
    const kinds = new Set<string>();
    let checksum = await world.checksum();
    let through = 0;
    for (let i = 0; i < 1000; i++) {
      const plan = ordered(randomPlan(state, shapes, 1 + r.below(25), r, mint).changes);
      if (await made(inOrder(plan.changes))) {
        through++;
        for (const change of plan.changes) kinds.add(kindOf(change));
        await direct(invert({ changes: inOrder(plan.changes) }).changes);
      }
      // The checksum of the tables is taken each time, over every column of every row.
      expect(await world.checksum()).toBe(checksum);
      if (i % 100 === 99) {
        // Now and then the state itself moves on, so that the plans meet other rows.
        await made(inOrder(plan.changes));
        state = await readState();
        checksum = await world.checksum();
      }
    }
    expect(through).toBeGreaterThan(400);
    expect(kinds.size).toBeGreaterThan(18);
  });

  const person = (id: string): Change => ({
    entity: 'person',
    id,
    op: 'create',
    before: {},
    reason: 'test',
    label: `Test ${id.slice(-4)}`,
    subject: id,
    after: {
      role: 'student',
      number: null,
      givenName: 'Test',
      middleName: null,
      familyName: id.slice(-4),
      birthDate: null,
      email: null,
      guardianEmail: null,
      status: 'active',
    },
  });
  const save = (changes: Change[], held = [] as { code: string; message: string; count: number; names: string[] }[]) =>
    world.db.transaction((tx) =>
      savePlan(world.db, tx, {
        kind: 'test',
        title: 'test',
        createdBy: mint(),
        grant: { is: 'opening' },
        plan: { changes },
        held,
      }),
    );

  it('that does the same to many is stopped by the one who is no longer as it was, and names them', async () => {
    const people = Array.from({ length: 120 }, () => person(mint()));
    await direct(people);
    const rename = ({ id, label }: Change, before: string, after: string): Change => ({
      ...person(id),
      op: 'update',
      label,
      before: { givenName: before },
      after: { givenName: after },
    });
    // To the database's own collation the two names are one.
    await direct([rename(people[70]!, 'Test', 'TEST')]);
    const checksum = await world.checksum();
    const plan = people.map((one) => rename(one, 'Test', 'Other'));
    await expect(direct(plan)).rejects.toMatchObject({ count: 1, conflicts: [{ label: people[70]!.label }] });
    expect(await world.checksum()).toBe(checksum);
    await direct(plan.filter((_, i) => i !== 70));
    expect(await world.db.one("SELECT COUNT(*) AS n FROM people WHERE givenName = 'Other'")).toEqual({ n: 119 });
  });

  it('stands in the ledger when applied and when undone, and knows its status', async () => {
    const before = await world.checksum();
    const planId = await save(Array.from({ length: 30 }, () => person(mint())));
    const applied = await carryOut(world.db, planId, 'apply', null);
    expect(applied).toMatchObject({ changes: 30, sentence: 'Adds 30 people.' });
    expect(await rejected(carryOut(world.db, planId, 'apply', null))).toContain(
      'already applied, so it can’t be applied',
    );
    await carryOut(world.db, planId, 'undo', null);
    expect(await world.checksum()).toBe(before);
    const entries = await world.db.select('SELECT action, changes FROM ledger WHERE planId = :planId ORDER BY id', {
      planId,
    });
    expect(entries).toEqual([
      { action: 'apply', changes: 30 },
      { action: 'undo', changes: 30 },
    ]);
  });

  it('is refused whole, with every conflict named, when a field changed in between', async () => {
    const people = [person(mint()), person(mint()), person(mint())];
    await direct(people);
    const rename = (p: Change): Change => ({
      ...p,
      op: 'update',
      before: { familyName: p.after.familyName! },
      after: { familyName: 'Renamed' },
    });
    const planId = await save(people.map(rename));
    await world.db.run("UPDATE people SET familyName = 'Someone Else' WHERE id = :id", { id: people[1]!.id });
    const before = await world.checksum();
    const error = await carryOut(world.db, planId, 'apply', null).catch((e: unknown) => e);
    expect(error).toBeInstanceOf(PlanConflict);
    expect((error as PlanConflict).conflicts).toEqual([
      {
        key: `person:${people[1]!.id}:update`,
        label: people[1]!.label,
        message: expect.stringContaining('“Someone Else”') as string,
        subject: people[1]!.id,
        row: `person:${people[1]!.id}`,
      },
    ]);
    expect(await world.checksum()).toBe(before);
    expect(await world.db.select('SELECT id FROM ledger WHERE planId = :planId', { planId })).toEqual([]);
  });

  it('names whose value its column cannot hold, whether it is one or many, and changes nothing', async () => {
    const people = Array.from({ length: 60 }, () => person(mint()));
    await direct(people);
    const before = await world.checksum();
    const long = (p: Change): Change => ({
      ...p,
      op: 'update',
      before: { email: null },
      after: { email: 'x'.repeat(255) },
    });
    const [one] = people as [Change];
    const unkept = { key: `person:${one.id}:update`, message: 'email is too long' };
    await expect(direct([long(one)])).rejects.toMatchObject({ conflicts: [{ ...unkept, label: one.label }] });
    await expect(direct(people.map(long))).rejects.toMatchObject({
      conflicts: [{ ...unkept, label: `${one.label} (or one of 59 more)` }],
    });
    const day = { ...one, op: 'update' as const, before: { birthDate: null }, after: { birthDate: '2015-02-31' } };
    await expect(direct([day])).rejects.toMatchObject({
      conflicts: [{ message: 'birthDate can’t be saved as written' }],
    });
    expect(await world.checksum()).toBe(before);
  });

  it('is not undone over what depends on it, and says so', async () => {
    const p = person(mint());
    const planId = await save([p]);
    await carryOut(world.db, planId, 'apply', null);
    await world.db.run(
      "INSERT INTO accounts (id, personId, username, role, status, secretVersion) VALUES (:id, :personId, 'somebody', 'student', 'active', 1)",
      { id: mint(), personId: p.id },
    );
    const error = await carryOut(world.db, planId, 'undo', null).catch((e: unknown) => e);
    expect(inEnglish((error as PlanConflict).conflicts[0]!.message)).toContain('depends on it');
  });

  it('waits for a held guard to be released', async () => {
    const planId = await save(
      [person(mint())],
      [{ code: 'leaving:x', message: 'Lantern Point: 31 of 93 students would leave', count: 31, names: [] }],
    );
    expect(await rejected(carryOut(world.db, planId, 'apply', null))).toContain('A guard is holding the plan');
    await world.db.run('UPDATE plans SET releases = :r WHERE id = :planId', {
      planId,
      r: JSON.stringify([{ code: 'leaving:x', reason: 'a school closed', by: mint(), at: '' }]),
    });
    expect((await carryOut(world.db, planId, 'apply', null)).changes).toBe(1);
  });

  it('leaves out what was taken out, when applied and when undone', async () => {
    const [a, b] = [person(mint()), person(mint())] as [Change, Change];
    const place: Change = {
      entity: 'account',
      id: mint(),
      op: 'create',
      before: {},
      reason: 'test',
      label: 'x',
      subject: b.id,
      needs: [a.id],
      after: {
        personId: a.id,
        username: 'nobody',
        role: 'student',
        status: 'active',
        secretSealed: null,
        secretVersion: 1,
        passwordHash: null,
      },
    };
    const before = await world.checksum();
    const planId = await save([a, b, place]);
    await world.db.run('UPDATE plans SET takenOut = :out WHERE id = :planId', {
      planId,
      out: JSON.stringify({ subjects: [a.id] }),
    });
    expect((await carryOut(world.db, planId, 'apply', null)).changes).toBe(1);
    expect(await world.db.select('SELECT id FROM people WHERE id IN (:ids)', { ids: [a.id, b.id] })).toEqual([
      { id: b.id },
    ]);
    await carryOut(world.db, planId, 'undo', null);
    expect(await world.checksum()).toBe(before);
  });

  it('lets the version of a password count on, whichever way plans go, and never stand in the way', async () => {
    const child = person(mint());
    const account = mint();
    const of = { entity: 'account', id: account, label: 'x', subject: child.id, reason: 'test' } as const;
    const made = await save([
      child,
      {
        ...{ ...of, op: 'create', before: {} },
        after: {
          ...{ personId: child.id, username: 'counting', role: 'student', status: 'active' },
          ...{ secretSealed: 'one', secretVersion: 1, passwordHash: null },
        },
      },
    ]);
    const before = await world.checksum();
    await carryOut(world.db, made, 'apply', null);
    const fresh = await save([
      {
        ...{ ...of, op: 'update', before: { secretSealed: 'one', secretVersion: 1 } },
        after: { secretSealed: 'two', secretVersion: 2 },
      },
    ]);
    const now = () =>
      world.db.models.account.findOne({
        attributes: ['secretSealed', 'secretVersion'],
        where: { id: account },
        raw: true,
      });
    for (const [action, secretSealed, secretVersion] of [
      ['apply', 'two', 2],
      ['undo', 'one', 3],
      ['apply', 'two', 4],
      ['undo', 'one', 5],
    ] as const) {
      await carryOut(world.db, fresh, action, null);
      expect(await now()).toEqual({ secretSealed, secretVersion });
    }
    await carryOut(world.db, made, 'undo', null);
    expect(await world.checksum()).toBe(before);
  });
});
