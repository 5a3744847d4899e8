/** Looks at a feed: what is new in its folder or at its service becomes a file of the intake, in the place of what still waited. */
import { say } from '#core/messages/say';
import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Op } from 'sequelize';
import { may } from '#core/authority/index';
import { Refusal } from '#core/tabular/decode';
import { actorOf } from '../authority/actor';
import type { Config } from '../config';
import { clock, nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';
import { Reader } from '../intake/reader';
import { contentHash, storeIntake } from '../intake/store';
import { feedById, type FeedRecord } from './store';
import { reachedFolder } from './reach';
import { fetchBundle } from './service';
import { spokenName } from '#core/register/index';

const largestFile = 64_000_000;

/**
 * Throws Refusal; the feed then carries the reason. A new file is seen by nobody until all that belongs to it is
 * written, `ending` with it, which is told its id (null: nothing is new): what was killed before is done whole next time.
 */
export async function takeFeed(
  db: Db,
  config: Config,
  feedId: string,
  progress: (step: string, done: number) => void,
  ending: (tx: Tx, intakeId: string | null) => Promise<void>,
): Promise<void> {
  const feed = await feedById(db, config, feedId);
  if (!feed) throw new Refusal('no-feed', say('feeds.thisFeedNoLongerExists'));
  try {
    await mustStillAnswer(db, feed);
    const found =
      feed.way === 'folder' ? await newestFile(db, config, feed) : await fromService(config, feed, progress);
    const hash = found && contentHash(found.bytes);
    const isKnown = hash && (await isTaken(db, feedId, hash));
    const end = (intakeId: string | null) =>
      db.transaction(async (tx) => {
        await db.models.feeds.update(
          { lastRunAt: nowIso(), lastError: null },
          { where: { id: feedId }, transaction: tx },
        );
        if (intakeId) await supersede(db, feedId, intakeId, tx);
        await ending(tx, intakeId);
      });
    if (!found || isKnown) return await end(null);
    await db.models.intakes.destroy({ where: { feedId, status: coming } });
    const intakeId = await storeIntake(db, {
      fileName: found.name,
      bytes: found.bytes,
      schoolId: feed.settings.schoolId,
      complete: feed.settings.complete,
      feedId,
      by: feed.createdBy,
      isComing: true,
    });
    await new Reader(db, config).carry(intakeId);
    await end(intakeId);
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    await db.models.feeds.update({ lastRunAt: nowIso(), lastError: message }, { where: { id: feedId } });
    throw error;
  }
}

/** A feed does what the person who answers for it may do now; when they may no longer keep feeds, somebody takes over. */
async function mustStillAnswer(db: Db, { createdBy }: FeedRecord): Promise<void> {
  const actor = await actorOf(db, createdBy);
  if (actor && may(actor, 'feeds.keep')) return;
  const who = await db.models.person.findByPk(createdBy);
  throw new Refusal(
    'no-owner',
    say('feeds.mayNoLongerRunThis', { who: who ? spokenName(who) : say('feeds.thePersonWhoSetIt') }),
  );
}

const coming = 'coming';
const isTaken = async (db: Db, feedId: string, contentHash: string): Promise<boolean> =>
  (await db.models.intakes.count({ where: { feedId, contentHash, status: { [Op.ne]: coming } } })) > 0;

/** A source that sends everything each time: what it sent before and nobody applied is no longer of use. */
async function supersede(db: Db, feedId: string, intakeId: string, tx: Tx): Promise<void> {
  await db.models.intakes.update({ status: 'open' }, { where: { id: intakeId }, transaction: tx });
  const planned = await db.models.intakes.findAll({
    attributes: ['planId'],
    where: { feedId, id: { [Op.ne]: intakeId }, status: 'planned' },
    transaction: tx,
    raw: true,
  });
  await db.models.plans.update(
    { status: 'set-aside' },
    { where: { id: planned.flatMap(({ planId }) => planId ?? []), status: 'ready' }, transaction: tx },
  );
  await db.models.intakes.update(
    { status: 'set-aside' },
    { where: { feedId, id: { [Op.ne]: intakeId }, status: ['open', 'planned'] }, transaction: tx },
  );
}

interface Found {
  name: string;
  bytes: Buffer;
}

/** The newest file of the folder that the feed has not taken yet. */
async function newestFile(db: Db, config: Config, { id, settings }: FeedRecord): Promise<Found | null> {
  const folder = await reachedFolder(settings.folder!, config);
  let names: string[];
  try {
    names = await readdir(folder);
  } catch {
    throw new Refusal('folder', say('feeds.couldntOpenTheFolderCheck', { folder }));
  }
  const files = [];
  for (const name of names.filter((one) => /\.(csv|tsv|txt|xlsx|zip)$/i.test(one))) {
    const facts = await stat(join(folder, name));
    if (facts.isFile() && facts.size <= largestFile) files.push({ name, at: facts.mtimeMs });
  }
  for (const { name } of files.sort((a, b) => b.at - a.at).slice(0, 5)) {
    const bytes = await readFile(join(folder, name));
    // Older ones are behind what was taken.
    return (await isTaken(db, id, contentHash(bytes))) ? null : { name, bytes };
  }
  return null;
}

async function fromService(
  config: Config,
  { name, settings, secret }: FeedRecord,
  progress: (step: string, done: number) => void,
): Promise<Found> {
  const bytes = await fetchBundle(
    { url: settings.url!, tokenUrl: settings.tokenUrl!, clientId: settings.clientId!, secret: secret ?? '' },
    config,
    progress,
  );
  return { name: `${name}, ${clock.today()}.zip`, bytes: Buffer.from(bytes) };
}
