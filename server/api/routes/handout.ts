/** Login cards. */
import { z } from 'zod';
import { idsOf } from '../../people/list';
import { handouts } from '../../today';
import { Fault } from '../context';
import type { RouteName } from '../contract';
import { id, type Routes, startJob } from './route';

export const handoutRoutes: Pick<Routes, Extract<RouteName, `${string} /api/${'handouts' | 'prints'}${string}`>> = {
  'GET /api/handouts': { handle: ({ roll, viewer }) => handouts(roll, viewer) },
  'POST /api/prints': {
    body: z.object({
      classId: id.optional(),
      sheaf: z.boolean().optional(),
      onlyOutdated: z.boolean().optional(),
      paper: z.enum(['A4', 'Letter']),
      voidOlder: z.boolean(),
    }),
    handle: async ({ viewer, body, ...services }) => {
      const filter = {
        role: 'student' as const,
        ...(body.classId ? { classId: body.classId } : { gathered: true }),
        ...(body.onlyOutdated ? { lacks: 'card' as const } : {}),
      };
      if (!body.classId && !body.sheaf) throw new Fault(422, 'Choose a class, or gather people first.');
      const personIds = await idsOf(services.roll, viewer, filter);
      if (personIds.length === 0)
        throw new Fault(
          422,
          body.onlyOutdated ? 'All of them have a card that holds.' : 'There is nobody to print a card for.',
        );
      const name = body.classId
        ? await services.db.one<{ name: string }>('SELECT name FROM classes WHERE id = :id', { id: body.classId })
        : null;
      const what = name ? `class ${name.name}` : `${personIds.length} gathered people`;
      return {
        ...(await startJob(
          services,
          'cards.print',
          { personIds, paper: body.paper, voidOlder: body.voidOlder, what },
          viewer,
        )),
        cards: personIds.length,
      };
    },
  },
};
