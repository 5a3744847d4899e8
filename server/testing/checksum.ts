/** One number for all that tables hold. The database's own CHECKSUM TABLE differs from time to time where a column is made by the database. */
import { entities, type Entity, entityNames } from '#core/entities/index';
import type { Db } from '../db/connection';

/** Over every column of every row of these entities, in any order of the rows. */
export async function checksumOf(db: Db, names: readonly Entity[] = entityNames): Promise<string> {
  const row = await db.one<Record<string, string>>(
    `SELECT ${names
      .map((name) => {
        const { table, columns } = entities[name];
        const values = ['id', ...columns].map((column) => `COALESCE(HEX(\`${column}\`), '-')`);
        return `(SELECT CONCAT(COUNT(*), ':', COALESCE(BIT_XOR(CONV(LEFT(MD5(CONCAT_WS(' ', ${values.join(', ')})), 16), 16, 10)), 0)) FROM ${table}) AS ${name}s`;
      })
      .join(', ')}`,
  );
  return Object.values(row!).join(' ');
}
