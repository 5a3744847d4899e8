import type { EventEmitter } from 'node:events';
import type { IncomingMessage, ServerResponse } from 'node:http';

/**
 * Watches what is being answered, so that a server which ends may let it come to its end: resolves when everything
 * asked before is answered, or after `mostMs`. Streams of events do not end by themselves and are not waited for.
 */
export function watchAnswers(server: EventEmitter): (mostMs: number) => Promise<void> {
  const open = new Set<ServerResponse>();
  let told: (() => void) | null = null;
  const allAnswered = () => open.size === 0;
  server.on('request', (request: IncomingMessage, response: ServerResponse) => {
    // By what was asked for: an answer whose head was written at once no longer tells its headers.
    if (request.headers.accept?.includes('text/event-stream')) return;
    open.add(response);
    response.once('close', () => {
      open.delete(response);
      if (allAnswered()) told?.();
    });
  });
  return (mostMs) =>
    new Promise((done) => {
      if (allAnswered()) return done();
      const timer = setTimeout(done, mostMs);
      told = () => {
        clearTimeout(timer);
        done();
      };
    });
}
