import type { EventEmitter } from 'node:events';
import type { IncomingMessage, ServerResponse } from 'node:http';

/**
 * Watches what is being answered, so that a server which ends may let it come to its end: resolves when everything
 * asked before is answered, or after `mostMs`. Streams of events do not end by themselves and are not waited for.
 */
export function watchAnswers(server: EventEmitter): (mostMs: number) => Promise<void> {
  const open = new Set<ServerResponse>();
  let told: (() => void) | null = null;
  const isStream = (response: ServerResponse) =>
    String(response.getHeader('content-type') ?? '').startsWith('text/event-stream');
  const allAnswered = () => [...open].every(isStream);
  server.on('request', (_: IncomingMessage, response: ServerResponse) => {
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
