/**
 * A register's service, simulated: the open roster standard's REST protocol with OAuth 2 client credentials, over the
 * records of a bundle. `POST /next-night` makes a day's changes. A process of its own, on loopback.
 *   node --import tsx standins/register/main.ts --port 8310 [--bundle FOLDER] [--students 600]
 */
import { randomBytes } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { serve } from '@hono/node-server';
import { Hono } from 'hono';
import { collections, fromBundle, readBundle, type Records, type RosterRecord, toJson } from '#core/oneroster/index';
import { nextNight, practiceDistrict } from '#core/oneroster/practice';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '8310' },
    bundle: { type: 'string' },
    students: { type: 'string', default: '600' },
    client: { type: 'string', default: 'sheaf' },
    secret: { type: 'string', default: 'ferry-timetable' },
  },
});

function begin(): Records {
  if (!values.bundle) return practiceDistrict(1, { students: Number(values.students), schools: 2, classesEach: 4 });
  const folder = values.bundle;
  return fromBundle(
    readBundle(new Map(readdirSync(folder).map((name) => [name, readFileSync(join(folder, name))] as const))),
  );
}

let records = begin();
let night = 0;
const tokens = new Map<string, number>();
const minutes = 60_000;

const app = new Hono();
const status = (code: 400 | 401 | 404, text: string) =>
  new Response(JSON.stringify({ imsx_codeMajor: 'failure', imsx_severity: 'error', imsx_description: text }), {
    status: code,
    headers: { 'Content-Type': 'application/json' },
  });

app.post('/token', async (c) => {
  const basic = Buffer.from((c.req.header('Authorization') ?? '').replace(/^Basic /, ''), 'base64').toString();
  const body = new URLSearchParams(await c.req.text());
  const [client, secret] = basic ? basic.split(':') : [body.get('client_id'), body.get('client_secret')];
  if (body.get('grant_type') !== 'client_credentials') return c.json({ error: 'unsupported_grant_type' }, 400);
  if (client !== values.client || secret !== values.secret) return c.json({ error: 'invalid_client' }, 401);
  const token = randomBytes(24).toString('base64url');
  tokens.set(token, Date.now() + 30 * minutes);
  return c.json({ access_token: token, token_type: 'Bearer', expires_in: 1800 });
});

app.use('/ims/*', async (c, next) => {
  const until = tokens.get((c.req.header('Authorization') ?? '').replace(/^Bearer /, ''));
  if (!until || until < Date.now()) return status(401, 'The token is missing or has run out.');
  return next();
});

for (const { file, path } of collections) {
  app.get(`/ims/oneroster/rostering/v1p2/${path}`, (c) => {
    const [limit, offset] = [Number(c.req.query('limit') ?? 100), Number(c.req.query('offset') ?? 0)];
    if (!(limit > 0 && offset >= 0)) return status(400, 'limit and offset are whole numbers.');
    const all = records[file] ?? [];
    const roles = new Map<string, RosterRecord[]>();
    if (file === 'users.csv')
      for (const role of records['roles.csv'] ?? [])
        roles.set(role.userSourcedId!, [...(roles.get(role.userSourcedId!) ?? []), role]);
    const page = all.slice(offset, offset + Math.min(limit, 5000)).map((r) => toJson(file, r, roles.get(r.sourcedId!)));
    c.header('X-Total-Count', String(all.length));
    return c.json({ [path]: page });
  });
}

app.post('/next-night', (c) => {
  const made = nextNight(records, ++night);
  records = made.records;
  return c.json({ night, ...made.truth });
});
app.get('/healthz', (c) => c.json({ status: 'ok', night, users: records['users.csv']?.length ?? 0 }));

serve({ fetch: app.fetch, hostname: '127.0.0.1', port: Number(values.port) }, ({ port }) => {
  console.log(`register: http://127.0.0.1:${port}/ims/oneroster/rostering/v1p2, tokens from /token`);
});
// Started by another process it ends with it.
process.on('disconnect', () => process.exit());
