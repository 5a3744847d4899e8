/** Feeds: sources that send again and again, with their settings, their reading and when they are looked at next. */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import { z } from 'zod';
import type { Config } from '../config';
import { sealText, unsealText } from '../auth/seal';
import { Fault } from '../faults';
import type { Viewer } from '../services';
import { audit } from '../trail';
import { type Feed, type FeedEdit, type FeedSettings, type FeedWay, keepableFields } from '../contract';
import { addDays, momentOf } from '#core/time/index';
import { clock, isoIn, nowIso } from '../clock';
import type { Db } from '../db/connection';
import { Refusal } from '#core/tabular/decode';
import { mint } from '../plans/mint';
import { mustReach, reachedFolder } from './reach';

export const feedSettings: z.ZodType<FeedSettings> = z.object({
  schoolId: z.string().length(26).nullable(),
  complete: z.boolean(),
  kept: z.array(z.enum(keepableFields)),
  everyMinutes: z.number().int().min(1).max(20_000).nullable(),
  at: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/)
    .nullish(),
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

export async function feedList(db: Db): Promise<Feed[]> {
  const rows = await db.models.feeds.findAll({ order: ['name'] });
  const counts = await db.models.intakes.count({
    attributes: ['feedId'],
    where: { feedId: { [Op.not]: null }, status: { [Op.ne]: 'coming' } },
    group: 'feedId',
  });
  const files = new Map(counts.map(({ feedId, count }) => [feedId, Number(count)]));
  return rows.map(({ id, name, way, settings, reading, active, lastRunAt, nextRunAt, lastError }) => ({
    ...{ id, name, way: way as FeedWay, settings: JSON.parse(settings) as FeedSettings },
    remembered: reading ? (JSON.parse(reading) as { columns: unknown[] }).columns.length : 0,
    ...{ active: active === 1, lastRunAt, nextRunAt, lastError, files: files.get(id) ?? 0 },
  }));
}

export async function feedById(db: Db, config: Config, id: string): Promise<FeedRecord | null> {
  const row = await db.models.feeds.findByPk(id);
  if (!row) return null;
  const { name, way, settings, secretSealed, createdBy, nextRunAt } = row;
  const secret = secretSealed === null ? null : unsealText(config.key, id, secretSealed);
  return {
    id,
    name,
    way: way as FeedWay,
    settings: JSON.parse(settings) as FeedSettings,
    secret,
    createdBy,
    nextRunAt,
  };
}

/** What a feed may not reach for is said where it is set up. */
const orFault = (reaching: Promise<unknown>): Promise<unknown> =>
  reaching.catch((error: unknown) => {
    throw error instanceof Refusal ? new Fault('invalid', error.message) : error;
  });

/** Whoever saves a feed answers for it from then on: it does what their role allows. */
export async function saveFeed(db: Db, config: Config, viewer: Viewer, edit: FeedEdit): Promise<{ id: string }> {
  const { settings, way } = edit;
  if (way === 'folder' && !settings.folder) throw new Fault('malformed', say('feeds.enterTheFolderToWatch'));
  if (way === 'service' && !(settings.url && settings.tokenUrl && settings.clientId))
    throw new Fault('malformed', say('feeds.enterTheServicesAddressIts'));
  const id = edit.id ?? mint();
  // One that is looked at all day begins now, one of a set hour at that hour.
  const nextRunAt =
    way === 'upload' ? null : settings.at ? nextLook(settings) : settings.everyMinutes === null ? null : nowIso();
  if (way === 'folder') await orFault(reachedFolder(settings.folder!, config));
  if (way === 'service')
    for (const address of [settings.url!, settings.tokenUrl!]) await orFault(mustReach(address, config));
  const before = edit.id ? await feedById(db, config, edit.id) : null;
  // A secret is for the address that it was given for, and is not sent to another one.
  if (way === 'service' && before?.secret && !edit.secret && before.settings.tokenUrl !== settings.tokenUrl)
    throw new Fault('invalid', say('feeds.secretTheTokenAddressChanged'));
  const sealed = edit.secret ? sealText(config.key, id, edit.secret) : null;
  const { feeds } = db.models;
  if (await feeds.findOne({ where: { name: edit.name, id: { [Op.ne]: id } } }))
    throw new Fault('conflict', say('feeds.thereIsAlreadyAFeed', { name: edit.name }));
  const values = {
    ...{ name: edit.name, way, settings: JSON.stringify(settings), nextRunAt, createdBy: viewer.personId },
    ...(sealed === null ? {} : { secretSealed: sealed }),
  };
  if (edit.id) {
    if (!before) throw new Fault('missing', say('feeds.thisFeedNoLongerExists'));
    await feeds.update(values, { where: { id } });
  } else await feeds.create({ ...values, id, createdAt: nowIso() });
  await audit(db, { by: viewer.personId, action: edit.id ? 'feed.change' : 'feed.make', detail: edit.name });
  return { id };
}

/** When it is looked at next; null: only when asked. */
export function nextLook({ everyMinutes, at }: FeedSettings): string | null {
  if (!at) return everyMinutes === null ? null : isoIn(everyMinutes * 60_000);
  const on = (day: string) => momentOf(clock.zone, `${day}T${at}`);
  const today = clock.today();
  return on(today) > nowIso() ? on(today) : on(addDays(today, 1));
}

/** Feeds whose time has come, each given to one process only. */
export async function dueFeeds(db: Db): Promise<{ id: string; createdBy: string }[]> {
  const now = nowIso();
  const rows = await db.models.feeds.findAll({ where: { active: 1, nextRunAt: { [Op.lte]: now } } });
  const mine: { id: string; createdBy: string }[] = [];
  for (const { id, createdBy, settings, nextRunAt } of rows) {
    const next = nextLook(JSON.parse(settings) as FeedSettings);
    const [won] = await db.models.feeds.update({ nextRunAt: next }, { where: { id, nextRunAt } });
    if (won > 0) mine.push({ id, createdBy });
  }
  return mine;
}
