/** The year: the roll-over, grades split into classes, the archive. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { retentionError } from '#core/retention/index';
import { mapKey, yearGroups } from '#core/year/index';
import { district, keepSettings, settingsSchema } from '../../district';
import { retentionSheet } from '../../retention/foresee';
import { archive, returnClass } from '../../year/archive';
import { archivedClass } from '../../year/archived';
import { calendarPlan, calendarSheet } from '../../year/calendar';
import { changeYearDraft, choicesSchema, keepSplit, splitSchema } from '../../year/draft';
import { changeWhom, rehearsedPeople, splitRows, splitSheet, yearSheet } from '../../year/sheet';
import { Fault, notFound } from '../../faults';
import { audit } from '../../trail';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, plain, type Routes } from './route';
import { entities } from '#core/entities/index';
import { declared } from './declared';

// A name that is missing is told where the days are looked at.
const spanOf = (entity: 'year' | 'term' | 'dayOff') =>
  declared(entity, ['begins', 'ends']).extend({ name: z.string().max(entities[entity].fields.name.longest!) });

export const yearRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'school-year' | 'year' | 'archive' | 'retention'}${string}`>
> = {
  'GET /api/school-year': { handle: ({ db }) => calendarSheet(db) },
  'POST /api/school-year/plan': {
    body: z.object({
      zone: plain(64),
      year: spanOf('year'),
      terms: z.array(spanOf('term')).max(12),
      daysOff: z.array(spanOf('dayOff')).max(100),
    }),
    handle: ({ viewer, body, ...services }) => calendarPlan(services, viewer, body),
  },
  'GET /api/year': { handle: ({ db }) => yearSheet(db) },
  'GET /api/year/rehearsal': { handle: ({ year }) => year.rehearse() },
  'GET /api/year/rehearsal/people': {
    query: z.object({ group: z.enum(yearGroups), school: id.optional() }),
    handle: ({ year, db, query }) => rehearsedPeople({ year, db }, query.group, query.school ?? null),
  },
  'POST /api/year/draft': {
    body: choicesSchema,
    handle: async ({ db, viewer, body }) => {
      if (body.year && body.year.begins >= body.year.ends) throw new Fault('invalid', say('api.theNewYearEndsBefore'));
      return { savedAt: await changeYearDraft(db, viewer.personId, () => body) };
    },
  },
  'POST /api/year/whom': {
    body: z.object({ list: z.enum(['again', 'leave']), drop: id.nullable() }),
    handle: ({ db, viewer, body }) => changeWhom(db, viewer, body.list, body.drop),
  },
  'POST /api/year/plan': {
    handle: ({ viewer, ...services }) => startJob(services, 'year.plan', {}, viewer),
  },
  'GET /api/year/splits': { handle: ({ db, viewer }) => splitRows(db, viewer) },
  'GET /api/year/split': {
    query: z.object({ school: id, grade: z.enum(gradeCodes) }),
    handle: ({ db, config, viewer, query }) => {
      if (!inScope(viewer, query.school)) throw notFound(say('api.thisGrade'));
      return splitSheet(db, mapKey(query.school, query.grade), config.today());
    },
  },
  'POST /api/year/split': {
    body: z.object({ schoolId: id, grade: z.enum(gradeCodes), split: splitSchema }),
    handle: async ({ db, config, viewer, body: { schoolId, grade, split } }) => {
      if (!inScope(viewer, schoolId)) throw notFound(say('api.thisGrade'));
      const key = mapKey(schoolId, grade);
      const { children } = await splitSheet(db, key, config.today());
      const here = new Set(children.map((child) => child.id));
      if (Object.entries(split.placed).some(([who, index]) => !here.has(who) || index >= split.classes.length))
        throw new Fault('conflict', say('api.aStudentIsNotIn'));
      return { savedAt: await keepSplit(db, key, split, viewer.personId) };
    },
  },
  'GET /api/retention': { handle: ({ db, config }) => retentionSheet(db, config) },
  'POST /api/retention': {
    body: settingsSchema.shape.retention.unwrap().partial(),
    handle: async ({ db, viewer, body }) => {
      const retention = { ...(await district(db))!.settings.retention, ...body };
      const wrong = retentionError(retention);
      if (wrong) throw new Fault('invalid', wrong);
      await keepSettings(db, { retention });
      await audit(db, { by: viewer.personId, action: 'settings', detail: `kept for: ${JSON.stringify(retention)}` });
      return { ok: true };
    },
  },
  'POST /api/retention/purge': {
    body: z.object({ typed: z.string().max(200) }),
    handle: async ({ viewer, body, ...services }) => {
      const { name } = (await district(services.db))!;
      if (body.typed.trim() !== name) throw new Fault('invalid', say('api.typedTypeThisCantBe', { name }));
      return startJob(services, 'data.purge', {}, viewer);
    },
  },
  'GET /api/archive': {
    query: z.object({ q: z.string().max(100).optional(), before: z.string().max(40).optional() }),
    handle: ({ db, viewer, query }) => archive(db, viewer, query),
  },
  'GET /api/archive/:id': { handle: ({ db, viewer, params }) => archivedClass(db, viewer, params.id) },
  'POST /api/archive/:id/return': {
    handle: ({ viewer, params, ...services }) => returnClass(services, viewer, params.id),
  },
};
