import { createServer, get, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, it } from 'vitest';
import { watchAnswers } from './answering';

/** Longer than any test runs: who waits for it has waited for the wrong thing. */
const forever = 2 ** 31 - 1;

it('a server that ends waits for answers, and not for streams of events that somebody follows', async () => {
  const held: ServerResponse[] = [];
  const server = createServer((request, response) => {
    const isStream = request.url === '/events';
    // As the framework writes it: head and headers at once.
    response.writeHead(200, { 'Content-Type': isStream ? 'text/event-stream' : 'text/plain' });
    response.write('begun');
    if (!isStream) held.push(response);
  });
  const answered = watchAnswers(server);
  await new Promise<void>((open) => server.listen(0, '127.0.0.1', open));
  const { port } = server.address() as AddressInfo;
  const begun = (path: string, accept: string) =>
    new Promise<void>((done) => {
      const asking = get({ host: '127.0.0.1', port, path, headers: { accept } }, (answer) =>
        answer.once('data', () => done()),
      );
      asking.on('error', () => {});
    });
  await begun('/events', 'text/event-stream');
  await answered(forever);
  await begun('/', 'application/json');
  let isOver = false;
  const over = answered(forever).then(() => (isOver = true));
  await begun('/events', 'text/event-stream');
  expect(isOver).toBe(false);
  held[0]!.end();
  await over;
  server.closeAllConnections();
  server.close();
});
