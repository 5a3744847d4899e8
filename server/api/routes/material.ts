/** Materials and set work, for teachers, coordinators and the children themselves. */
import { say } from '#core/messages/say';
import { calendarSheet } from '../../year/calendar';
import { z } from 'zod';
import { midway, schoolDay } from '#core/setwork/index';
import { grades as gradeCodes } from '#core/tabular/index';
import { keepMaterial, materials, takeMaterials } from '../../materials/materials';
import { enterWork, myWork } from '../../materials/mine';
import { copyWork, editWork, openNow, setWork, takeBack, workList, workSheet } from '../../materials/work';
import type { RouteName } from '../../contract';
import { classProgress, setGoals } from '../../materials/progress';
import { flag, id, type Routes } from './route';
import { declared } from './declared';

const moment = z.iso.datetime({ precision: 3 });
const fields = declared('work', [
  'title',
  'opensAt',
  'dueAt',
  'closesAt',
  'minutes',
  'entryWord',
  'paused',
  'answers',
  'library',
]).extend({
  library: z.number().int().min(0).max(1).nullable().default(null),
  dueAt: moment.nullable().default(null),
  minutes: z.number().int().min(1).max(1440).nullable(),
  paused: z.number().int().min(0).max(1),
});
const field = z.enum(['title', 'opensAt', 'dueAt', 'closesAt', 'minutes', 'entryWord', 'paused', 'answers', 'library']);
const ids = z.array(id).min(1, say('api.isEmpty')).max(500);

export const materialRoutes: Pick<
  Routes,
  | Extract<RouteName, `${string} /api/${'materials' | 'work' | 'mine/work'}${string}`>
  | 'GET /api/classes/:id/progress'
  | 'POST /api/classes/:id/goals'
> = {
  'GET /api/materials': {
    query: z.object({ classId: id.optional(), product: id.optional(), q: z.string().max(100).optional() }),
    handle: ({ viewer, query, ...services }) => materials(services, viewer, query),
  },
  'POST /api/materials': {
    body: z.object({
      id: id.nullable(),
      fields: declared('material', [
        ...(['productId', 'title', 'kind', 'lowGrade', 'highGrade', 'subject', 'minutes', 'needs'] as const),
      ]).extend({
        lowGrade: z.enum(gradeCodes).nullable(),
        highGrade: z.enum(gradeCodes).nullable(),
        minutes: z.number().int().min(1).max(6000).nullable(),
        address: z
          .string()
          .trim()
          .regex(/^[\x21-\x7e]{1,300}$/, say('api.mustBeAnAddressLike'))
          .refine((value) => URL.canParse(value), say('api.mustBeAnAddressLike')),
      }),
    }),
    handle: ({ viewer, body, ...services }) => keepMaterial(services, viewer, body.id, body.fields),
  },
  'POST /api/materials/take': {
    body: z.object({ productId: id, text: z.string().min(1, say('api.isEmpty')).max(5_000_000) }),
    handle: ({ viewer, body, ...services }) => takeMaterials(services, viewer, body.productId, body.text),
  },
  'GET /api/work': {
    query: z.object({ classId: id.optional(), school: id.optional(), past: flag }),
    handle: ({ viewer, query, ...services }) => workList(services, viewer, query),
  },
  'GET /api/work/midway': {
    handle: async ({ db, config }) => {
      const { year, terms, daysOff } = await calendarSheet(db);
      return { day: schoolDay(midway(year, config.today(), terms), year, daysOff) };
    },
  },
  'GET /api/work/:id': { handle: ({ viewer, params, ...services }) => workSheet(services, viewer, params.id) },
  'POST /api/work': {
    body: z.object({
      materialId: id,
      fields,
      targets: z.array(z.object({ classId: id, groupId: id.nullable() })).max(200),
      gathered: z.boolean(),
    }),
    handle: ({ viewer, body, ...services }) => setWork(services, viewer, body),
  },
  'POST /api/work/copy': {
    body: z.object({ ids, classIds: ids, opensAt: moment.nullable() }),
    handle: ({ viewer, body, ...services }) => copyWork(services, viewer, body),
  },
  'POST /api/work/open': {
    body: z.object({ ids }),
    handle: ({ viewer, body, ...services }) => openNow(services, viewer, body.ids),
  },
  'POST /api/work/take-back': {
    body: z.object({ ids }),
    handle: ({ viewer, body, ...services }) => takeBack(services, viewer, body.ids),
  },
  'POST /api/work/:id/edit': {
    body: z
      .object({ field, before: z.union([z.string().max(200), z.number(), z.null()]), after: z.unknown() })
      .transform(({ field: name, before, after }, context) => {
        const checked = fields.shape[name].safeParse(after);
        if (!checked.success) {
          context.addIssue({ code: 'custom', message: `${name}: ${checked.error.issues[0]?.message}` });
          return z.NEVER;
        }
        return { field: name, before, after: checked.data };
      }),
    handle: ({ viewer, params, body, ...services }) => editWork(services, viewer, params.id, body),
  },
  'GET /api/classes/:id/progress': {
    handle: ({ viewer, params, ...services }) => classProgress(services, viewer, params.id),
  },
  'POST /api/classes/:id/goals': {
    body: z.object({
      personId: id.nullable(),
      goal: z.object({
        minutes: z.number().int().min(1).max(2400).nullable(),
        share: z.number().int().min(1).max(100).nullable(),
      }),
    }),
    handle: ({ viewer, params, body, ...services }) => setGoals(services, viewer, params.id, body),
  },
  'GET /api/mine/work': { handle: ({ db, viewer }) => myWork(db, viewer) },
  'POST /api/mine/work/:id': {
    body: z.object({ word: z.string().max(60) }),
    handle: ({ db, viewer, params, body }) => enterWork(db, viewer, params.id, body.word),
  },
};
