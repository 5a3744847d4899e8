/** Takes away what has had its time: sessions, attempts, links and challenges, and browsers not seen for half a year. */
import { isoIn, nowIso } from '../clock';
import type { Db } from '../db/connection';

const dayMs = 86_400_000;

/** Returns the number of rows taken away. */
export async function sweep(db: Db): Promise<number> {
  const now = nowIso();
  const before = (days: number) => isoIn(-days * dayMs);
  const statements: [string, Record<string, string>][] = [
    ['DELETE FROM sessions WHERE expiresAt <= :now', { now }],
    ['DELETE FROM attempts WHERE until <= UTC_TIMESTAMP()', {}],
    ['DELETE FROM challenges WHERE expiresAt <= :now', { now }],
    ['DELETE FROM password_links WHERE expiresAt <= :at', { at: before(30) }],
    ['DELETE FROM known_browsers WHERE lastAt <= :at', { at: before(180) }],
    ['DELETE FROM notices WHERE at <= :at', { at: before(30) }],
    ['DELETE FROM drafts WHERE savedAt <= :at', { at: before(365) }],
  ];
  let rows = 0;
  for (const [sql, params] of statements) rows += await db.run(sql, params);
  return rows;
}
