/** What is printed. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { hasPieces, isCard, languages, type Language, layouts } from '#core/cards/index';
import { previewCards, type PrintOrder } from '../../cards/print';
import { group } from '../../classes/groups';
import { idsOf } from '../../people/list';
import { handouts } from '../../today';
import { Fault } from '../../faults';
import type { Services, Viewer } from '../../services';
import type { PrintRequest, RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, type Routes } from './route';

const body = z.object({
  classId: id.optional(),
  groupId: id.optional(),
  planId: id.optional(),
  sheaf: z.boolean().optional(),
  wide: z.object({ school: id.nullable(), cards: z.enum(['all', 'outdated']) }).optional(),
  personId: id.optional(),
  onlyOutdated: z.boolean().optional(),
  layout: z.enum(layouts).default('cards'),
  paper: z.enum(['A4', 'Letter']),
  backs: z.enum(['long', 'short']).nullable().default(null),
  stacked: z.boolean().default(true),
  skip: z.number().int().min(0).max(100).default(0),
  language: z
    .enum(Object.keys(languages) as [Language, ...Language[]])
    .nullable()
    .default(null),
  large: z.boolean().default(true),
  voidOlder: z.boolean(),
});

/** Throws Fault invalid where nobody is to be printed. */
async function orderOf(services: Services, viewer: Viewer, request: PrintRequest): Promise<PrintOrder> {
  const { classId, groupId, planId, sheaf, wide, personId, onlyOutdated, ...rest } = request;
  if (!classId && !groupId && !planId && !sheaf && !wide && !personId)
    throw new Fault('invalid', say('api.chooseAClassOrGather'));
  const ids = await idsOf(services.roll, viewer, {
    role: 'student' as const,
    ...(personId
      ? {}
      : classId
        ? { classId }
        : groupId
          ? { group: groupId }
          : planId
            ? { plan: planId }
            : wide
              ? { school: wide.school ?? undefined, ...(wide.cards === 'outdated' ? { card: wide.cards } : {}) }
              : { gathered: true }),
    ...(onlyOutdated && isCard(rest.layout) ? { lacks: 'card' as const } : {}),
  });
  const personIds = personId ? ids.filter((one) => one === personId) : ids;
  if (personIds.length === 0)
    throw new Fault('invalid', onlyOutdated ? say('api.allOfThemHaveA') : say('api.thereIsNoOneTo'));
  const name = classId ? await services.db.models.class.findByPk(classId) : null;
  const some = groupId ? await group(services, viewer, groupId) : null;
  const school = wide?.school ? await services.db.models.school.findByPk(wide.school) : null;
  const what = name
    ? say('api.class', { name: name.name })
    : some
      ? say('api.groupNamed', { name: some.name })
      : personId
        ? say('api.oneStudent')
        : planId
          ? say('api.newStudents', { count: personIds.length })
          : wide?.cards === 'outdated'
            ? say('api.outdatedCards', { count: personIds.length })
            : wide
              ? say('api.wholeSchool', { name: school?.name ?? say('api.allSchools') })
              : say('api.gatheredPeople', { count: personIds.length });
  const skip = rest.layout === 'labels' ? rest.skip : 0;
  const stacked = rest.stacked && isCard(rest.layout) && hasPieces(rest.layout);
  return { ...rest, skip, stacked, personIds, what, by: viewer.personId };
}

export const handoutRoutes: Pick<Routes, Extract<RouteName, `${string} /api/${'handouts' | 'prints'}${string}`>> = {
  'GET /api/handouts': { handle: ({ roll, viewer }) => handouts(roll, viewer) },
  'POST /api/prints/preview': {
    body,
    handle: async ({ viewer, body: request, ...services }) =>
      previewCards(services.db, services.config, await orderOf(services, viewer, request)),
  },
  'POST /api/prints': {
    body,
    handle: async ({ viewer, body: request, ...services }) => {
      const order = await orderOf(services, viewer, request);
      return { ...(await startJob(services, 'cards.print', order, viewer)), cards: order.personIds.length };
    },
  },
};
