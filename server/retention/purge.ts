/**
 * Purging what is due: people who left go with every row that names them, with what plans, files and notes of Sheaf say
 * of them; then what is older than its time of the other kinds. All in one transaction, with a record of counts alone.
 * It cannot be undone; a plan of which changes were purged keeps the others.
 */
import { type Change, groupBy, pack, unpack } from '#core/plan/index';
import { dueFrom } from '#core/retention/index';
import { inBatches } from '../db/batches';
import { namersOf } from '../db/models';
import { addDays, startOf } from '#core/time/index';
import { clock, nowIso } from '../clock';
import type { Config } from '../config';
import type { Db, Tx } from '../db/connection';
import { district } from '../district';
import { markOf } from '../people/given';
import { enter } from '../plans/ledger';
import { mint } from '../plans/mint';

interface Gone {
  id: string;
  role: string;
  number: string | null;
  givenName: string;
  familyName: string;
  email: string | null;
  username: string | null;
}
type Progress = (step: string, done: number, total: number) => void;

export interface Purged {
  planId: string;
  sentence: string;
  rows: number;
}

/** When the day is over. */
const dayAfter = (day: string): string => startOf(clock.zone, addDays(day, 1));

/** What stands in the place of words that named somebody. */
const blank = 'about somebody who was purged';
const many = 2000;

export async function purge(db: Db, config: Config, by: string, tx: Tx, progress: Progress): Promise<Purged> {
  const { settings } = (await district(db, tx))!;
  const cutoff = (kind: Parameters<typeof dueFrom>[0]) => dueFrom(kind, settings.retention, config.today());
  const gone = await leavers(db, tx, cutoff('leavers'));
  const counts = new Map<string, number>();
  const count = (what: string, n: number) => counts.set(what, (counts.get(what) ?? 0) + n);
  const purger = new Purger(db, config, tx, gone, progress);
  if (gone.length > 0) {
    await purger.plans();
    count('rows', await purger.rows());
    await purger.notes();
  }
  count('lists', purger.files + (await oldFiles(db, tx, cutoff('files'))));
  const older = async (what: string, sql: string, kind: Parameters<typeof dueFrom>[0]) =>
    count(what, await db.update(sql, [dayAfter(cutoff(kind))], tx));
  progress('purging what is old', 0, 0);
  await older('requests', 'DELETE FROM join_requests WHERE settledAt < ?', 'requests');
  for (const [table, column] of [
    ['use_days', 'day'],
    ['statements', 'day'],
    ['levels', 'seenOn'],
    ['use_strays', 'lastOn'],
    ['last_uses', 'usedOn'],
  ] as const)
    count('records of use', await db.update(`DELETE FROM ${table} WHERE ${column} <= ?`, [cutoff('use')], tx));
  await older('records of use', 'DELETE FROM results WHERE at < ?', 'use');
  await older('entries of the trail', 'DELETE FROM audit WHERE at < ?', 'trail');
  // What only helped while it was new; a job keeps whom it was about.
  await db.run("DELETE FROM jobs WHERE status NOT IN ('waiting', 'running')", {}, tx);
  await db.run('UPDATE prints SET sealedPdf = NULL WHERE fetchUntil < :now', { now: nowIso() }, tx);

  const said = [
    `${gone.length.toLocaleString('en-US')} ${gone.length === 1 ? 'person' : 'people'} who left by ${cutoff('leavers')}`,
    ...[...counts].filter(([, n]) => n > 0).map(([what, n]) => `${n.toLocaleString('en-US')} ${what}`),
  ].join(', ');
  return record(
    db,
    tx,
    by,
    `Purged ${said}. It cannot be undone.`,
    [...counts.values()].reduce((a, b) => a + b, gone.length),
  );
}

