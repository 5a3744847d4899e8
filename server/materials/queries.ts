/** Work as it is set for one child, by class, by group or by name; and who finished what since it opened: the best of many results. */
import type { SetWork } from '#core/entities/index';
import type { MyWork } from '../contract';
import { orNone } from '../db/batches';
import type { Db } from '../db/connection';

export type MyRow = SetWork & { kind: MyWork['kind']; needs: string | null; address: string; className: string };

/** Groups by a rule are across classes and cannot be set work, so who is in a group stands in a row. */
const forMe = `SELECT w.*, m.kind, m.needs, m.address, c.name AS className FROM enrollments e JOIN classes c ON c.id = e.classId AND c.ends IS NULL
  JOIN set_work w ON w.classId = c.id AND w.ends IS NULL JOIN materials m ON m.id = w.materialId
  WHERE e.personId = :me AND e.ends IS NULL AND e.role = 'student'
    AND (w.whom = 'class' OR (w.whom = 'some' AND EXISTS (SELECT 1 FROM assignees a WHERE a.workId = w.id AND a.personId = :me))
      OR (w.whom = 'group' AND EXISTS (SELECT 1 FROM memberships gm JOIN class_groups g ON g.id = gm.groupId AND g.ends IS NULL WHERE gm.groupId = w.groupId AND gm.personId = :me AND gm.ends IS NULL)))`;

/** What closed before `since` left away, with when they finished it and their best share. */
export const workFor = (
  db: Db,
  me: string,
  since: string,
): Promise<(MyRow & { doneAt: string | null; permille: number | null })[]> =>
  db.select(
    `SELECT x.*, (SELECT MIN(r.at) FROM results r WHERE r.materialId = x.materialId AND r.personId = :me AND r.finished AND r.at >= x.opensAt) AS doneAt,
       (SELECT MAX(r.permille) FROM results r WHERE r.materialId = x.materialId AND r.personId = :me AND r.at >= x.opensAt) AS permille
     FROM (${forMe} AND (w.closesAt IS NULL OR w.closesAt > :since)) x ORDER BY x.opensAt LIMIT 200`,
    { me, since },
  );
export const workForOne = (db: Db, me: string, id: string): Promise<MyRow | null> =>
  db.one(`${forMe} AND w.id = :id`, { me, id });

export interface Result {
  doneAt: string | null;
  permille: number | null;
  seconds: number | null;
}
/** By piece and person: the first moment, the best share, the time. */
export const finishedWork = (db: Db, ids: string[]): Promise<(Result & { id: string; personId: string })[]> =>
  db.select(
    `SELECT w.id, r.personId, MIN(IF(r.finished, r.at, NULL)) AS doneAt, MAX(r.permille) AS permille, SUM(r.seconds) AS seconds FROM set_work w JOIN results r ON r.materialId = w.materialId AND r.at >= w.opensAt
     WHERE w.id IN (:ids) GROUP BY w.id, r.personId`,
    { ids: orNone(ids) },
  );

/** By material: how many classes it is set for. */
export async function classesSet(db: Db): Promise<Map<string, number>> {
  const rows = await db.select<{ id: string; n: number }>(
    'SELECT materialId AS id, COUNT(DISTINCT classId) AS n FROM set_work WHERE ends IS NULL GROUP BY materialId',
  );
  return new Map(rows.map(({ id, n }) => [id, Number(n)]));
}
