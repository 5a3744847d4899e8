/** Holds a plan where it is stored: reads what the guards of every plan ask of the register, and judges. */
import { type Change, guard, type Held } from '#core/plan/index';
import { type GuardFacts, planGuards } from '#core/register/guards';
import { personLabel } from '#core/register/index';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';
import { district } from '../district';
import { joined } from '../db/joined';
import { sizesOf } from './queries';

interface Row {
  id: string;
  personId: string;
  familyName: string;
  givenName: string;
  number: string | null;
}

/** What holds a plan of this kind, besides what its planner says. */
export async function heldByAll(db: Db, tx: Tx | undefined, kind: string, changes: readonly Change[]): Promise<Held[]> {
  const ids = (test: (change: Change) => boolean) => changes.flatMap((c) => (test(c) ? c.id : []));
  const ended = ids(({ entity, op }) => entity === 'affiliation' && op === 'end');
  const joins = changes.some(({ entity, op }) => entity === 'affiliation' && op === 'create');
  const classes = kind === 'year' ? [] : ids(({ entity, op }) => entity === 'class' && op === 'end');
  const devices = ids(({ entity, after }) => entity === 'device' && after.condition === 'retired');
  const licenses = ids(({ entity, op, after }) => entity === 'license' && op === 'update' && 'ends' in after);
  if (kind !== 'year' && !joins && [ended, classes, devices, licenses].every(({ length }) => length === 0)) return [];
  const here = await district(db, tx);
  if (!here) return [];
  const { settings, year } = here;
  const name = {
    ...({ personId: 'person.id', familyName: 'person.familyName' } as const),
    ...({ givenName: 'person.givenName', number: 'person.number' } as const),
  };
  const byRow = (rows: readonly (Row & { of: string })[]) => {
    const found = new Map<string, { id: string; personId: string; label: string }[]>();
    for (const { of, id, personId, ...who } of rows)
      found.set(of, [...(found.get(of) ?? []), { id, personId, label: personLabel(who) }]);
    return (of: string) => found.get(of) ?? [];
  };
  const sizes = kind === 'year' || (ended.length === 0 && !joins) ? [] : await sizesOf(db, tx);
  const places = new Map(
    (kind === 'year'
      ? []
      : await inBatches(ended, 4000, (some) =>
          db.models.affiliation.findAll({
            attributes: ['id', 'schoolId'],
            where: { id: [...some] },
            raw: true,
            transaction: tx,
          }),
        )
    ).map(({ id, schoolId }) => [id, schoolId]),
  );
  const seats = new Map<string, { id: string; ends: string; label: string }[]>();
  if (licenses.length > 0)
    for (const { licenseId, id, ends, closes, ...who } of await joined(
      db,
      'seat',
      {
        fields: ['id', 'licenseId', 'ends'],
        of: { ...name, closes: 'license.ends' },
        where: { licenseId: licenses },
      },
      tx,
    ))
      seats.set(licenseId, [...(seats.get(licenseId) ?? []), { id, ends: ends ?? closes, label: personLabel(who) }]);
  const facts: GuardFacts = {
    schools: new Map(sizes.map(({ id, name, size }) => [id, { name, size: Number(size) }])),
    schoolOfPlace: (id) => places.get(id) ?? null,
    studentsOf: byRow(
      await inBatches(classes, 4000, (some) =>
        joined(
          db,
          'enrollment',
          {
            fields: ['id'],
            of: { of: 'classId', ...name },
            where: { classId: some, role: 'student', ends: null },
            order: ['person.familyName', 'person.givenName'],
          },
          tx,
        ),
      ),
    ),
    holdersOf: byRow(
      await inBatches(devices, 4000, (some) =>
        joined(
          db,
          'loan',
          { fields: ['id'], of: { of: 'deviceId', ...name }, where: { deviceId: some, ends: null } },
          tx,
        ),
      ),
    ),
    seatsPast: (license, day) => (seats.get(license) ?? []).filter(({ ends }) => ends > day),
  };
  const { mostLeaving, mostJoining } = settings;
  const limits = { mostLeaving, mostJoining, yearEnds: year.ends };
  return guard({ changes: [...changes] }, planGuards(kind, facts, limits));
}
