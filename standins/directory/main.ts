/**
 * A district's directory, simulated: SCIM 2.0 (RFC 7643, 7644) with a bearer token. It can be slow, refuse with 429 and
 * lose answers after having done what was asked; what it holds is written to a file before it answers, so that it can
 * be killed. A process of its own, on loopback.
 *   node --import tsx standins/directory/main.ts --port 8311 [--data FILE] [--lose 0.05] [--refuse 0.1] [--slow 20]
 */
import { randomUUID } from 'node:crypto';
import { appendFileSync, existsSync, mkdirSync, readFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { parseArgs } from 'node:util';
import { type HttpBindings, serve } from '@hono/node-server';
import { type Context, Hono } from 'hono';
import {
  applyPatch,
  isObject,
  type Json,
  type Operation,
  parseFilter,
  type Resource,
  ScimError,
} from '#core/directory/index';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '8311' },
    token: { type: 'string', default: 'harbor-light' },
    data: { type: 'string' },
    lose: { type: 'string', default: '0' },
    refuse: { type: 'string', default: '0' },
    slow: { type: 'string', default: '0' },
  },
});

type Kind = 'Users' | 'Groups';
const held: Record<Kind, Map<string, Resource>> = { Users: new Map(), Groups: new Map() };

function put(kind: Kind, id: string, resource: Resource | null, keep = true): void {
  if (resource) held[kind].set(id, resource);
  else held[kind].delete(id);
  if (keep && values.data) appendFileSync(values.data, `${JSON.stringify([kind, id, resource])}\n`);
}
if (values.data) {
  mkdirSync(dirname(values.data), { recursive: true });
  if (existsSync(values.data))
    for (const line of readFileSync(values.data, 'utf8').split('\n').filter(Boolean))
      put(...(JSON.parse(line) as [Kind, string, Resource | null]), false);
}

type Ctx = Context<{ Bindings: HttpBindings }>;
const app = new Hono<{ Bindings: HttpBindings }>();
const errorSchema = 'urn:ietf:params:scim:api:messages:2.0:Error';
const scim = (body: Json, status = 200, headers: Record<string, string> = {}) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/scim+json', ...headers } });
const failure = (status: number, detail: string, scimType?: string, headers: Record<string, string> = {}) =>
  scim({ schemas: [errorSchema], status: String(status), detail, ...(scimType ? { scimType } : {}) }, status, headers);

app.onError((error) =>
  error instanceof ScimError ? failure(error.status, error.message, error.scimType) : failure(500, error.message),
);
app.get('/healthz', (c) => c.json({ status: 'ok' }));

app.use('/scim/v2/*', async (c, next) => {
  if (c.req.header('Authorization') !== `Bearer ${values.token}`) return failure(401, 'The token is not known here.');
  if (Number(values.slow) > 0) await new Promise((wait) => setTimeout(wait, Math.random() * 2 * Number(values.slow)));
  if (Math.random() < Number(values.refuse))
    return failure(429, 'Too many requests.', undefined, { 'Retry-After': '1' });
  await next();
  // What was asked is done; only the answer does not arrive.
  if (Math.random() < Number(values.lose)) c.env.incoming.socket.destroy();
});

app.get('/scim/v2/ServiceProviderConfig', () =>
  scim({
    schemas: ['urn:ietf:params:scim:schemas:core:2.0:ServiceProviderConfig'],
    patch: { supported: true },
    bulk: { supported: false, maxOperations: 0, maxPayloadSize: 0 },
    filter: { supported: true, maxResults: 200 },
    changePassword: { supported: false },
    sort: { supported: false },
    etag: { supported: false },
    authenticationSchemes: [
      { type: 'oauthbearertoken', name: 'Bearer token', description: 'A token of the district.' },
    ],
  }),
);

async function bodyOf(c: Ctx): Promise<Resource> {
  const body = (await c.req.json().catch(() => null)) as Json;
  if (!isObject(body)) throw new ScimError(400, 'invalidSyntax', 'The body is no resource.');
  return body;
}
function stored(kind: Kind, id: string, resource: Resource, created: string): Resource {
  if (kind === 'Users') {
    const name = String(resource.userName ?? '').toLowerCase();
    if (name === '') throw new ScimError(400, 'invalidValue', 'A user needs a userName.');
    for (const [other, { userName }] of held.Users)
      if (other !== id && String(userName).toLowerCase() === name)
        throw new ScimError(409, 'uniqueness', `The userName ${name} is taken.`);
  }
  const now = new Date().toISOString();
  const location = `/scim/v2/${kind}/${id}`;
  return {
    ...resource,
    id,
    meta: { resourceType: kind.slice(0, -1), created: created || now, lastModified: now, location },
  };
}

for (const kind of ['Users', 'Groups'] as const) {
  const base = `/scim/v2/${kind}`;
  const one = (c: Ctx): Resource => {
    const found = held[kind].get(c.req.param('id') ?? '');
    if (!found) throw new ScimError(404, '', `There is no ${kind.slice(0, -1)} ${c.req.param('id')}.`);
    return found;
  };
  const createdAt = (resource: Resource): string => (isObject(resource.meta) ? String(resource.meta.created) : '');
  app.get(base, (c) => {
    const filter = c.req.query('filter');
    const test = filter ? parseFilter(filter) : () => true;
    const startIndex = Math.max(1, Number(c.req.query('startIndex') ?? 1));
    const count = Math.min(200, Math.max(0, Number(c.req.query('count') ?? 100)));
    const found = [...held[kind].values()].filter(test);
    const page = found.slice(startIndex - 1, startIndex - 1 + count);
    return scim({
      schemas: ['urn:ietf:params:scim:api:messages:2.0:ListResponse'],
      totalResults: found.length,
      startIndex,
      itemsPerPage: page.length,
      Resources: page,
    });
  });
  app.get(`${base}/:id`, (c) => scim(one(c)));
  app.post(base, async (c) => {
    const id = randomUUID();
    const made = stored(kind, id, await bodyOf(c), '');
    put(kind, id, made);
    return scim(made, 201, { Location: `${base}/${id}` });
  });
  app.put(`${base}/:id`, async (c) => {
    const before = one(c);
    const next = stored(kind, String(before.id), await bodyOf(c), createdAt(before));
    put(kind, String(before.id), next);
    return scim(next);
  });
  app.patch(`${base}/:id`, async (c) => {
    const before = one(c);
    const { Operations } = await bodyOf(c);
    if (!Array.isArray(Operations)) throw new ScimError(400, 'invalidSyntax', 'There are no Operations.');
    const next = stored(
      kind,
      String(before.id),
      applyPatch(before, Operations as unknown as Operation[]),
      createdAt(before),
    );
    put(kind, String(before.id), next);
    return scim(next);
  });
  app.delete(`${base}/:id`, (c) => {
    put(kind, String(one(c).id), null);
    return new Response(null, { status: 204 });
  });
}
app.all('*', () => failure(404, 'There is no such path.'));

serve({ fetch: app.fetch, port: Number(values.port), hostname: '127.0.0.1' }, ({ port }) =>
  console.log(`directory stand-in at http://127.0.0.1:${port}/scim/v2`),
);
// Started by another process it ends with it.
process.on('disconnect', () => process.exit());
