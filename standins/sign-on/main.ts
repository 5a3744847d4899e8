/**
 * A district's single sign-on, simulated: an OpenID Connect provider that lets anybody be whoever they say they are.
 *   node --import tsx standins/sign-on/main.ts --port 8314 --back http://127.0.0.1:8200/api/sign-on/back
 */
import { createServer } from 'node:http';
import { parseArgs } from 'node:util';
import Provider from 'oidc-provider';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '8314' },
    back: { type: 'string', default: 'http://127.0.0.1:8200/api/sign-on/back' },
    client: { type: 'string', default: 'sheaf' },
    secret: { type: 'string', default: 'tide-table' },
  },
});
const issuer = `http://127.0.0.1:${values.port}`;

const provider = new Provider(issuer, {
  clients: [
    {
      client_id: values.client,
      client_secret: values.secret,
      redirect_uris: [values.back],
      grant_types: ['authorization_code'],
      response_types: ['code'],
    },
  ],
  claims: { openid: ['sub', 'preferred_username', 'email', 'email_verified'] },
  conformIdTokenClaims: false,
  findAccount: (_context, id) => ({
    accountId: id,
    // "someone@elsewhere.example" has that address; "someone?" never confirmed theirs.
    claims: () => {
      const name = id.replace(/\?$/, '');
      const email = name.includes('@') ? name : `${name}@isles.example`;
      return { sub: `person-${id}`, preferred_username: name, email, email_verified: !id.endsWith('?') };
    },
  }),
  features: { devInteractions: { enabled: false } },
  interactions: { url: (_context, { uid }) => `/as/${uid}` },
  // Whoever signs in agrees.
  loadExistingGrant: async (context) => {
    const { client, session } = context.oidc;
    const grant = new context.oidc.provider.Grant({ clientId: client!.clientId, accountId: session!.accountId });
    grant.addOIDCScope('openid');
    await grant.save();
    return grant;
  },
  cookies: { keys: ['a stand-in keeps no secrets'] },
});

const page = (
  uid: string,
): string => `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>District sign-on</title></head>
<body style="font: 18px/1.5 sans-serif; max-width: 24rem; margin: 4rem auto"><h1>District sign-on</h1>
<form method="post" action="/as/${uid}"><label>Who are you? <input name="who" autofocus></label> <button>Sign on</button></form></body></html>`;

const serve = provider.callback();
createServer((request, response) => {
  void (async () => {
    const url = new URL(request.url ?? '/', issuer);
    if (url.pathname === '/healthz') {
      response.end('{"status":"ok"}');
      return;
    }
    const uid = /^\/as\/([\w-]+)$/.exec(url.pathname)?.[1];
    if (!uid) return serve(request, response);
    if (request.method === 'GET') {
      response.setHeader('Content-Type', 'text/html; charset=utf-8');
      response.end(page(uid));
      return;
    }
    let body = '';
    for await (const piece of request) body += String(piece);
    const accountId = new URLSearchParams(body).get('who') ?? '';
    await provider.interactionFinished(request, response, { login: { accountId } });
  })().catch((error: unknown) => {
    response.statusCode = 500;
    response.end(String(error));
  });
}).listen(Number(values.port), '127.0.0.1', () => console.log(`sign-on stand-in at ${issuer}`));
// Started by another process it ends with it.
process.on('disconnect', () => process.exit());
