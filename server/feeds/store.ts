/** Feeds: sources that send again and again, with their settings, their reading and when they are looked at next. */
import { z } from 'zod';
import type { Config } from '../config';
import { sealText, unsealText } from '../auth/seal';
import { Fault } from '../faults';
import type { Viewer } from '../services';
import { audit } from '../trail';
import { type Feed, type FeedEdit, type FeedSettings, type FeedWay, keepableFields } from '../contract';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { Refusal } from '#core/tabular/decode';
import { mint } from '../plans/mint';
import { mustReach, reachedFolder } from './reach';

export const feedSettings: z.ZodType<FeedSettings> = z.object({
  schoolId: z.string().length(26).nullable(),
  complete: z.boolean(),
  kept: z.array(z.enum(keepableFields)),
  everyMinutes: z.number().int().min(1).max(20_000).nullable(),
  folder: z.string().max(500).optional(),
  url: z.url().max(500).optional(),
  tokenUrl: z.url().max(500).optional(),
  clientId: z.string().max(200).optional(),
});

export interface FeedRecord {
  id: string;
  name: string;
  way: FeedWay;
  settings: FeedSettings;
  secret: string | null;
  createdBy: string;
  nextRunAt: string | null;
}

interface Row {
  id: string;
  name: string;
  way: FeedWay;
  settings: string;
  reading: string | null;
  secretSealed: string | null;
  active: number;
  createdBy: string;
  lastRunAt: string | null;
  nextRunAt: string | null;
  lastError: string | null;
  files: number;
}

export async function feedList(db: Db): Promise<Feed[]> {
  const rows = await db.select<Row>(
    'SELECT f.*, (SELECT COUNT(*) FROM intakes i WHERE i.feedId = f.id) AS files FROM feeds f ORDER BY f.name',
  );
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    way: row.way,
    settings: JSON.parse(row.settings) as FeedSettings,
    remembered: row.reading ? (JSON.parse(row.reading) as { columns: unknown[] }).columns.length : 0,
    active: row.active === 1,
    lastRunAt: row.lastRunAt,
    nextRunAt: row.nextRunAt,
    lastError: row.lastError,
    files: Number(row.files),
  }));
}

export async function feedById(db: Db, config: Config, id: string): Promise<FeedRecord | null> {
  const row = await db.one<Row>('SELECT * FROM feeds WHERE id = :id', { id });
  return (
    row && {
      id: row.id,
      name: row.name,
      way: row.way,
      settings: JSON.parse(row.settings) as FeedSettings,
      secret: row.secretSealed === null ? null : unsealText(config.key, row.id, row.secretSealed),
      createdBy: row.createdBy,
      nextRunAt: row.nextRunAt,
    }
  );
}

/** What a feed may not reach for is said where it is set up. */
const orFault = (reaching: Promise<unknown>): Promise<unknown> =>
  reaching.catch((error: unknown) => {
    throw error instanceof Refusal ? new Fault('invalid', error.message) : error;
  });

/** Whoever saves a feed answers for it from then on: it does what their role allows. */
export async function saveFeed(db: Db, config: Config, viewer: Viewer, edit: FeedEdit): Promise<{ id: string }> {
  const { settings, way } = edit;
  if (way === 'folder' && !settings.folder) throw new Fault('malformed', 'Say which folder is watched.');
  if (way === 'service' && !(settings.url && settings.tokenUrl && settings.clientId))
    throw new Fault('malformed', 'A service needs its address, the address of its tokens, and the client’s name.');
  const id = edit.id ?? mint();
  const nextRunAt = settings.everyMinutes === null || way === 'upload' ? null : nowIso();
  if (way === 'folder') await orFault(reachedFolder(settings.folder!, config));
  if (way === 'service')
    for (const address of [settings.url!, settings.tokenUrl!]) await orFault(mustReach(address, config));
  const before = edit.id ? await feedById(db, config, edit.id) : null;
  // A secret is for the address that it was given for, and is not sent to another one.
  if (way === 'service' && before?.secret && !edit.secret && before.settings.tokenUrl !== settings.tokenUrl)
    throw new Fault(
      'invalid',
      'secret: The address of the tokens changed. Type the secret again, so that it goes to no wrong place.',
    );
  const sealed = edit.secret ? sealText(config.key, id, edit.secret) : null;
  const clash = await db.one<{ id: string }>('SELECT id FROM feeds WHERE name = :name AND id <> :id', {
    name: edit.name,
    id,
  });
  if (clash) throw new Fault('conflict', `There is a feed named “${edit.name}” already. Choose another name.`);
  const values = { id, name: edit.name, way, settings: JSON.stringify(settings), sealed, nextRunAt };
  if (edit.id) {
    const there = await db.one('SELECT id FROM feeds WHERE id = :id', { id });
    if (!there) throw new Fault('missing', 'This feed is not there.');
    await db.run(
      'UPDATE feeds SET name = :name, way = :way, settings = :settings, secretSealed = COALESCE(:sealed, secretSealed), nextRunAt = :nextRunAt, createdBy = :by WHERE id = :id',
      { ...values, by: viewer.personId },
    );
  } else
    await db.run(
      'INSERT INTO feeds (id, name, way, settings, secretSealed, createdBy, createdAt, nextRunAt) VALUES (:id, :name, :way, :settings, :sealed, :by, :at, :nextRunAt)',
      { ...values, by: viewer.personId, at: nowIso() },
    );
  await audit(db, { by: viewer.personId, action: edit.id ? 'feed.change' : 'feed.make', detail: edit.name });
  return { id };
}

/** Feeds whose time has come, each given to one process only. */
export async function dueFeeds(db: Db): Promise<{ id: string; createdBy: string }[]> {
  const now = nowIso();
  const rows = await db.select<{ id: string; createdBy: string; settings: string; nextRunAt: string }>(
    'SELECT id, createdBy, settings, nextRunAt FROM feeds WHERE active = 1 AND nextRunAt IS NOT NULL AND nextRunAt <= :now',
    { now },
  );
  const mine: { id: string; createdBy: string }[] = [];
  for (const { id, createdBy, settings, nextRunAt } of rows) {
    const { everyMinutes } = JSON.parse(settings) as FeedSettings;
    const next = everyMinutes === null ? null : new Date(Date.now() + everyMinutes * 60_000).toISOString();
    const won = await db.run('UPDATE feeds SET nextRunAt = :next WHERE id = :id AND nextRunAt = :nextRunAt', {
      id,
      next,
      nextRunAt,
    });
    if (won > 0) mine.push({ id, createdBy });
  }
  return mine;
}
