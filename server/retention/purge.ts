/**
 * Purging what is due: people who left go with every row that names them, with what plans, files and notes of Sheaf say
 * of them; then what is older than its time of the other kinds. All in one transaction, with a record of counts alone.
 * It cannot be undone; a plan of which changes were purged keeps the others.
 */
import { say } from '#core/messages/say';
import { col, fn, Op } from 'sequelize';
import { type Change, groupBy, pack, unpack } from '#core/plan/index';
import { dueFrom } from '#core/retention/index';
import { inBatches } from '../db/batches';
import { insertMany } from '../db/bulk';
import { joined } from '../db/joined';
import { namersOf, someModel, type TableName } from '../db/models';
import { addDays, startOf } from '#core/time/index';
import { clock, nowIso } from '../clock';
import type { Config } from '../config';
import type { Db, Tx } from '../db/connection';
import { district } from '../district';
import { markOf } from '../people/given';
import { enter } from '../plans/ledger';
import { mint } from '../plans/mint';
import { type Gone, leftBy } from './queries';

type Progress = (step: string, done: number, total: number) => void;

export interface Purged {
  planId: string;
  sentence: string;
  rows: number;
}

/** When the day is over. */
const dayAfter = (day: string): string => startOf(clock.zone, addDays(day, 1));

/** What stands in the place of words that named somebody. */
const blank = say('retention.aboutAPurgedPerson');
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
  const over = (kind: Parameters<typeof dueFrom>[0]) => ({ [Op.lt]: dayAfter(cutoff(kind)) });
  const upTo = { [Op.lte]: cutoff('use') };
  const { models } = db;
  progress(say('retention.purgingOldRecords'), 0, 0);
  count('requests', await models.joinRequests.destroy({ where: { settledAt: over('requests') }, transaction: tx }));
  const used = [
    await models.useDays.destroy({ where: { day: upTo }, transaction: tx }),
    await models.statements.destroy({ where: { day: upTo }, transaction: tx }),
    await models.levels.destroy({ where: { seenOn: upTo }, transaction: tx }),
    await models.missedWords.destroy({ where: { missedAt: over('use') }, transaction: tx }),
    await models.useStrays.destroy({ where: { lastOn: upTo }, transaction: tx }),
    await models.lastUses.destroy({ where: { usedOn: upTo }, transaction: tx }),
    await models.results.destroy({ where: { at: over('use') }, transaction: tx }),
  ];
  await models.signInDays.destroy({ where: { day: upTo }, transaction: tx });
  for (const n of used) count(say('retention.usageRecords'), n);
  count(say('retention.logEntries'), await models.audit.destroy({ where: { at: over('trail') }, transaction: tx }));
  // What only helped while it was new; a job keeps whom it was about.
  await models.jobs.destroy({ where: { status: { [Op.notIn]: ['waiting', 'running'] } }, transaction: tx });
  await models.prints.update({ sealedPdf: null }, { where: { fetchUntil: { [Op.lt]: nowIso() } }, transaction: tx });

  const what = [
    say('retention.peopleWhoLeft', { count: gone.length, by: cutoff('leavers') }),
    ...[...counts].filter(([, n]) => n > 0).map(([kind, n]) => say('retention.countOf', { kind, n })),
  ];
  return record(
    db,
    tx,
    by,
    say('retention.purged', { what }),
    [...counts.values()].reduce((a, b) => a + b, gone.length),
  );
}

