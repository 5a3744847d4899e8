/** Calls to the server, typed by its contract. What goes wrong is thrown as a CallError with the server's own words. */
import type { Api, Failure, RouteName } from '../server/contract';
import { whenBack } from './away';
import { askPassword } from './confirm';
import { readAnswer, t, wordsFor } from './words';

export class CallError extends Error {
  constructor(
    readonly status: number,
    message: string,
    /** The plan that a guard holds, which waits to be released. */
    readonly planId?: string,
  ) {
    super(message);
  }
}

export type Options<R extends RouteName> = (Api[R] extends { body: infer B } ? { body: B } : { body?: undefined }) &
  (Api[R] extends { query: infer Q } ? { query: Q } : { query?: undefined }) & { id?: string; signal?: AbortSignal };

type Args<R extends RouteName> = Api[R] extends { body: unknown } | { query: unknown }
  ? [options: Options<R>]
  : [options?: Options<R>];

/** `call('GET /api/people/:id', { id })` */
export async function call<R extends RouteName>(route: R, ...[options]: Args<R>): Promise<Api[R]['out']> {
  const [method, path] = route.split(' ') as [string, string];
  return send(
    method,
    path.replace(':id', options?.id ?? '') + search(options?.query as object | undefined),
    options?.body === undefined ? undefined : JSON.stringify(options.body),
    { signal: options?.signal },
  );
}

/** Sends a file's bytes, as the next one of a feed if one is named. */
export const upload = (file: Blob, name: string, feed: string | null = null): Promise<{ id: string }> =>
  send('POST', `/api/intakes${search({ name, feed })}`, file, { type: 'application/octet-stream' });

/** Sent while the page goes away; nobody waits for the answer. */
export function beacon<R extends RouteName>(route: R, body: Api[R] extends { body: infer B } ? B : never): void {
  navigator.sendBeacon(route.split(' ')[1]!, new Blob([JSON.stringify(body)], { type: 'application/json' }));
}

async function send<T>(
  method: string,
  url: string,
  body: BodyInit | undefined,
  how: { type?: string; signal?: AbortSignal } = {},
): Promise<T> {
  const { type = 'application/json', signal } = how;
  let response: Response;
  try {
    response = await fetch(url, {
      ...{ method, body, signal },
      headers: { 'X-Texts': 'keys', ...(body === undefined ? {} : { 'Content-Type': type }) },
    });
  } catch (error) {
    // Given up by who asked: nobody is told.
    if (signal?.aborted) throw error;
    throw new CallError(0, t('kit.serverDoesNotAnswer'));
  }
  const text = await response.text();
  await wordsFor(text);
  if (response.ok) return readAnswer<T>(text);
  // The session ended in between: the router leads to the sign-in.
  if (response.status === 401 && !url.startsWith('/api/sign-in') && url !== '/api/me')
    window.dispatchEvent(new Event('signed-out'));
  const failure = failureIn(text);
  // Looking again does no harm, so the page waits; what would change something is the person's to do again.
  if (failure?.away && method === 'GET') {
    await whenBack();
    return send(method, url, body, how);
  }
  if (failure?.confirm && (await askPassword())) return send(method, url, body, how);
  throw new CallError(
    response.status,
    failure?.error ?? t('kit.serverAnswered', { status: String(response.status) }),
    failure?.planId,
  );
}

/** What else than Sheaf answers may say it in no JSON. */
function failureIn(text: string): Failure | null {
  try {
    return readAnswer<Failure>(text);
  } catch {
    return null;
  }
}

function search(query: object | undefined): string {
  const pairs = Object.entries(query ?? {}).filter(
    ([, value]) => value !== undefined && value !== null && value !== '',
  );
  return pairs.length > 0 ? `?${new URLSearchParams(pairs.map(([key, value]) => [key, String(value)]))}` : '';
}
