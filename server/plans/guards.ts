/** Holds a plan where it is stored: reads what the guards of every plan ask of the register, and judges. */
import { type Change, guard, type Held } from '#core/plan/index';
import { type GuardFacts, planGuards } from '#core/register/guards';
import { personLabel } from '#core/register/index';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';
import { district } from '../district';

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
  type Named = {
    id: string;
    of: string;
    personId: string;
    familyName: string;
    givenName: string;
    number: string | null;
  };
  const named = async (sql: string, some: string[]) => {
    const found = new Map<string, { id: string; personId: string; label: string }[]>();
    for (const { of, id, personId, ...name } of await inBatches(some, 4000, (values) =>
      db.select<Named>(sql, { values }, tx),
    ))
      found.set(of, [...(found.get(of) ?? []), { id, personId, label: personLabel(name) }]);
    return (of: string) => found.get(of) ?? [];
  };
  const who = 'p.id AS personId, p.familyName, p.givenName, p.number';
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
    for (const { licenseId, id, ends, ...name } of await db.select<{
      licenseId: string;
      id: string;
      ends: string;
      familyName: string;
      givenName: string;
      number: string | null;
    }>(
      `SELECT x.licenseId, x.id, COALESCE(x.ends, l.ends) AS ends, p.familyName, p.givenName, p.number FROM seats x JOIN licenses l ON l.id = x.licenseId
       JOIN people p ON p.id = x.personId WHERE x.licenseId IN (:licenses)`,
      { licenses },
      tx,
    ))
      seats.set(licenseId, [...(seats.get(licenseId) ?? []), { id, ends, label: personLabel(name) }]);
  const facts: GuardFacts = {
    schools: new Map(sizes.map(({ id, name, size }) => [id, { name, size: Number(size) }])),
    schoolOfPlace: (id) => places.get(id) ?? null,
    studentsOf: await named(
      `SELECT e.classId AS \`of\`, e.id, ${who} FROM enrollments e JOIN people p ON p.id = e.personId
       WHERE e.ends IS NULL AND e.role = 'student' AND e.classId IN (:values) ORDER BY p.familyName, p.givenName`,
      classes,
    ),
    holdersOf: await named(
      `SELECT l.deviceId AS \`of\`, l.id, ${who} FROM loans l JOIN people p ON p.id = l.personId WHERE l.ends IS NULL AND l.deviceId IN (:values)`,
      devices,
    ),
    seatsPast: (license, day) => (seats.get(license) ?? []).filter(({ ends }) => ends > day),
  };
  const { mostLeaving, mostJoining } = settings;
  const limits = { mostLeaving, mostJoining, yearEnds: year.ends };
  return guard({ changes: [...changes] }, planGuards(kind, facts, limits));
}

const sizesOf = (db: Db, tx: Tx | undefined) =>
  db.select<{ id: string; name: string; size: number }>(
    `SELECT s.id, s.name, COUNT(a.id) AS size FROM schools s LEFT JOIN affiliations a ON a.schoolId = s.id AND a.ends IS NULL GROUP BY s.id, s.name`,
    {},
    tx,
  );
