/** What a change meets where rows of its entity may be open once only, see core/entities (`openOnce`). */
import { declarationOf, entityNames } from '#core/entities/index';
import { type Change, type Conflict, groupBy, keyOf } from '#core/plan/index';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';

const some = 4000;

/** Which of the changes would open a second row where one is open: the key of the database said that one would. */
export async function clashes(db: Db, tx: Tx, key: string, changes: readonly Change[]): Promise<Conflict[]> {
  const entity = entityNames.find((name) => declarationOf(name)?.facts.openOnce?.key === key);
  const { table, facts } = declarationOf(entity ?? '') ?? {};
  const once = facts?.openOnce;
  if (!once) return [];
  const [lead] = once.fields as [string];
  const columns = ['id', ...once.fields].join(', ');
  type Row = Record<string, string>;
  const saying = (row: Partial<Record<string, unknown>>) => once.fields.map((field) => String(row[field])).join(' ');
  const rows = new Map(
    (
      await inBatches(
        changes.map(({ id }) => id),
        some,
        (ids) => db.select<Row>(`SELECT ${columns} FROM ${table} WHERE id IN (:ids)`, { ids }, tx),
      )
    ).map((row) => [row.id, row]),
  );
  const says = changes.map(({ id, after }) => ({ ...rows.get(id), ...after }));
  const open = groupBy(
    await inBatches([...new Set(says.map((row) => String(row[lead])))], some, (values) =>
      db.select<Row>(`SELECT ${columns} FROM ${table} WHERE ends IS NULL AND ${lead} IN (:values)`, { values }, tx),
    ),
    saying,
  );
  const seen = new Set<string>();
  return changes.flatMap((change, i) => {
    const what = saying(says[i]!);
    const other = (open.get(what) ?? []).find(({ id }) => id !== change.id);
    const isTwice = seen.has(what) || other !== undefined;
    seen.add(what);
    if (!isTwice) return [];
    const row = other && `${entity}:${other.id}`;
    return { key: keyOf(change), label: change.label, message: once.message, subject: change.subject, row };
  });
}
