/** Classes: their list, and making, changing and ending them. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { classColors, policies } from '#core/entities/index';
import { grades as gradeCodes } from '#core/tabular/index';
import { classList, classNames } from '../../classes/list';
import { combineClasses, splitClass } from '../../classes/reshape';
import { editClass, endClass, makeClasses, previewClasses } from '../../classes/make';
import { candidates, classPage, letIn, takeOut } from '../../classes/roster';
import { keepPattern, keepTemplate, templates } from '../../classes/templates';
import type { RouteName } from '../../contract';
import { bandWords } from '#core/use/index';
import { keepNote, placementNotes } from '../../year/notes';
import { id, type Routes, text } from './route';
import { declared, edited } from './declared';

const choices: Record<string, readonly string[]> = { color: classColors, ...policies };
const order = declared('class', ['schoolId', 'kind', 'grade', 'subject']).extend({
  names: text(2000),
  grade: z.enum(gradeCodes).nullable(),
  likeId: id.nullable(),
  template: z.string().max(80).nullable(),
  people: z.boolean(),
});

export const classRoutes: Pick<
  Routes,
  Exclude<
    Extract<RouteName, `${string} /api/${'classes' | 'templates'}${string}`>,
    'GET /api/classes/:id/progress' | 'POST /api/classes/:id/goals'
  >
> = {
  'GET /api/classes': {
    query: z.object({ school: id.optional(), grade: z.enum(gradeCodes).optional(), q: z.string().max(100).optional() }),
    handle: ({ roll, viewer, query }) => classList(roll, viewer, query),
  },
  'GET /api/classes/names': {
    query: z.object({ school: id.optional(), q: z.string().max(100).optional() }),
    handle: ({ db, viewer, query }) => classNames(db, viewer, query),
  },
  'GET /api/classes/:id/notes': {
    handle: ({ viewer, params, ...services }) => placementNotes(services, viewer, params.id),
  },
  'POST /api/classes/:id/notes': {
    body: z.object({
      personId: id,
      level: z.enum(Object.values(bandWords)).nullable(),
      support: z.boolean().nullable(),
    }),
    handle: async ({ viewer, params, body: note, ...services }) => {
      await keepNote(services, viewer, params.id, note);
      return { ok: true };
    },
  },
  'POST /api/classes/preview': {
    body: order,
    handle: ({ viewer, body, ...services }) => previewClasses(services, viewer, body),
  },
  'POST /api/classes': { body: order, handle: ({ viewer, body, ...services }) => makeClasses(services, viewer, body) },
  'POST /api/classes/:id/edit': {
    body: edited('class', ['name', 'grade', 'subject', 'period', 'color', 'discuss', 'invite'])
      .refine(
        ({ field, after }) => field !== 'grade' || after === null || z.enum(gradeCodes).safeParse(after).success,
        say('api.thisIsNotAValid'),
      )
      .refine(
        ({ field, after }) => after === null || !(field in choices) || choices[field]!.includes(after),
        say('api.thisIsNotOneOf'),
      ),
    handle: ({ viewer, params, body, ...services }) => editClass(services, viewer, params.id, body),
  },
  'GET /api/templates': { handle: ({ db }) => templates(db) },
  'POST /api/templates': {
    body: z.object({ name: text(80), classId: id.nullable() }),
    handle: async ({ db, viewer, body }) => {
      await keepTemplate(db, viewer, body.name, body.classId);
      return { ok: true };
    },
  },
  'POST /api/templates/pattern': {
    body: z.object({ schoolId: id, pattern: text(60) }),
    handle: async ({ db, viewer, body }) => {
      await keepPattern(db, viewer, body.schoolId, body.pattern);
      return { ok: true };
    },
  },
  'POST /api/classes/:id/split': {
    body: z.object({ names: text(500) }),
    handle: ({ viewer, params, body, ...services }) => splitClass(services, viewer, params.id, body.names),
  },
  'POST /api/classes/:id/combine': {
    body: z.object({ others: z.array(id).min(1).max(10) }),
    handle: ({ viewer, params, body, ...services }) => combineClasses(services, viewer, params.id, body.others),
  },
  'GET /api/classes/:id': { handle: ({ roll, viewer, params }) => classPage(roll, viewer, params.id) },
  'GET /api/classes/:id/candidates': {
    query: z.object({ q: z.string().trim().min(2, say('api.needsAtLeastTwoLetters')).max(100) }),
    handle: ({ roll, viewer, params, query }) => candidates(roll, viewer, params.id, query),
  },
  'POST /api/classes/:id/people': {
    body: z.object({ personId: id }),
    handle: ({ viewer, params, body, ...services }) => letIn(services, viewer, params.id, body.personId),
  },
  'POST /api/classes/:id/people/remove': {
    body: z.object({ personId: id }),
    handle: ({ viewer, params, body, ...services }) => takeOut(services, viewer, params.id, body.personId),
  },
  'POST /api/classes/:id/end': {
    handle: ({ viewer, params, ...services }) => endClass(services, viewer, params.id),
  },
};
