/**
 * What those who left had then, of a whole district or of some: in SQL, as an import of a hundred thousand rows reads it
 * for everybody who may come back with it (`./run bench nights`), and as the driver gives the rows.
 */
import type { Loan, SchoolClass } from '#core/entities/index';
import { groupBy } from '#core/plan/index';
import type { LeftWith } from '#core/register/returning';
import { clock } from '../clock';
import { inBatches } from '../db/batches';
import type { Db } from '../db/connection';
import { joined } from '../db/joined';

export interface Left {
  left: Map<string, LeftWith & { loans: Pick<Loan, 'id' | 'due'>[] }>;
  /** Those of their classes that still run. */
  leftClasses: Map<string, SchoolClass>;
  rollOvers: string[];
}

/** By person: the place that ended last, enrollments of classes that still run and ended with it, and their devices. */
export async function leftWith(db: Db, ids: readonly string[]): Promise<Left> {
  const none: Left = { left: new Map(), leftClasses: new Map(), rollOvers: [] };
  if (ids.length === 0) return none;
  const of = <T extends object>(statement: string) => inBatches(ids, 4000, (some) => db.rows<T>(statement, [some]));
  const [places, enrollments, loans, rollOvers] = await Promise.all([
    of<LeftWith['place'] & { personId: string }>(
      'SELECT personId, schoolId, grade, ends FROM affiliations WHERE personId IN (?) AND ends IS NOT NULL ORDER BY ends, begins, id',
    ),
    of<LeftWith['enrollments'][number] & { personId: string; ends: string }>(
      `SELECT e.personId, e.classId, e.role, e.ends FROM enrollments e JOIN classes c ON c.id = e.classId AND c.ends IS NULL
       WHERE e.personId IN (?) AND e.ends IS NOT NULL`,
    ),
    of<Pick<Loan, 'id' | 'due'> & { personId: string }>(
      'SELECT id, personId, due FROM loans WHERE personId IN (?) AND ends IS NULL AND due IS NOT NULL',
    ),
    rollOverDays(db),
  ]);
  const inClasses = groupBy(enrollments, (e) => e.personId);
  const lent = groupBy(loans, (l) => l.personId);
  const classIds = [...new Set(enrollments.map(({ classId }) => classId))];
  const classes = await inBatches(classIds, 4000, (some) =>
    db.rows<SchoolClass>('SELECT * FROM classes WHERE id IN (?)', [some]),
  );
  // The last place of each person stays in the map.
  const left = new Map(places.map(({ personId, ...place }) => [personId, place]));
  return {
    left: new Map(
      [...left].map(([id, place]) => [
        id,
        {
          place,
          enrollments: (inClasses.get(id) ?? []).filter(({ ends }) => ends === place.ends),
          loans: (lent.get(id) ?? []).map(({ id: loan, due }) => ({ id: loan, due })),
        },
      ]),
    ),
    leftClasses: new Map(classes.map((one) => [one.id, one])),
    rollOvers,
  };
}

/** Days on which a roll-over was applied that is not undone. */
async function rollOverDays(db: Db): Promise<string[]> {
  const rows = await joined(db, 'ledger', {
    fields: ['at'],
    where: { action: 'apply' },
    whose: { 'plan.kind': 'year', 'plan.status': 'applied' },
  });
  return rows.map(({ at }) => clock.dayOf(at));
}
