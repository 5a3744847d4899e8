/**
 * Pairs of random plans, both made before either is applied, over a register so small that they get in each other's way.
 * Whatever is applied and undone, in whatever order and through however many connections, what holds once only must
 * hold, and undoing all of it must leave every table as it was.
 */
import { inEnglish } from '#core/messages/languages';
import { randomPlan, type EntityShape } from '#core/plan/arbitrary';
import type { Change, Fields, State } from '#core/plan/index';
import { randomFrom, type Random, shuffled } from '#core/random/index';
import { entities, type Entity } from '#core/entities/index';
import { ordered } from '#core/register/index';
import type { Db } from '../db/connection';
import { carryOut, PlanConflict } from '../plans/apply';
import { mint } from '../plans/mint';
import { savePlan } from '../plans/store';
import { checksumOf } from './checksum';

const day = '2026-08-17';
const used = [
  'school',
  'person',
  'class',
  'enrollment',
  'product',
  'license',
  'seat',
  'device',
  'loan',
  'account',
] as const;

/** Rows of which two plans may well mean the same one. */
function shapesOver(state: State): EntityShape[] {
  const rows = (entity: Entity) => [...(state.get(entity) ?? new Map<string, Fields>()).values()];
  /** Now and then what is open already is asked for all the same. */
  const free = (r: Random, entity: Entity, said: Fields): boolean =>
    r.below(6) === 0 ||
    !rows(entity).some(
      (row) => row.ends === null && Object.entries(said).every(([field, value]) => row[field] === value),
    );
  return [
    {
      entity: 'person',
      fresh: (r) => ({
        role: 'student',
        number: String(100 + r.below(12)),
        givenName: `Given${r.below(9)}`,
        middleName: null,
        familyName: `Family${r.below(9)}`,
        birthDate: null,
        email: null,
        guardianEmail: null,
        status: 'active',
      }),
      alter: (r): Fields =>
        r.below(2) ? { number: String(100 + r.below(12)) } : { status: r.below(2) ? 'left' : 'active' },
      referredBy: [
        ['enrollment', 'personId'],
        ['seat', 'personId'],
        ['loan', 'personId'],
        ['account', 'personId'],
      ],
    },
    {
      entity: 'class',
      endField: 'ends',
      fresh: () => null,
      alter: (r) => ({ name: `Class ${r.below(9)}` }),
      referredBy: [['enrollment', 'classId']],
    },
    {
      entity: 'enrollment',
      endField: 'ends',
      fresh: (r, pick) => {
        const [personId, classId] = [pick('person'), pick('class')];
        if (!personId || !classId || !free(r, 'enrollment', { personId, classId })) return null;
        return { personId, classId, role: 'student', begins: day, ends: null };
      },
      alter: (r) => ({ role: r.below(3) ? 'student' : 'teacher' }),
    },
    {
      entity: 'seat',
      fresh: (_, pick) => {
        const [personId, licenseId] = [pick('person'), pick('license')];
        return personId && licenseId ? { personId, licenseId, begins: day, ends: null } : null;
      },
      alter: (r) => ({ ends: r.below(2) ? day : null }),
    },
    {
      entity: 'loan',
      endField: 'ends',
      fresh: (r, pick) => {
        const [personId, deviceId] = [pick('person'), pick('device')];
        if (!personId || !deviceId || !free(r, 'loan', { deviceId })) return null;
        return { personId, deviceId, kind: 'own', begins: day, due: null, ends: null };
      },
      alter: () => ({ due: '2027-06-30' }),
    },
    {
      entity: 'account',
      fresh: (r, pick) => {
        const personId = pick('person');
        if (!personId || rows('account').some((row) => row.personId === personId)) return null;
        return {
          personId,
          username: `user${r.below(200)}`,
          role: 'student',
          status: 'active',
          secretSealed: null,
          secretVersion: 1,
          passwordHash: 'x',
        };
      },
      alter: (r, row): Fields =>
        row.role === 'student'
          ? { status: r.below(2) ? 'frozen' : 'active' }
          : { role: r.below(2) ? 'district' : 'teacher' },
    },
  ];
}

/** Ids that follow from the seed, in rising order, so that the rows are read and drawn in the same order each time. */
const idsFrom = (seed: number): (() => string) => {
  let n = 0;
  return () => `${String(seed).padStart(10, '0')}${String(++n).padStart(16, '0')}`;
};

