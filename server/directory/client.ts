/** Talking to a directory over SCIM 2.0: one request at a time, told apart into done, come back later, and no. */
import { say } from '#core/messages/say';
import { machineNow } from '../clock';
import { isObject, type Json, type Operation, patchSchema, type Resource } from '#core/directory/index';

export interface DirectoryAt {
  /** Up to and with /scim/v2. */
  url: string;
  token: string;
}

/** The answer did not come, or says to come back: what was asked may have been done or not. */
export class Later extends Error {
  constructor(
    message: string,
    /** Milliseconds that the directory asks to wait; null: it does not say. */
    readonly waitMs: number | null,
    /** Nothing answers at all. */
    readonly isDown = false,
  ) {
    super(message);
  }
}
/** The directory says no, for a reason that will hold. */
export class No extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

const timeoutMs = 15_000;
const mostAsked = 5;

export class DirectoryClient {
  constructor(private readonly at: DirectoryAt) {}

  /** Asking again does no harm, so what is only read is asked for a few times. */
  private async ask(path: string): Promise<Resource> {
    for (let tries = 1; ; tries++) {
      try {
        return await this.send('GET', path);
      } catch (error) {
        if (!(error instanceof Later) || tries === mostAsked) throw error;
        await new Promise((wait) => setTimeout(wait, error.waitMs ?? 200 * 2 ** tries));
      }
    }
  }

  private async send(method: string, path: string, body?: Resource): Promise<Resource> {
    let response: Response;
    let text: string;
    try {
      response = await fetch(`${this.at.url.replace(/\/$/, '')}${path}`, {
        method,
        headers: {
          Authorization: `Bearer ${this.at.token}`,
          Accept: 'application/scim+json',
          ...(body ? { 'Content-Type': 'application/scim+json' } : {}),
        },
        body: body && JSON.stringify(body),
        signal: AbortSignal.timeout(timeoutMs),
      });
      text = await response.text();
    } catch (error) {
      const { cause } = error as { cause?: { code?: string } };
      throw new Later(say('directory.theAnswerWasLost'), null, cause?.code === 'ECONNREFUSED');
    }
    if (response.status === 429 || response.status >= 500)
      throw new Later(
        say('directory.itAnswered', { status: response.status }),
        waitOf(response.headers.get('Retry-After')),
      );
    let answer: Json = null;
    try {
      answer = text === '' ? {} : (JSON.parse(text) as Json);
    } catch {
      throw new No(response.status, say('directory.itsAnswerIsNotScim'));
    }
    if (!isObject(answer)) throw new No(response.status, say('directory.itsAnswerIsNotA'));
    if (!response.ok)
      throw new No(
        response.status,
        typeof answer.detail === 'string' ? answer.detail : say('directory.itAnswered', { status: response.status }),
      );
    return answer;
  }

  create = (kind: Kinds, resource: Resource): Promise<Resource> => this.send('POST', `/${kind}`, resource);
  read = (kind: Kinds, id: string): Promise<Resource> => this.send('GET', `/${kind}/${encodeURIComponent(id)}`);
  patch = (kind: Kinds, id: string, operations: Operation[]): Promise<Resource> =>
    this.send('PATCH', `/${kind}/${encodeURIComponent(id)}`, {
      schemas: [patchSchema],
      Operations: operations as unknown as Json[],
    });
  remove = (kind: Kinds, id: string): Promise<Resource> => this.send('DELETE', `/${kind}/${encodeURIComponent(id)}`);

  /** Those for which the attribute is exactly the text. */
  async find(kind: Kinds, attribute: string, value: string): Promise<Resource[]> {
    const filter = `${attribute} eq ${JSON.stringify(value)}`;
    return resourcesOf(await this.send('GET', `/${kind}?${new URLSearchParams({ filter, count: '10' })}`));
  }

  /** All of a kind, page after page. */
  async *all(kind: Kinds): AsyncGenerator<Resource[]> {
    for (let startIndex = 1; ;) {
      const answer = await this.ask(
        `/${kind}?${new URLSearchParams({ startIndex: String(startIndex), count: '200' })}`,
      );
      const page = resourcesOf(answer);
      yield page;
      startIndex += page.length;
      if (page.length === 0 || startIndex > Number(answer.totalResults)) return;
    }
  }
}
export type Kinds = 'Users' | 'Groups';

const resourcesOf = (answer: Resource): Resource[] =>
  Array.isArray(answer.Resources) ? answer.Resources.filter(isObject) : [];

/** Retry-After: seconds, or a date (RFC 9110, 10.2.3). */
function waitOf(header: string | null): number | null {
  if (header === null) return null;
  const seconds = Number(header);
  const ms = Number.isNaN(seconds) ? Date.parse(header) - machineNow() : seconds * 1000;
  return Number.isNaN(ms) ? null : Math.max(0, Math.min(ms, 60_000));
}
