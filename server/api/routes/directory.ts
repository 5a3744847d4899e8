/** The district's directory: how it stands, sending to it, comparing with it. */
import { say } from '#core/messages/say';
import { againWhatFailed, directoryState } from '../../directory/state';
import { Fault } from '../../faults';
import type { Services, Viewer } from '../../services';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { type Routes } from './route';

type Asked = Services & { viewer: Viewer };
const start = async ({ viewer, ...services }: Asked, kind: 'directory.send' | 'directory.compare') => {
  if (!services.config.directory) throw new Fault('invalid', say('api.noDirectoryIsSetUp'));
  return startJob(services, kind, {}, viewer);
};

export const directoryRoutes: Pick<Routes, Extract<RouteName, `${string} /api/directory${string}`>> = {
  'GET /api/directory': { handle: ({ db, config }) => directoryState(db, config) },
  'POST /api/directory/send': {
    handle: async (request) => {
      await againWhatFailed(request.db);
      return start(request, 'directory.send');
    },
  },
  'POST /api/directory/compare': { handle: (request) => start(request, 'directory.compare') },
};
