/** The routes of the contract: each behind who may call it, its body and query read by their schemas. */
import { say } from '#core/messages/say';
import { Hono } from 'hono';
import type { RouteName } from '../contract';
import type { Services } from '../services';
import { addressOf, allow, type App, bodyOf, type Env, idOf } from './border';
import { bytesOf, mostBytes } from './limits';
import { type Request, type Route, routes, takeIn } from './routes/index';
import type { Handlers } from './signing-in';

/** What needs a password typed a short while ago. */
const freshRoutes = new Set<RouteName>([
  'POST /api/people/:id/reveal',
  'POST /api/staff/:id/role',
  'POST /api/staff/:id/reset',
  'POST /api/retention/purge',
  'POST /api/profile/app/begin',
  'POST /api/profile/passkeys/begin',
  'POST /api/profile/recovery',
  'POST /api/profile/factors/remove',
  'POST /api/profile/sign-on',
]);

/** `handlers` are those that do more with the request and the answer than a handler of the table can. */
export function tableRoutes(services: Services, handlers: Handlers): App {
  const { config } = services;
  const app = new Hono<Env>();
  const special: Handlers = {
    ...handlers,
    'POST /api/intakes': async (c) => {
      const { name, feed } = routes['POST /api/intakes'].query!.parse(c.req.query());
      const bytes = await bytesOf(c, mostBytes('POST /api/intakes', true));
      return c.json(await takeIn(services, c.get('viewer')!, name, bytes, feed));
    },
  };

  for (const [name, route] of Object.entries(routes) as [RouteName, Route<RouteName>][]) {
    const [method, path] = name.split(' ') as [string, string];
    app.on(method, path, async (c) => {
      const viewer = allow(c, name);
      if (freshRoutes.has(name) && !viewer!.isFresh)
        return c.json({ error: say('api.toDoThisEnterYour'), confirm: true }, 403);
      const own = special[name];
      if (own) return own(c);
      const body = (route.body ? await bodyOf(c, name) : undefined) as never;
      const query = route.query ? (route.query.parse(c.req.query()) as never) : (undefined as never);
      const request: Request<RouteName> = {
        ...services,
        viewer: viewer!,
        params: { id: idOf(c) },
        body,
        query,
        address: addressOf(c, config),
      };
      return c.json(await route.handle(request as never));
    });
  }
  return app;
}
