/**
 * A small receiver of xAPI 1.0.3 statements (ADL, "Experience API", part three): products send with a key of their own,
 * in batches or one by one. A statement that was sent before counts once; one that cannot be read refuses its batch.
 * Statements are not given out again: what is kept of them is their use.
 */
import { createHash, randomUUID } from 'node:crypto';
import { type Context, Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { z } from 'zod';
import { recordOf, type Statement } from '#core/use/index';
import { Fault } from '../faults';
import type { Viewer } from '../services';
import { audit } from '../trail';
import { hashToken, newToken } from '../auth/seal';
import { type Bucket, attempt, usedUp } from '../auth/limits';
import { nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { productOf } from '../licenses/edit';
import { writeUse } from './records';

const version = '1.0.3';
const mostAtOnce = 1000;

/** What of a statement is looked at; all else in it is allowed and left. */
const statementSchema = z.looseObject({
  id: z.uuid().optional(),
  actor: z.looseObject({
    objectType: z.string().optional(),
    mbox: z
      .string()
      .max(300)
      .regex(/^mailto:.+@.+$/i, 'is no address as in mailto:a@example.org')
      .optional(),
    account: z.looseObject({ homePage: z.string().optional(), name: z.string().min(1).max(254) }).optional(),
  }),
  verb: z.looseObject({ id: z.string().max(400) }),
  object: z.looseObject({
    objectType: z.string().optional(),
    id: z.string().min(1).max(400),
    definition: z
      .looseObject({ type: z.string().optional(), name: z.record(z.string(), z.string()).optional() })
      .optional(),
  }),
  result: z
    .looseObject({
      completion: z.boolean().optional(),
      duration: z.string().optional(),
      score: z
        .looseObject({
          scaled: z.number().min(-1).max(1).optional(),
          raw: z.number().optional(),
          min: z.number().optional(),
          max: z.number().optional(),
        })
        .optional(),
    })
    .optional(),
  timestamp: z.iso.datetime({ offset: true }).optional(),
});

/** A new key for the product; the one before no longer holds. Its secret is shown this once. */
export async function makeKey(
  { db, config }: { db: Db; config: Config },
  viewer: Viewer,
  productId: string,
): Promise<{ name: string; secret: string; address: string }> {
  const product = await productOf(db, productId);
  const secret = newToken();
  const name = `product-${productId.slice(-8).toLowerCase()}`;
  await db.run(
    `INSERT INTO product_keys (productId, name, keyHash, createdBy, createdAt) VALUES (:productId, :name, :hash, :by, :now)
     ON DUPLICATE KEY UPDATE keyHash = :hash, createdBy = :by, createdAt = :now, lastAt = NULL`,
    { productId, name, hash: hashToken(secret), by: viewer.personId, now: nowIso() },
  );
  await audit(db, { by: viewer.personId, action: 'product.key', detail: product.name });
  return { name, secret, address: `${config.url}/xapi` };
}

/** The product whose key is sent along. Throws Fault signed-out, and too-many where wrong ones come one after the other. */
async function productBy(db: Db, header: string | undefined, address: string): Promise<string> {
  const bucket: Bucket = [`xapi:${address}`, 100, 900];
  if (await usedUp(db, [bucket])) throw new Fault('too-many', 'Too many wrong keys. Wait a while.');
  const [name = '', secret = ''] = Buffer.from(header?.match(/^Basic (.+)$/i)?.[1] ?? '', 'base64')
    .toString()
    .split(':');
  const found = /^[\x21-\x7e]{1,40}$/.test(name)
    ? await db.one<{ productId: string }>('SELECT productId FROM product_keys WHERE name = :name AND keyHash = :hash', {
        name,
        hash: hashToken(secret),
      })
    : null;
  if (found) return found.productId;
  await attempt(db, bucket);
  throw new Fault('signed-out', 'This key is not known. A district coordinator makes one under Licenses, Use.');
}

/** Stores all of them or none; the ids in their order. Throws Fault malformed and conflict as the standard asks. */
export async function receive(db: Db, productId: string, sent: readonly Statement[]): Promise<string[]> {
  const now = nowIso();
  const ids = sent.map(({ id }) => id ?? randomUUID());
  if (new Set(ids).size < ids.length) throw new Fault('malformed', 'id: two statements of the batch have the same.');
  const all = sent.map((statement, i) => {
    try {
      return {
        id: ids[i]!,
        hash: createHash('sha256')
          .update(JSON.stringify({ ...statement, id: undefined }))
          .digest('hex'),
        record: recordOf(statement, now),
      };
    } catch (error) {
      if (error instanceof RangeError) throw new Fault('malformed', `statement ${i + 1}: ${error.message}`);
      throw error;
    }
  });
  if (all.length === 0) return ids;
  await db.transaction(async (tx) => {
    // One batch of a product after the other, so that who sends the same at once finds it counted.
    await db.select('SELECT productId FROM product_keys WHERE productId = :productId FOR UPDATE', { productId }, tx);
    const rows = await db.select<{ id: string; contentHash: string; productId: string }>(
      'SELECT id, contentHash, productId FROM statements WHERE id IN (:ids)',
      { ids },
      tx,
    );
    const stored = new Map(rows.map((row) => [row.id, row]));
    const fresh = all.filter(({ id, hash }) => {
      const row = stored.get(id);
      if (row && (row.contentHash !== hash || row.productId !== productId))
        throw new Fault('conflict', `id: another statement with ${id} is there already.`);
      return !row;
    });
    await db.batch(
      'INSERT INTO statements (id, contentHash, productId, day) VALUES (?, ?, ?, ?)',
      fresh.map(({ id, hash, record }) => [id, hash, productId, record.at.slice(0, 10)]),
      tx,
    );
    await writeUse(
      db,
      tx,
      productId,
      fresh.map(({ record }) => record),
    );
    await db.run('UPDATE product_keys SET lastAt = :now WHERE productId = :productId', { now, productId }, tx);
  });
  return ids;
}

/** The receiver, under /xapi. */
export function receiver(db: Db, addressOf: (c: Context) => string): Hono {
  const app = new Hono();
  app.use(
    '/xapi/*',
    bodyLimit({
      maxSize: 4 * 1024 * 1024,
      onError: () => {
        throw new Fault(
          'too-large',
          `The batch is larger than 4 MB. Send no more than ${mostAtOnce} statements at once.`,
        );
      },
    }),
  );
  app.use('/xapi/*', async (c, next) => {
    c.header('X-Experience-API-Version', version);
    await next();
  });
  app.get('/xapi/about', (c) => c.json({ version: [version] }));
  const take = async (c: Context, given?: string): Promise<string[]> => {
    if (!/^1\.0(\.\d+)?$/.test(c.req.header('x-experience-api-version') ?? ''))
      throw new Fault('malformed', `X-Experience-API-Version: send ${version}.`);
    const productId = await productBy(db, c.req.header('authorization'), addressOf(c));
    let body: unknown;
    try {
      body = await c.req.json();
    } catch {
      throw new Fault('malformed', 'The body is no JSON.');
    }
    const list = Array.isArray(body) ? (body as unknown[]) : [body];
    if (list.length > mostAtOnce) throw new Fault('too-large', `Send no more than ${mostAtOnce} statements at once.`);
    const parsed = z.array(statementSchema).safeParse(list);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      const [nth, ...path] = issue!.path;
      throw new Fault('malformed', `statement ${Number(nth) + 1}: ${path.join('.')}: ${issue!.message}`);
    }
    const statements = parsed.data as Statement[];
    if (given === undefined) return receive(db, productId, statements);
    const [one] = statements;
    if (!one || !z.uuid().safeParse(given).success || (one.id !== undefined && one.id !== given))
      throw new Fault('malformed', 'statementId: it is no UUID, or another one than the statement’s.');
    return receive(db, productId, [{ ...one, id: given }]);
  };
  app.post('/xapi/statements', async (c) => c.json(await take(c)));
  app.put('/xapi/statements', async (c) => {
    await take(c, c.req.query('statementId') ?? '');
    return c.body(null, 204);
  });
  return app;
}
