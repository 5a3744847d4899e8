/** What a change meets where rows of its entity share nothing, see core/entities (`uniqueKeysOf`). */
import { say } from '#core/messages/say';
import { declarationOf, type Entity, fieldLabel, uniqueKeysOf } from '#core/entities/index';
import { type Change, type Conflict, groupBy, keyOf, type Value } from '#core/plan/index';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';
import { someModel } from '../db/models';

const some = 4000;
/** As the database compares names. */
const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().trimEnd();
type Row = { id: string } & Record<string, Value>;

/** Which of the changes would make a second row where one is there: the key of the database said that one would. */
export async function clashes(
  db: Db,
  tx: Tx,
  entity: Entity,
  key: string,
  changes: readonly Change[],
): Promise<Conflict[]> {
  const once = uniqueKeysOf(entity).find((of) => of.key === key);
  if (!once) return [];
  const { fields } = declarationOf(entity)!;
  const [lead] = once.fields as [string];
  const read = (where: Record<string, Value | string[]>) =>
    someModel(db.models, entity).findAll({
      attributes: ['id', ...once.fields, ...among.map(([field]) => field)],
      where,
      transaction: tx,
      raw: true,
    }) as unknown as Promise<Row[]>;
  const among = Object.entries(once.among);
  /** Null where it is not among those that share nothing, or says nothing in one of the fields. */
  const saying = (row: Partial<Row>): string | null => {
    if (!among.every(([field, value]) => (row[field] ?? null) === value)) return null;
    const values = once.fields.map((field) => {
      const value = row[field] ?? null;
      return value !== null && fields[field]!.kind === 'name' ? plain(String(value)) : value;
    });
    return values.includes(null) ? null : JSON.stringify(values);
  };
  const rows = new Map(
    (
      await inBatches(
        changes.map(({ id }) => id),
        some,
        (ids) => read({ id: ids }),
      )
    ).map((row) => [row.id, row]),
  );
  const says = changes.map(({ id, after }): Partial<Row> => ({ ...rows.get(id), ...after }));
  const there = groupBy(
    await inBatches(
      [...new Set(says.flatMap((row) => ((row[lead] ?? null) === null ? [] : String(row[lead]))))],
      some,
      (values) => read({ ...once.among, [lead]: values }),
    ),
    (row) => saying(row) ?? '',
  );
  const shown = once.fields.find((field) => fields[field]!.kind !== 'id') ?? lead;
  const seen = new Set<string>();
  return changes.flatMap((change, i) => {
    const what = saying(says[i]!);
    if (what === null) return [];
    const other = (there.get(what) ?? []).find(({ id }) => id !== change.id);
    const isTwice = seen.has(what) || other !== undefined;
    seen.add(what);
    if (!isTwice) return [];
    const row = other && `${entity}:${other.id}`;
    const value = String(says[i]![shown]);
    const message = once.message
      ? say(once.message, { value })
      : say('plan.valueTaken', { field: fieldLabel(entity, shown), value });
    return { key: keyOf(change), label: change.label, message, subject: change.subject, row };
  });
}
