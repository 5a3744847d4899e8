/** How things stand with the directory, and when it is sent to without being asked. */
import type { DirectoryState } from '../contract';
import { nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { enqueue } from '../jobs/queue';

export async function directoryState(db: Db, config: Config): Promise<DirectoryState> {
  const rows = await db.select<{ kind: string; state: string; n: number }>(
    'SELECT kind, state, COUNT(*) AS n FROM directory_items GROUP BY kind, state',
  );
  const of = (kind: string) => {
    const count = (...states: string[]) =>
      rows.reduce((sum, row) => (row.kind === kind && states.includes(row.state) ? sum + Number(row.n) : sum), 0);
    return { done: count('done'), due: count('due', 'drift'), failed: count('failed') };
  };
  const failures = await db.select<DirectoryState['failures'][number]>(
    "SELECT label, COALESCE(lastError, '') AS message FROM directory_items WHERE state = 'failed' ORDER BY label LIMIT 100",
  );
  const last = await db.one<{ at: string | null }>('SELECT MAX(sentAt) AS at FROM directory_items');
  return {
    url: config.directory?.url ?? null,
    people: of('User'),
    classes: of('Group'),
    failures,
    lastSentAt: last?.at ?? null,
  };
}

/** What was refused is tried again as well when somebody asks. */
export const againWhatFailed = (db: Db): Promise<number> =>
  db.run("UPDATE directory_items SET state = 'due', lastError = NULL WHERE state = 'failed'");

let mark: number | null = null;
let lookedAt = -Infinity;
let begunAt = -Infinity;
const everyMs = 20_000;
const againMs = 60_000;

/**
 * Begins sending when the ledger grew since the last time, once the directory was sent to at all; what was left
 * waiting is taken up again after a minute. At most one job waits or runs, whatever process asks.
 */
export async function enqueueDue(db: Db, config: Config): Promise<void> {
  if (!config.directory || performance.now() - lookedAt < everyMs) return;
  const waited = performance.now() - begunAt > againMs;
  lookedAt = performance.now();
  const now = await db.one<{ mark: number; began: number; due: number }>(
    `SELECT (SELECT version FROM register) AS mark, EXISTS (SELECT 1 FROM directory_items) AS began,
       EXISTS (SELECT 1 FROM directory_items WHERE state IN ('due', 'drift')) AS due`,
  );
  if (!now || now.began === 0) return;
  const grew = now.mark !== mark;
  if (!grew && !(now.due === 1 && waited)) return;
  const open = await db.one<{ n: number }>(
    "SELECT COUNT(*) AS n FROM jobs WHERE kind = 'directory.send' AND status IN ('waiting', 'running')",
  );
  if ((open?.n ?? 0) > 0) return;
  mark = now.mark;
  begunAt = performance.now();
  const by = await db.models.account.findOne({
    attributes: ['personId'],
    where: { role: 'district', status: 'active' },
    order: ['id'],
    raw: true,
  });
  if (by) await enqueue(db, 'directory.send', { since: nowIso() }, by.personId);
}