/** A school with two homerooms and two courses, ten people of whom two are coordinators, three devices, a product with two licenses of three seats. */
function opening(nextId: () => string): Change[] {
  const create = (entity: Entity, after: Fields): Change => {
    const id = nextId();
    return { entity, id, op: 'create', before: {}, after, reason: 'opening', label: entity, subject: id };
  };
  const school = create('school', {
    name: 'Pairs',
    code: 'PAIRS',
    kind: 'k8',
    lowGrade: 'KG',
    highGrade: '08',
    door: null,
    ways: null,
    cardText: null,
  });
  const classes = ['homeroom', 'homeroom', 'course', 'course'].map((kind, i) =>
    create('class', {
      schoolId: school.id,
      name: `Class ${i}`,
      kind,
      grade: null,
      subject: null,
      begins: day,
      ends: null,
    }),
  );
  const people = Array.from({ length: 10 }, (_, i) =>
    create('person', {
      ...{
        role: i < 2 ? 'staff' : 'student',
        number: i < 2 ? null : String(100 + i),
        givenName: `Given${i}`,
        middleName: null,
      },
      ...{ familyName: `Family${i}`, birthDate: null, email: null, guardianEmail: null, status: 'active' },
    }),
  );
  const accounts = people.slice(0, 4).map(({ id: personId }, i) =>
    create('account', {
      ...{ personId, username: `pairs${i}`, role: i < 2 ? 'district' : 'student' },
      ...{ status: 'active', secretSealed: null, secretVersion: 1, passwordHash: 'x' },
    }),
  );
  const product = create('product', {
    name: 'Pairs',
    publisher: null,
    edition: null,
    lowGrade: null,
    highGrade: null,
    subject: null,
    supersedes: null,
  });
  const licenses = [0, 1].map(() =>
    create('license', {
      productId: product.id,
      schoolId: null,
      seats: 3,
      begins: '2026-07-01',
      ends: '2027-07-01',
      costCents: null,
      orderNumber: null,
      trial: 0,
    }),
  );
  const devices = [0, 1, 2].map((i) =>
    create('device', {
      ...{
        tag: `PAIRS-${i}`,
        serial: null,
        model: 'Slate',
        schoolId: school.id,
        boughtOn: null,
        warrantyEnds: null,
      },
      ...{ updatesEnd: null, condition: 'good', cartId: null, slot: null, room: null },
    }),
  );
  const enrolled = people
    .slice(2)
    .map(({ id: personId }, i) =>
      create('enrollment', { personId, classId: classes[i % 2]!.id, role: 'student', begins: day, ends: null }),
    );
  const seats = people
    .slice(2, 7)
    .map(({ id: personId }, i) =>
      create('seat', { personId, licenseId: licenses[i % 2]!.id, begins: day, ends: null }),
    );
  return ordered([school, ...classes, ...people, ...accounts, product, ...licenses, ...devices, ...enrolled, ...seats])
    .changes;
}

