/** Groups of classes and schools. */
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { copyGroup, endGroup, group, groups, makeGroup, renameGroup } from '../../classes/groups';
import type { RouteName } from '../../contract';
import { id, type Routes, text } from './route';
import { declared } from './declared';

export const groupRoutes: Pick<Routes, Extract<RouteName, `${string} /api/groups${string}`>> = {
  'GET /api/groups': {
    query: z.object({ school: id.optional(), classId: id.optional() }),
    handle: ({ viewer, query, ...services }) => groups(services, viewer, query),
  },
  'GET /api/groups/:id': { handle: ({ viewer, params, ...services }) => group(services, viewer, params.id) },
  'POST /api/groups': {
    body: declared('group', ['classId', 'name', 'kind']).extend({
      schoolId: id.nullable(),
      rule: z.object({ grade: z.enum(gradeCodes).nullable(), classIds: z.array(id).max(12) }).nullable(),
      gathered: z.boolean(),
    }),
    handle: ({ viewer, body, ...services }) => makeGroup(services, viewer, body),
  },
  'POST /api/groups/:id/copy': {
    body: z.object({ classId: id }),
    handle: ({ viewer, params, body, ...services }) => copyGroup(services, viewer, params.id, body.classId),
  },
  'POST /api/groups/:id/rename': {
    body: z.object({ before: z.string().max(120), after: text(120) }),
    handle: ({ viewer, params, body, ...services }) => renameGroup(services, viewer, params.id, body),
  },
  'POST /api/groups/:id/end': { handle: ({ viewer, params, ...services }) => endGroup(services, viewer, params.id) },
};
