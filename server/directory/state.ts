/** How things stand with the directory, and when it is sent to without being asked. */
import type { DirectoryState } from '../contract';
import { nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { enqueue } from '../jobs/queue';
import { versionNow } from '../plans/ledger';

export async function directoryState(db: Db, config: Config): Promise<DirectoryState> {
  const rows = await db.models.directory.count({ group: ['kind', 'state'] });
  const of = (kind: string) => {
    const count = (...states: string[]) =>
      rows.reduce((sum, row) => (row.kind === kind && states.includes(String(row.state)) ? sum + row.count : sum), 0);
    return { done: count('done'), due: count('due', 'drift'), failed: count('failed') };
  };
  const failures = await db.models.directory.findAll({
    attributes: ['label', 'lastError'],
    where: { state: 'failed' },
    order: ['label'],
    limit: 100,
    raw: true,
  });
  const lastSentAt = (await db.models.directory.max('sentAt')) as string | null;
  return {
    url: config.directory?.url ?? null,
    people: of('User'),
    classes: of('Group'),
    failures: failures.map(({ label, lastError }) => ({ label, message: lastError ?? '' })),
    lastSentAt,
  };
}

/** What was refused is tried again as well when somebody asks. */
export const againWhatFailed = async (db: Db): Promise<number> =>
  (await db.models.directory.update({ state: 'due', lastError: null }, { where: { state: 'failed' } }))[0];

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
  const [version, began, due] = await Promise.all([
    versionNow(db),
    db.models.directory.findOne({ attributes: ['id'] }),
    db.models.directory.findOne({ attributes: ['id'], where: { state: ['due', 'drift'] } }),
  ]);
  if (!began) return;
  const grew = version !== mark;
  if (!grew && !(due && waited)) return;
  const open = await db.models.jobs.count({ where: { kind: 'directory.send', status: ['waiting', 'running'] } });
  if (open > 0) return;
  mark = version;
  begunAt = performance.now();
  const by = await db.models.account.findOne({
    attributes: ['personId'],
    where: { role: 'district', status: 'active' },
    order: ['id'],
    raw: true,
  });
  if (by) await enqueue(db, 'directory.send', { since: nowIso() }, by.personId);
}