/** Who left so long ago, without a device; and who was found to be one of them. */
async function leavers(db: Db, tx: Tx, from: string): Promise<Gone[]> {
  const found = await leftBy(db, tx, from);
  for (let last = found; last.length > 0;) {
    last = await inBatches(last, many, (some) =>
      joined(
        db,
        'person',
        {
          fields: ['id', 'role', 'number', 'givenName', 'familyName', 'email'],
          of: { username: 'allAccount.username' },
          where: { mergedInto: some.map(({ id }) => id) },
        },
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
      db.models.touched.findAll({ attributes: ['planId'], where: { personId: some }, transaction: tx, raw: true }),
    );
    const never = await db.models.plans.findAll({
      attributes: ['id'],
      where: { status: ['ready', 'set-aside'] },
      transaction: tx,
      raw: true,
    });
    const plans = [...new Set([...touched.map(({ planId }) => planId), ...never.map(({ id }) => id)])];
    for (const [i, planId] of plans.entries()) {
      this.progress(say('retention.purgingPlans'), i, plans.length);
      const chunks = await db.models.planChunks.findAll({
        attributes: ['seq', 'body'],
        where: { planId },
        transaction: tx,
        raw: true,
      });
      for (const { seq, body } of chunks) {
        const changes = unpack(body);
        const rest = changes.filter((change) => !this.isAbout(change));
        if (rest.length === changes.length) continue;
        const where = { planId, seq };
        if (rest.length > 0)
          await db.models.planChunks.update({ body: pack(rest), changes: rest.length }, { where, transaction: tx });
        else await db.models.planChunks.destroy({ where, transaction: tx });
      }
      await this.head(planId);
    }
    const isDone = { [Op.notIn]: ['open', 'purged'] };
    const files = await inBatches(plans, many, (some) =>
      db.models.intakes.findAll({
        attributes: ['id'],
        where: { planId: some, status: isDone },
        transaction: tx,
        raw: true,
      }),
    );
    const matched = await db.models.intakes.findAll({
      attributes: ['id', 'matched'],
      where: { matched: { [Op.ne]: null }, status: isDone },
      transaction: tx,
      raw: true,
    });
    const mention = matched.filter(({ matched: text }) =>
      [...text!.matchAll(/[0-9A-Z]{26}/g)].some(([id]) => this.ids.has(id)),
    );
    this.files = await emptied(db, tx, [...new Set([...files, ...mention].map(({ id }) => id))]);
  }

  /** The words beside a plan's changes. */
  private async head(planId: string): Promise<void> {
    const { db, tx } = this;
    const row = await db.models.plans.findOne({
      attributes: ['title', 'held', 'releases', 'takenOut', 'waiting'],
      where: { id: planId },
      transaction: tx,
      raw: true,
    });
    if (!row || !this.names(JSON.stringify(row))) return;
    const list = (text: string) =>
      JSON.stringify((JSON.parse(text) as unknown[]).filter((one) => !this.names(JSON.stringify(one))));
    const out = JSON.parse(row.takenOut) as Record<string, string[]>;
    const takenOut = Object.fromEntries(
      Object.entries(out).map(([key, values]) => [key, values.filter((value) => !this.names(value))]),
    );
    await db.models.plans.update(
      {
        title: this.names(row.title) ? say('retention.aPlan', { about: blank }) : row.title,
        held: list(row.held),
        releases: list(row.releases),
        takenOut: JSON.stringify(takenOut),
        waiting: list(row.waiting),
      },
      { where: { id: planId }, transaction: tx },
    );
  }

  /** Every row that is theirs, of every table that has such rows; their usernames stay taken. The number of rows. */
  async rows(): Promise<number> {
    const { db, tx } = this;
    const theirs = namersOf('person').filter(({ name, stays }) => !stays && name !== 'person');
    let count = 0;
    const del = async (name: TableName, field: string, more: Record<string, string> = {}, of = [...this.ids]) => {
      for (let at = 0; at < of.length; at += many)
        count += await someModel(db.models, name).destroy({
          where: { ...more, [field]: of.slice(at, at + many) },
          transaction: tx,
        });
    };
    await insertMany(
      db,
      'givenUsernames',
      this.gone.flatMap(({ username }) =>
        username === null ? [] : [{ username: markOf(this.config.key, username), personKey: '' }],
      ),
      tx,
      'skip',
    );
    const accounts = await this.inGone((some) =>
      db.models.account.findAll({ attributes: ['id'], where: { personId: some }, transaction: tx, raw: true }),
    );
    for (const { name, field } of namersOf('account'))
      await del(
        name,
        field,
        {},
        accounts.map(({ id }) => id),
      );
    for (const [i, { name, field }] of theirs.entries()) {
      this.progress(say('retention.purgingRows'), i, theirs.length);
      await del(name, field);
    }
    await del('directory', 'id', { kind: 'user' });
    // Those who were one of them refer to them.
    await del('person', 'mergedInto');
    await del('person', 'id');
    return count;
  }

  /** Words that Sheaf wrote down by the way. */
  async notes(): Promise<void> {
    const { db, tx } = this;
    const pass = async (name: TableName, key: string, columns: string[], set: Record<string, unknown> | 'delete') => {
      const model = someModel(db.models, name);
      const rows = (await model.findAll({
        attributes: [key, ...columns],
        transaction: tx,
        raw: true,
      })) as unknown as Record<string, string | null>[];
      const keys = rows.flatMap((row) =>
        this.names(columns.map((column) => row[column] ?? '').join(' ')) ? row[key]! : [],
      );
      for (let at = 0; at < keys.length; at += many) {
        const where = { [key]: keys.slice(at, at + many) };
        if (set === 'delete') await model.destroy({ where, transaction: tx });
        else await model.update(set as never, { where, transaction: tx });
      }
    };
    this.progress(say('retention.purgingNotes'), 0, 0);
    await pass('audit', 'id', ['detail'], { detail: blank });
    await pass('prints', 'id', ['what'], { what: blank, sealedPdf: null });
    await pass('ledger', 'id', ['sentence'], { sentence: blank });
    await pass('scanStations', 'id', ['state', 'said'], 'delete');
    await pass('yearDrafts', 'about', ['draft'], 'delete');
    await pass('keptSheaves', 'id', ['name'], { name: fn('CONCAT', blank, col('id')) });
    await pass('joinRequests', 'id', ['familyName', 'givenName', 'number', 'note', 'why'], {
      ...{ familyName: '-', givenName: '-', number: null, birthDate: null, email: null, note: null, why: null },
    });
  }
}

/** Lists lose their bytes and all that was made of them; that there was one stays. */
async function emptied(db: Db, tx: Tx, ids: readonly string[]): Promise<number> {
  await db.models.intakes.update(
    {
      ...{ bytes: Buffer.alloc(0), size: 0, fileName: say('retention.aPurgedList'), draft: '{}', status: 'purged' },
      ...{ matched: null, unanswered: null },
    },
    { where: { id: [...ids] }, transaction: tx },
  );
  return ids.length;
}

/** Done with, and older than their time; the last one of a feed stays, since the next one is compared with it. */
async function oldFiles(db: Db, tx: Tx, from: string): Promise<number> {
  const { intakes } = db.models;
  const rows = await intakes.findAll({
    attributes: ['id', 'feedId'],
    where: { status: { [Op.notIn]: ['open', 'purged'] }, createdAt: { [Op.lt]: dayAfter(from) } },
    transaction: tx,
    raw: true,
  });
  const last = new Set<string>();
  for (const feedId of new Set(rows.flatMap(({ feedId: id }) => id ?? [])))
    last.add((await intakes.max('id', { where: { feedId }, transaction: tx })) as string);
  return emptied(
    db,
    tx,
    rows.flatMap(({ id }) => (last.has(id) ? [] : id)),
  );
}

/** In the ledger, as a plan without changes: what was purged, by whom, and when. */
async function record(db: Db, tx: Tx, by: string, sentence: string, rows: number): Promise<Purged> {
  const planId = mint();
  await db.models.plans.create(
    {
      ...{
        id: planId,
        kind: 'purge',
        title: say('retention.purgeOfOldRecords'),
        status: 'purged',
        createdBy: by,
        createdAt: nowIso(),
      },
      ...{ changes: 0, summary: JSON.stringify({ total: 0, kinds: [], sentence }) },
      ...{ held: '[]', releases: '[]', takenOut: '{}', waiting: '[]' },
    },
    { transaction: tx },
  );
  await enter(db, tx, { id: mint(), planId, action: 'purge', byPersonId: by, changes: rows, sentence });
  return { planId, sentence, rows };
}
