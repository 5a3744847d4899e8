/** Feeds, and pairs of people on record. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { personFields } from '#core/entities/index';
import { feedList, feedSettings, saveFeed, nextLook } from '../../feeds/store';
import { decidePair, mergePeople } from '../../people/merge';
import { notFound } from '../../faults';
import { audit } from '../../trail';
import type { RecordPair, RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, type Routes, text } from './route';
import { visible } from '../../people/list';

export const feedRoutes: Pick<Routes, Extract<RouteName, `${string} /api/${'feeds' | 'pairs'}${string}`>> = {
  'GET /api/feeds': { handle: ({ db }) => feedList(db) },
  'POST /api/feeds': {
    body: z.object({
      id: id.optional(),
      name: text(200),
      way: z.enum(['upload', 'folder', 'service']),
      settings: feedSettings,
      secret: z.string().max(300).optional(),
    }),
    handle: ({ db, config, viewer, body }) => saveFeed(db, config, viewer, body),
  },
  'POST /api/feeds/:id/take': {
    handle: async (request) => {
      if (!(await request.db.models.feeds.findByPk(request.params.id))) throw notFound(say('api.thisFeed'));
      return startJob(request, 'feed.take', { feedId: request.params.id }, request.viewer);
    },
  },
  'POST /api/feeds/:id/active': {
    body: z.object({ active: z.boolean() }),
    handle: async ({ db, viewer, params, body }) => {
      const there = await db.models.feeds.findByPk(params.id);
      if (!there) throw notFound(say('api.thisFeed'));
      const settings = feedSettings.parse(JSON.parse(there.settings));
      // One of a set hour waits for it, however long it was paused.
      await there.update({
        active: body.active ? 1 : 0,
        ...(body.active && settings.at ? { nextRunAt: nextLook(settings) } : {}),
      });
      await audit(db, {
        by: viewer.personId,
        action: body.active ? 'feed.start' : 'feed.stop',
        detail: there.name,
      });
      return { ok: true };
    },
  },
  'GET /api/pairs': {
    handle: async ({ db, intake, viewer }) => {
      const pairs = await intake.duplicates();
      const ids = [...new Set(pairs.flatMap(({ one, two }) => [one.id, two.id]))];
      const own = new Set(await visible(db, viewer, ids));
      return pairs.filter(({ one, two }: RecordPair) => own.has(one.id) && own.has(two.id));
    },
  },
  'POST /api/pairs/decide': {
    body: z.object({ one: id, two: id, same: z.literal(false).nullable() }),
    handle: async ({ db, viewer, body }) => {
      await decidePair(db, viewer, body.one, body.two, body.same);
      return { ok: true };
    },
  },
  'POST /api/pairs/merge': {
    body: z.object({
      keep: id,
      gone: id,
      choices: z.partialRecord(z.enum(personFields), z.enum(['keep', 'gone'])).optional(),
    }),
    handle: (request) => mergePeople(request, request.viewer, request.body),
  },
};