async function readState(db: Db): Promise<State> {
  const state: State = new Map();
  for (const name of used) {
    const { table, columns } = entities[name];
    const rows = await db.select<Fields & { id: string }>(
      `SELECT id, ${columns.map((c) => `\`${c}\``).join(', ')} FROM ${table} ORDER BY id`,
    );
    state.set(name, new Map(rows.map(({ id, ...fields }) => [id, fields])));
  }
  return state;
}

/** What must never be there, with what it would mean. */
const never: Record<string, string> = {
  'twice in a class': 'SELECT 1 FROM enrollments WHERE ends IS NULL GROUP BY personId, classId HAVING COUNT(*) > 1',
  'in two homerooms':
    "SELECT 1 FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' WHERE e.ends IS NULL AND e.role = 'student' GROUP BY e.personId HAVING COUNT(*) > 1",
  'in a class that is over':
    'SELECT 1 FROM enrollments e JOIN classes c ON c.id = e.classId AND c.ends IS NOT NULL WHERE e.ends IS NULL',
  'a device with two': 'SELECT 1 FROM loans WHERE ends IS NULL GROUP BY deviceId HAVING COUNT(*) > 1',
  'two of one number':
    "SELECT 1 FROM people WHERE role = 'student' AND status = 'active' AND number IS NOT NULL GROUP BY number HAVING COUNT(*) > 1",
  'two seats of a product':
    'SELECT 1 FROM seats s JOIN licenses l ON l.id = s.licenseId WHERE s.ends IS NULL GROUP BY s.personId, l.productId HAVING COUNT(*) > 1',
  'more seats than there are':
    'SELECT 1 FROM seats s JOIN licenses l ON l.id = s.licenseId WHERE s.ends IS NULL GROUP BY l.id, l.seats HAVING COUNT(*) > l.seats',
  'a username of two':
    "SELECT 1 FROM accounts a JOIN people p ON p.id = a.personId JOIN given_usernames g ON g.username = a.username WHERE p.role = 'student' AND g.personKey NOT LIKE '%|%' AND 1 < (SELECT COUNT(*) FROM accounts b WHERE b.username = a.username)",
  'no coordinator':
    "SELECT 1 FROM district WHERE NOT EXISTS (SELECT 1 FROM accounts a JOIN people p ON p.id = a.personId AND p.status = 'active' WHERE a.role = 'district' AND a.status = 'active')",
  'a number that nobody holds': 'SELECT 1 FROM people WHERE letGo IS NOT NULL',
  'a version twice': 'SELECT 1 FROM ledger GROUP BY version HAVING COUNT(*) > 1',
};
async function broken(db: Db): Promise<string[]> {
  const found = await Promise.all(
    Object.entries(never).map(async ([what, sql]) => ((await db.one(`${sql} LIMIT 1`)) ? [what] : [])),
  );
  return found.flat();
}

const checksum = async (db: Db): Promise<string> => {
  // Which homeroom each student is in follows from the rows themselves.
  const kept = await db.one<{ n: number }>(
    'SELECT (SELECT COUNT(*) FROM homerooms) + (SELECT COUNT(*) FROM people WHERE isHeld = 1) AS n',
  );
  return `${await checksumOf(db, used)} ${kept!.n}`;
};

export interface Pairs {
  pairs: number;
  /** Plans and undos that went through, and those that were refused, by why. */
  through: number;
  refused: Map<string, number>;
  /** What must never be there and was, or a table that was not as before. */
  wrong: string[];
}

/**
 * `through`: a database by each of one or more ways, which are used at once. The database is a migrated one with a
 * district and nothing else.
 */
export async function tryPairs(through: readonly Db[], count: number, seed: number): Promise<Pairs> {
  const db = through[0]!;
  const r = randomFrom(seed);
  const nextId = idsFrom(seed);
  const told: Pairs = { pairs: 0, through: 0, refused: new Map(), wrong: [] };
  const save = (changes: Change[]) =>
    db.transaction((tx) =>
      savePlan(db, tx, { kind: 'test', title: 'test', createdBy: mint(), grant: { is: 'opening' }, plan: { changes } }),
    );
  /** What the last plan that did not go through was told. */
  let said = '';
  /** Whether it went through. */
  const carry = async (by: Db, planId: string, action: 'apply' | 'undo'): Promise<boolean> => {
    try {
      await carryOut(by, planId, action, null);
      told.through++;
      return true;
    } catch (error) {
      if (!(error instanceof PlanConflict)) throw error;
      said = inEnglish(error.message);
      const why = inEnglish(error.conflicts[0]!.message).replace(/“[^”]*”|\d+|Class \d|user\w+|pairs\w+/g, '…');
      told.refused.set(why, (told.refused.get(why) ?? 0) + 1);
      return false;
    }
  };
  if ((await readState(db)).get('school')!.size === 0) await carry(db, await save(opening(nextId)), 'apply');
  for (let i = 0; i < count; i++) {
    const state = await readState(db);
    const before = await checksum(db);
    const shapes = shapesOver(state);
    const made = [0, 1].map(() => ordered(randomPlan(state, shapes, 1 + r.below(5), r, nextId).changes).changes);
    const plans = await Promise.all(made.filter(({ length }) => length > 0).map(save));
    const results =
      through.length > 1
        ? await Promise.all(plans.map((id, j) => carry(through[j % through.length]!, id, 'apply')))
        : [];
    if (through.length === 1) for (const id of plans) results.push(await carry(db, id, 'apply'));
    for (const what of await broken(db)) told.wrong.push(`${what}, pair ${i}`);
    let open = shuffled(
      r,
      plans.filter((_, j) => results[j]),
    );
    told.pairs++;
    // One pair in eight stays, so that the register moves on.
    if (r.below(8) === 0) continue;
    // What the other one builds on is undone after it.
    for (let round = 0; open.length > 0 && round < 3; round++) {
      const left: string[] = [];
      for (const id of open) if (!(await carry(through[r.below(through.length)]!, id, 'undo'))) left.push(id);
      for (const what of await broken(db)) told.wrong.push(`${what}, pair ${i} undone`);
      open = left;
    }
    if (open.length > 0) told.wrong.push(`pair ${i} cannot be undone: ${said}`);
    else if ((await checksum(db)) !== before) told.wrong.push(`a table is not as before pair ${i}`);
  }
  return told;
}
