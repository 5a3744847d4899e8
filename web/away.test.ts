import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { call } from './api';
import { isAway } from './away';

let server: Server;
let isUp = true;
const asked: string[] = [];
const own = globalThis.fetch;
beforeAll(async () => {
  server = createServer((request, response) => {
    asked.push(`${request.method} ${request.url}`);
    response.writeHead(isUp ? 200 : 503, { 'Content-Type': 'application/json' });
    response.end(
      JSON.stringify(isUp ? { name: 'Marrow Bay' } : { error: 'Sheaf can’t reach its database.', away: true }),
    );
    // Away for two questions.
    if (asked.length === 3) isUp = true;
  });
  await new Promise<void>((open) => server.listen(0, '127.0.0.1', open));
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  globalThis.fetch = (path, init) => own(`${base}${String(path)}`, init);
});
afterAll(() => {
  globalThis.fetch = own;
  server.close();
});

it('what is looked at waits for the database and comes by itself; what would change something is told at once', async () => {
  isUp = false;
  await expect(call('POST /api/sign-out')).rejects.toMatchObject({ status: 503 });
  expect(isAway.value).toBe(false);
  const [one, other] = [call('GET /api/me'), call('GET /api/today', { query: {} })];
  await new Promise((next) => setTimeout(next, 500));
  expect(isAway.value).toBe(true);
  expect(await one).toEqual({ name: 'Marrow Bay' });
  expect(await other).toEqual({ name: 'Marrow Bay' });
  expect(isAway.value).toBe(false);
  // One question for both whether it is back.
  expect(asked.filter((line) => line === 'GET /healthz')).toHaveLength(1);
});
