/**
 * What a request may bring: so many bytes, counted while they arrive; values so deep and so many. Who is not signed in
 * brings little, and no route more than it needs.
 */
import { say, unsaid } from '#core/messages/say';
import type { Context } from 'hono';
import { Fault } from '../faults';

const kb = 1024;
const mb = 1024 * kb;
/** Without signing in. */
export const smallBody = 64 * kb;
const usualBody = 1 * mb;
/** Routes that take more, by method and path. */
const largeBodies: Record<string, number> = {
  'POST /api/intakes': 64 * mb,
  'POST /api/intakes/:id/draft': 24 * mb,
  'POST /api/inventory/preview': 24 * mb,
  'POST /api/inventory/plan': 24 * mb,
  'POST /api/materials': 8 * mb,
  'POST /api/materials/take': 24 * mb,
  'POST /api/uses': 24 * mb,
  'POST /api/scans': 4 * mb,
  'POST /api/sheaf/gather': 4 * mb,
  'POST /api/sheaf/let-go': 4 * mb,
  'POST /api/year/split': 4 * mb,
};
const mostDepth = 24;
const mostValues = 1_000_000;

/** The bytes of the body, however they are sent. Throws Fault too-large as soon as there are too many. */
export async function bytesOf(c: Context, most: number): Promise<Buffer> {
  const tooLarge = () =>
    new Fault(
      'too-large',
      say('api.tooLarge', {
        most: most >= mb ? say('api.mb', { size: most / mb }) : say('api.kb', { size: most / kb }),
      }),
    );
  const said = Number(c.req.header('content-length') ?? 0);
  if (said > most) throw tooLarge();
  // No more than what was said can arrive, so that it need not be counted while it does.
  if (said > 0 && c.req.header('transfer-encoding') === undefined) {
    const whole = Buffer.from(await c.req.raw.arrayBuffer());
    if (whole.byteLength > most) throw tooLarge();
    return whole;
  }
  const parts: Uint8Array[] = [];
  let size = 0;
  const stream = c.req.raw.body;
  if (!stream) return Buffer.alloc(0);
  const reader = stream.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    size += value.byteLength;
    if (size > most) {
      await reader.cancel().catch(() => {});
      throw tooLarge();
    }
    parts.push(value);
  }
  return Buffer.concat(parts, size);
}

/** The most bytes that a route takes. */
export const mostBytes = (route: string, isSignedIn: boolean): number =>
  isSignedIn ? (largeBodies[route] ?? usualBody) : smallBody;

/** Throws Fault malformed for what is not JSON, or is nested or made up of more values than anything that Sheaf asks for. */
export function readJson(bytes: Buffer): unknown {
  if (bytes.length === 0) return undefined;
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new Fault('malformed', say('api.theRequestBodyIsNot'));
  }
  const { depth, values } = shapeOf(text);
  if (depth > mostDepth) throw new Fault('malformed', say('api.theRequestBodyIsNested', { most: mostDepth }));
  if (values > mostValues) throw new Fault('too-large', say('api.theRequestBodyHasToo'));
  try {
    // A mark of a text by key stands in JSON as an escape. Most bodies have none, and are read without looking at each value.
    return /\\u000[23]/.test(text)
      ? (JSON.parse(text, (_, value: unknown) => (typeof value === 'string' ? unsaid(value) : value)) as unknown)
      : (JSON.parse(text) as unknown);
  } catch {
    throw new Fault('malformed', say('api.theRequestBodyIsNot2'));
  }
}

/** How deep brackets go, and how many values they hold at most, without building anything. */
function shapeOf(text: string): { depth: number; values: number } {
  let [depth, now, values, isText] = [0, 0, 1, false];
  for (let i = 0; i < text.length; i++) {
    const letter = text.charCodeAt(i);
    if (isText) {
      if (letter === 0x5c) i++;
      else if (letter === 0x22) isText = false;
    } else if (letter === 0x22) isText = true;
    else if (letter === 0x5b || letter === 0x7b) depth = Math.max(depth, ++now);
    else if (letter === 0x5d || letter === 0x7d) now--;
    else if (letter === 0x2c) values++;
  }
  return { depth, values };
}
