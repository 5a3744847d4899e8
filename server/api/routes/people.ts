/** People and the sheaf. */
import { say } from '#core/messages/say';
import { handFields } from '#core/entities/index';
import { z } from 'zod';
import { languages } from '#core/cards/index';
import { grades as gradeCodes } from '#core/tabular/index';
import { find } from '../../find';
import { peopleFacets, peoplePage } from '../../people/list';
import { dropSheaf, gather, keepSheaf, keptIds, keptSheaves, letGo, sheafState } from '../../people/sheaf';
import { wholeRecord } from '../../people/whole';
import { gatheredIds, gatheredPair, planFor } from '../../people/verbs';
import { changeContact } from '../../people/contacts';
import { newPassword } from '../../people/passwords';
import { editPerson, personSheet, reveal } from '../../people/sheet';
import { personUse } from '../../use/person';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { filterShape, flag, id, queryFilter, type Routes, text } from './route';
import { declared, edited, maybe } from './declared';

const verb = z.discriminatedUnion('verb', [
  z.object({ verb: z.literal('enroll'), classId: id, instead: z.boolean() }),
  z.object({ verb: z.literal('unenroll'), classId: id }),
  z
    .object({
      verb: z.literal('move'),
      schoolId: id.nullable(),
      grade: z.enum(gradeCodes).nullable(),
      classId: id.nullable(),
    })
    .refine(({ schoolId, grade, classId }) => schoolId ?? grade ?? classId, say('api.chooseASchoolAGrade')),
  z.object({ verb: z.literal('group'), groupId: id, out: z.boolean() }),
  z.object({ verb: z.literal('seats'), productId: id, take: z.boolean() }),
  z.object({ verb: z.literal('devices'), take: z.boolean(), due: z.iso.date().nullable() }),
  z.object({ verb: z.literal('ready') }),
  z.object({ verb: z.literal('return') }),
  z.object({ verb: z.literal('hold') }),
  z.object({ verb: z.literal('release') }),
  z.object({ verb: z.literal('leave'), heirId: id.nullish() }),
]);

const column = z.enum(['family', 'given', 'number', 'grade', 'username']);

export const peopleRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'find' | 'people' | 'sheaf' | 'sheaves'}${string}`>
> = {
  'GET /api/find': {
    query: z.object({ q: z.string().max(100) }),
    handle: ({ viewer, query, ...services }) => find(services, viewer, query.q),
  },
  'GET /api/people': {
    query: z.object({
      ...filterShape,
      gathered: flag,
      sort: column.optional(),
      then: column.optional(),
      desc: flag,
      after: z.string().max(2000).optional(),
      limit: z.coerce.number().int().min(1).max(1000).optional(),
    }),
    handle: ({ roll, viewer, query: { sort = 'family', then, desc = false, after, limit = 200, ...filter } }) =>
      peoplePage(roll, viewer, filter, { sort, then, desc, after, limit }),
  },
  'GET /api/people/facets': {
    query: queryFilter,
    handle: ({ roll, viewer, query }) => peopleFacets(roll, viewer, query),
  },
  'GET /api/people/:id': {
    handle: ({ viewer, params, ...services }) => personSheet(services, viewer, params.id),
  },
  'GET /api/people/:id/use': { handle: ({ viewer, params, ...services }) => personUse(services, viewer, params.id) },
  'GET /api/people/:id/whole': {
    handle: ({ viewer, params, ...services }) => wholeRecord(services, viewer, params.id),
  },
  'POST /api/people/:id/edit': {
    body: edited('person', handFields).refine(
      ({ field, after }) => field !== 'language' || after === null || after in languages,
      say('api.cardsAreAvailableIn', { list: Object.values(languages).join(', ') }),
    ),
    handle: ({ viewer, params, body, ...services }) => editPerson(services, viewer, params.id, body),
  },
  'POST /api/people/:id/contacts': {
    body: declared('contact', ['name', 'email', 'phone', 'relation'])
      .extend({
        id: id.nullable(),
        remove: z.boolean(),
        email: maybe(254).refine(
          (email) => email === null || z.email().safeParse(email).success,
          say('api.thisIsNotAValid2'),
        ),
      })
      .refine(({ remove, email, phone }) => remove || email || phone, say('api.aContactNeedsAnEmail')),
    handle: ({ viewer, params, body, ...services }) => changeContact(services, viewer, params.id, body),
  },
  'POST /api/people/:id/reveal': {
    body: z.object({ why: text(300) }),
    handle: ({ viewer, params, body, ...services }) => reveal(services, viewer, params.id, body.why),
  },
  'POST /api/people/:id/password': {
    handle: ({ viewer, params, ...services }) => newPassword(services, viewer, params.id),
  },
  'GET /api/sheaves': { handle: ({ db, viewer }) => keptSheaves(db, viewer) },
  'POST /api/sheaves': {
    body: z.object({ name: text(80) }),
    handle: ({ db, viewer, body }) => keepSheaf(db, viewer, body.name),
  },
  'POST /api/sheaves/:id/gather': {
    handle: async ({ db, roll, viewer, params }) => {
      await gather(roll, viewer, { ids: await keptIds(db, viewer, params.id) });
      return sheafState(db, viewer);
    },
  },
  'POST /api/sheaves/:id/drop': {
    handle: async ({ db, viewer, params }) => {
      await dropSheaf(db, viewer, params.id);
      return { ok: true };
    },
  },
  'GET /api/sheaf/pair': { handle: ({ db, viewer }) => gatheredPair(db, viewer) },
  'GET /api/sheaf': { handle: ({ db, viewer }) => sheafState(db, viewer) },
  'POST /api/sheaf/gather': {
    body: z.object({
      ids: z.array(id).max(50_000).optional(),
      filter: z.object({ ...filterShape, gathered: z.boolean().optional() }).optional(),
    }),
    handle: async ({ db, roll, viewer, body }) => {
      await gather(roll, viewer, body);
      return sheafState(db, viewer);
    },
  },
  'POST /api/sheaf/let-go': {
    body: z.object({ ids: z.array(id).max(50_000).optional(), all: z.boolean().optional() }),
    handle: async ({ db, viewer, body }) => {
      await letGo(db, viewer, body);
      return sheafState(db, viewer);
    },
  },
  'POST /api/sheaf/preview': {
    body: verb,
    handle: async ({ viewer, body, ...services }) => {
      const made = await planFor(services, await gatheredIds(services.db, viewer, body), body);
      const { people, changes, sentence, same, problems, held = [] } = made;
      return { people, changes, sentence, same, problems: problems.slice(0, 200), held };
    },
  },
  'POST /api/sheaf/plan': {
    body: verb,
    handle: async ({ viewer, body, ...services }) => {
      const personIds = await gatheredIds(services.db, viewer, body);
      return startJob(services, 'sheaf.plan', { personIds, order: body }, viewer);
    },
  },
  'POST /api/sheaf/secrets': {
    handle: async ({ viewer, ...services }) => {
      const personIds = await gatheredIds(services.db, viewer, null);
      return startJob(services, 'secrets.plan', { personIds }, viewer);
    },
  },
};
