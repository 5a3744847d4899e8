/** Use of products, and what follows from it for groups. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { standNames } from '#core/use/index';
import { gather } from '../../people/sheaf';
import { signIns, useSheet, usePeople } from '../../use/figures';
import { levels, makeLevels, previewLevels } from '../../use/levels';
import { classSkills } from '../../use/skills';
import { takeUses } from '../../use/list';
import { makeKey, productKeys } from '../../use/receive';
import type { RouteName } from '../../contract';
import { id, type Routes, text } from './route';

export const useFilter = z.object({
  product: id.optional(),
  school: id.optional(),
  grade: z.enum(gradeCodes).optional(),
  classId: id.optional(),
  group: id.optional(),
  from: z.iso.date().optional(),
  to: z.iso.date().optional(),
});
export const useStand = z.enum(standNames);
const byStand = useFilter.extend({ stand: useStand });
const levelOrder = z.object({
  classId: id,
  productId: id,
  skill: text(120),
  how: z.enum(['alike', 'mixed']),
  groups: z.number().int().min(2).max(12),
});

export const useRoutes: Pick<
  Routes,
  Extract<
    RouteName,
    `${string} /api/${'use' | 'use/sign-ins' | 'use/skills' | 'use/people' | 'use/gather' | 'uses' | 'products/:id/key' | 'product-keys' | `levels${string}`}`
  >
> = {
  'GET /api/use/sign-ins': {
    query: useFilter,
    handle: ({ viewer, query, ...services }) => signIns(services, viewer, query),
  },
  'GET /api/use': {
    query: useFilter,
    handle: ({ viewer, query, ...services }) => useSheet(services, viewer, query),
  },
  'GET /api/use/people': {
    query: byStand,
    handle: ({ viewer, query, ...services }) => usePeople(services, viewer, query),
  },
  'POST /api/use/gather': {
    body: byStand,
    handle: async ({ viewer, body, ...services }) => {
      const people = await usePeople(services, viewer, body);
      await gather(services.roll, viewer, { ids: people.map((one) => one.id) });
      return { gathered: people.length };
    },
  },
  'POST /api/uses': {
    body: z.object({ text: z.string().min(1, say('api.isEmpty')).max(20_000_000) }),
    handle: ({ viewer, body, ...services }) => takeUses(services, viewer, body.text),
  },
  'GET /api/product-keys': { handle: ({ db }) => productKeys(db) },
  'POST /api/products/:id/key': {
    handle: ({ db, config, viewer, params }) => makeKey({ db, config }, viewer, params.id),
  },
  'GET /api/use/skills': {
    query: z.object({ classId: id, group: id.optional(), product: id.optional() }),
    handle: ({ viewer, query, ...services }) => classSkills(services, viewer, query),
  },
  'GET /api/levels': {
    query: z.object({ classId: id }),
    handle: ({ viewer, query, ...services }) => levels(services, viewer, query.classId),
  },
  'POST /api/levels/preview': {
    body: levelOrder,
    handle: ({ viewer, body, ...services }) => previewLevels(services, viewer, body),
  },
  'POST /api/levels': {
    body: levelOrder,
    handle: ({ viewer, body, ...services }) => makeLevels(services, viewer, body),
  },
};
