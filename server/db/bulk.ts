/** Many rows of a table at once, by the driver's own batches: what models would write as one long text. */
import type { Db, Tx } from './connection';
import { declared, type Row, type TableName } from './models';

/** What a field becomes where the row is there already: what the new one says, also where it says nothing; both added; the greater one; what the new one says, if anything. */
const merges = {
  anew: (field: string) => `VALUES(${field})`,
  sum: (field: string) => `${field} + VALUES(${field})`,
  greatest: (field: string) => `GREATEST(${field}, VALUES(${field}))`,
  said: (field: string) => `COALESCE(VALUES(${field}), ${field})`,
};
type Merge = keyof typeof merges;

/** What happens to a row that is there already by one of its keys: 'refuse' throws, 'skip' leaves it as it is, and fields are merged as they are told. */
type Twice<N extends TableName> = 'refuse' | 'skip' | Partial<Record<keyof Row<N>, Merge>>;
const quoted = (field: string) => `\`${field}\``;

/** Rows as lists of values, in the order of the fields. */
export async function insertRows<N extends TableName>(
  db: Db,
  name: N,
  fields: readonly string[],
  rows: unknown[][],
  tx: Tx,
  twice: Twice<N> = 'refuse',
): Promise<void> {
  const merged =
    typeof twice === 'string'
      ? ''
      : ` ON DUPLICATE KEY UPDATE ${Object.entries<Merge>(twice as Record<string, Merge>)
          .map(([field, how]) => `${quoted(field)} = ${merges[how](quoted(field))}`)
          .join(', ')}`;
  await db.batch(
    `INSERT ${twice === 'skip' ? 'IGNORE ' : ''}INTO ${declared[name].table} (${fields.map(quoted).join(', ')}) VALUES (${fields.map(() => '?').join(', ')})${merged}`,
    rows,
    tx,
  );
}

/** `rows`: each with the same fields. */
export async function insertMany<N extends TableName>(
  db: Db,
  name: N,
  rows: readonly Partial<Row<N>>[],
  tx: Tx,
  twice: Twice<N> = 'refuse',
): Promise<void> {
  const fields = Object.keys(rows[0] ?? {}) as (keyof Row<N> & string)[];
  const values = rows.map((row) => fields.map((field) => row[field] ?? null));
  if (values.length > 0) await insertRows(db, name, fields, values, tx, twice);
}