/** Who left so long ago, without a device; and who was found to be one of them. */
async function leavers(db: Db, tx: Tx, from: string): Promise<Gone[]> {
  const fields = 'p.id, p.role, p.number, p.givenName, p.familyName, p.email, ac.username';
  const found = await db.select<Gone>(
    `SELECT ${fields} FROM people p LEFT JOIN accounts ac ON ac.personId = p.id WHERE p.id IN (SELECT x.id FROM (SELECT q.id FROM people q JOIN affiliations a ON a.personId = q.id WHERE q.status = 'left'
       GROUP BY q.id HAVING SUM(a.ends IS NULL) = 0 AND MAX(a.ends) <= :from) x) AND NOT EXISTS (SELECT 1 FROM loans l WHERE l.personId = p.id AND l.ends IS NULL) FOR UPDATE`,
    { from },
    tx,
  );
  for (let last = found; last.length > 0;) {
    last = await inBatches(last, many, (some) =>
      db.select<Gone>(
        `SELECT ${fields} FROM people p LEFT JOIN accounts ac ON ac.personId = p.id WHERE p.mergedInto IN (:some)`,
        { some: some.map(({ id }) => id) },
        tx,
      ),
    );
    found.push(...last);
  }
  return found;
}

/** In small letters. */
const wordsOf = (text: string): string[] => text.toLowerCase().split(/[^\p{L}\p{N}'’-]+/u);

class Purger {
  private readonly ids: Set<string>;
  /** By the first word of their family name. */
  private readonly namesakes: Map<string, Gone[]>;
  private readonly numbers: Set<string>;
  /** Lists that were emptied. */
  files = 0;

  constructor(
    private readonly db: Db,
    private readonly config: Config,
    private readonly tx: Tx,
    private readonly gone: readonly Gone[],
    private readonly progress: Progress,
  ) {
    this.ids = new Set(gone.map(({ id }) => id));
    this.numbers = new Set(
      gone.flatMap(({ number, username, email }) => [number, username, email].filter((v) => v !== null)),
    );
    this.namesakes = groupBy(gone, ({ familyName }) => wordsOf(familyName).find(Boolean) ?? '');
  }

  private inGone<T>(work: (some: string[]) => Promise<T[]>): Promise<T[]> {
    return inBatches([...this.ids], many, work);
  }

  /** Whether a text names one of them: an id, a number or address, or given and family name both. */
  private names(text: string): boolean {
    for (const [id] of text.matchAll(/[0-9A-Z]{26}/g)) if (this.ids.has(id)) return true;
    for (const [word] of text.matchAll(/[^\s,;:()"“”·]+/g)) if (this.numbers.has(word.replace(/\.$/, ''))) return true;
    const low = text.toLowerCase();
    const words = new Set(wordsOf(text)).add('');
    const has = (name: string) => (/[^\p{L}\p{N}'’-]/u.test(name) ? low.includes(name) : words.has(name));
    for (const word of words)
      for (const { familyName, givenName } of this.namesakes.get(word) ?? [])
        if (has(familyName.toLowerCase()) && has(givenName.toLowerCase())) return true;
    return false;
  }

  private isAbout({ id, subject, before, after }: Change): boolean {
    return (
      this.ids.has(subject) ||
      this.ids.has(id) ||
      [before, after].some(
        ({ personId, mergedInto }) => this.ids.has(String(personId)) || this.ids.has(String(mergedInto)),
      )
    );
  }

  /** What plans say of them: those that were applied, by whom they touched, and those that never were. */
  async plans(): Promise<void> {
    const { db, tx } = this;
    const touched = await this.inGone((some) =>
      db.select<{ id: string }>('SELECT DISTINCT planId AS id FROM touched WHERE personId IN (:some)', { some }, tx),
    );
    const never = await db.select<{ id: string }>(
      "SELECT id FROM plans WHERE status IN ('ready', 'set-aside')",
      {},
      tx,
    );
    const plans = [...new Set([...touched, ...never].map(({ id }) => id))];
    for (const [i, planId] of plans.entries()) {
      this.progress('purging what plans say', i, plans.length);
      const chunks = await db.select<{ seq: number; body: string }>(
        'SELECT seq, body FROM plan_chunks WHERE planId = :planId',
        { planId },
        tx,
      );
      for (const { seq, body } of chunks) {
        const changes = unpack(body);
        const rest = changes.filter((change) => !this.isAbout(change));
        if (rest.length === changes.length) continue;
        if (rest.length > 0)
          await db.run(
            'UPDATE plan_chunks SET body = :body, changes = :n WHERE planId = :planId AND seq = :seq',
            { body: pack(rest), n: rest.length, planId, seq },
            tx,
          );
        else await db.run('DELETE FROM plan_chunks WHERE planId = :planId AND seq = :seq', { planId, seq }, tx);
      }
      await this.head(planId);
    }
    const files = await inBatches(plans, many, (some) =>
      db.select<{ id: string }>(
        "SELECT id FROM intakes WHERE planId IN (:some) AND status NOT IN ('open', 'purged')",
        { some },
        tx,
      ),
    );
    const matched = await db.select<{ id: string; matched: string }>(
      "SELECT id, matched FROM intakes WHERE matched IS NOT NULL AND status NOT IN ('open', 'purged')",
      {},
      tx,
    );
    const mention = matched.filter(({ matched: text }) =>
      [...text.matchAll(/[0-9A-Z]{26}/g)].some(([id]) => this.ids.has(id)),
    );
    this.files = await emptied(db, tx, [...new Set([...files, ...mention].map(({ id }) => id))]);
  }

  /** The words beside a plan's changes. */
  private async head(planId: string): Promise<void> {
    const { db, tx } = this;
    const row = await db.one<Record<'title' | 'held' | 'releases' | 'takenOut' | 'waiting', string>>(
      'SELECT title, held, releases, takenOut, waiting FROM plans WHERE id = :planId',
      { planId },
      tx,
    );
    if (!row || !this.names(JSON.stringify(row))) return;
    const list = (text: string) =>
      JSON.stringify((JSON.parse(text) as unknown[]).filter((one) => !this.names(JSON.stringify(one))));
    const out = JSON.parse(row.takenOut) as Record<string, string[]>;
    const takenOut = Object.fromEntries(
      Object.entries(out).map(([key, values]) => [key, values.filter((value) => !this.names(value))]),
    );
    await db.run(
      'UPDATE plans SET title = :title, held = :held, releases = :releases, takenOut = :takenOut, waiting = :waiting WHERE id = :planId',
      {
        title: this.names(row.title) ? `A plan ${blank}` : row.title,
        held: list(row.held),
        releases: list(row.releases),
        takenOut: JSON.stringify(takenOut),
        waiting: list(row.waiting),
        planId,
      },
      tx,
    );
  }

  /** Every row that is theirs, of every table that has such rows; their usernames stay taken. The number of rows. */
  async rows(): Promise<number> {
    const { db, tx } = this;
    const theirs = namersOf('person').filter(({ table, stays }) => !stays && table !== 'people');
    let count = 0;
    const del = async (table: string, condition: string) => {
      for (let at = 0; at < this.gone.length; at += many) {
        const ids = this.gone.slice(at, at + many).map(({ id }) => id);
        count += await db.update(
          `DELETE FROM \`${table}\` WHERE ${condition.replace('?', ids.map(() => '?').join(', '))}`,
          ids,
          tx,
        );
      }
    };
    await db.batch(
      'INSERT IGNORE INTO given_usernames (username, personKey) VALUES (?, ?)',
      this.gone.flatMap(({ username }) => (username === null ? [] : [[markOf(this.config.key, username), '']])),
      tx,
    );
    for (const { table, field } of namersOf('account'))
      await del(table, `\`${field}\` IN (SELECT id FROM accounts WHERE personId IN (?))`);
    for (const [i, { table, field }] of theirs.entries()) {
      this.progress('purging rows', i, theirs.length);
      await del(table, `\`${field}\` IN (?)`);
    }
    await del('directory_items', "kind = 'user' AND id IN (?)");
    // Those who were one of them refer to them.
    await del('people', 'mergedInto IN (?)');
    await del('people', 'id IN (?)');
    return count;
  }

  /** Words that Sheaf wrote down by the way. */
  async notes(): Promise<void> {
    const { db, tx } = this;
    const pass = async (table: string, key: string, columns: string[], set: string) => {
      const rows = await db.select<Record<string, string | null>>(
        `SELECT ${[key, ...columns].join(', ')} FROM ${table}`,
        {},
        tx,
      );
      const keys = rows.flatMap((row) =>
        this.names(columns.map((column) => row[column] ?? '').join(' ')) ? row[key]! : [],
      );
      for (let at = 0; at < keys.length; at += many)
        await db.run(`${set} WHERE ${key} IN (:some)`, { some: keys.slice(at, at + many), blank }, tx);
    };
    this.progress('purging notes', 0, 0);
    await pass('audit', 'id', ['detail'], 'UPDATE audit SET detail = :blank');
    await pass('prints', 'id', ['what'], 'UPDATE prints SET what = :blank, sealedPdf = NULL');
    await pass('ledger', 'id', ['sentence'], 'UPDATE ledger SET sentence = :blank');
    await pass('scan_stations', 'id', ['state', 'said'], 'DELETE FROM scan_stations');
    await pass('year_drafts', 'about', ['draft'], 'DELETE FROM year_drafts');
    await pass('kept_sheaves', 'id', ['name'], 'UPDATE kept_sheaves SET name = CONCAT(:blank, id)');
    await pass(
      'join_requests',
      'id',
      ['familyName', 'givenName', 'number', 'note', 'why'],
      "UPDATE join_requests SET familyName = '-', givenName = '-', number = NULL, birthDate = NULL, email = NULL, note = NULL, why = NULL",
    );
  }
}

/** Lists lose their bytes and all that was made of them; that there was one stays. */
async function emptied(db: Db, tx: Tx, ids: readonly string[]): Promise<number> {
  for (const id of ids)
    await db.run(
      "UPDATE intakes SET bytes = '', size = 0, fileName = 'a purged list', draft = '{}', matched = NULL, unanswered = NULL, status = 'purged' WHERE id = :id",
      { id },
      tx,
    );
  return ids.length;
}

/** Done with, and older than their time; the last one of a feed stays, since the next one is compared with it. */
async function oldFiles(db: Db, tx: Tx, from: string): Promise<number> {
  const rows = await db.select<{ id: string }>(
    `SELECT i.id FROM intakes i WHERE i.status NOT IN ('open', 'purged') AND i.createdAt < :until
       AND (i.feedId IS NULL OR EXISTS (SELECT 1 FROM intakes n WHERE n.feedId = i.feedId AND n.id > i.id))`,
    { until: dayAfter(from) },
    tx,
  );
  return emptied(
    db,
    tx,
    rows.map(({ id }) => id),
  );
}

/** In the ledger, as a plan without changes: what was purged, by whom, and when. */
async function record(db: Db, tx: Tx, by: string, sentence: string, rows: number): Promise<Purged> {
  const planId = mint();
  await db.run(
    `INSERT INTO plans (id, kind, title, status, createdBy, createdAt, changes, summary, held, releases, takenOut, waiting)
     VALUES (:planId, 'purge', 'Purge of what was due', 'purged', :by, :at, 0, :summary, '[]', '[]', '{}', '[]')`,
    { planId, by, at: nowIso(), summary: JSON.stringify({ total: 0, kinds: [], sentence }) },
    tx,
  );
  await enter(db, tx, { id: mint(), planId, action: 'purge', byPersonId: by, changes: rows, sentence });
  return { planId, sentence, rows };
}
