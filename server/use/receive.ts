/**
 * Statements that products send, each product with a key of its own. A statement that was sent before counts once.
 * Statements are not given out again: what is kept of them is their use.
 */
import { say } from '#core/messages/say';
import { createHash, randomUUID } from 'node:crypto';
import { recordOf, type Statement } from '#core/use/index';
import { Fault } from '../faults';
import type { Viewer } from '../services';
import { audit } from '../trail';
import { hashToken, newToken } from '../auth/seal';
import { type Bucket, attempt, usedUp } from '../auth/limits';
import { clock, nowIso } from '../clock';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { productOf } from '../licenses/edit';
import { productLabel } from '../licenses/state';
import type { Api } from '../contract';
import { writeUse } from './records';
import { insertMany } from '../db/bulk';

/** A new key for the product; the one before no longer holds. Its secret is shown this once. */
export async function makeKey(
  { db, config }: { db: Db; config: Config },
  viewer: Viewer,
  productId: string,
): Promise<{ name: string; secret: string; address: string }> {
  const product = await productOf(db, productId);
  const secret = newToken();
  const name = `product-${productId.slice(-8).toLowerCase()}`;
  const made = { productId, name, keyHash: hashToken(secret), createdBy: viewer.personId, createdAt: nowIso() };
  await db.models.productKeys.upsert({ ...made, lastAt: null });
  await audit(db, { by: viewer.personId, action: 'product.key', detail: product.name });
  return { name, secret, address: `${config.url}/xapi` };
}

/** Each product, by its name, with the key that it has. */
export async function productKeys(db: Db): Promise<Api['GET /api/product-keys']['out']> {
  const [products, keys] = await Promise.all([
    db.models.product.findAll({ order: ['name'], raw: true }),
    db.models.productKeys.findAll({ attributes: ['productId', 'createdAt', 'lastAt'], raw: true }),
  ]);
  const byProduct = new Map(keys.map((key) => [key.productId, key]));
  return products.map((product) => {
    const key = byProduct.get(product.id);
    return {
      id: product.id,
      label: productLabel(product),
      madeAt: key?.createdAt ?? null,
      lastAt: key?.lastAt ?? null,
    };
  });
}

/** The product whose key is sent along. Throws Fault signed-out, and too-many where wrong ones come one after the other. */
export async function productBy(db: Db, header: string | undefined, address: string): Promise<string> {
  const bucket: Bucket = [`xapi:${address}`, 100, 900];
  if (await usedUp(db, [bucket])) throw new Fault('too-many', say('use.tooManyWrongKeysWait'));
  const [name = '', secret = ''] = Buffer.from(header?.match(/^Basic (.+)$/i)?.[1] ?? '', 'base64')
    .toString()
    .split(':');
  const found = /^[\x21-\x7e]{1,40}$/.test(name)
    ? await db.models.productKeys.findOne({
        attributes: ['productId'],
        where: { name, keyHash: hashToken(secret) },
        raw: true,
      })
    : null;
  if (found) return found.productId;
  await attempt(db, bucket);
  throw new Fault('signed-out', say('use.thisKeyIsNotKnown'));
}

/** Stores all of them or none; the ids in their order. Throws Fault malformed and conflict as the standard asks. */
export async function receive(db: Db, productId: string, sent: readonly Statement[]): Promise<string[]> {
  const now = nowIso();
  const ids = sent.map(({ id }) => id ?? randomUUID());
  if (new Set(ids).size < ids.length) throw new Fault('malformed', say('use.idTwoStatementsInThe'));
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
      if (error instanceof RangeError)
        throw new Fault('malformed', say('use.statement', { i: i + 1, message: error.message }));
      throw error;
    }
  });
  if (all.length === 0) return ids;
  await db.transaction(async (tx) => {
    // One batch of a product after the other, so that who sends the same at once finds it counted.
    const { productKeys, statements } = db.models;
    await productKeys.findOne({ attributes: ['productId'], where: { productId }, lock: true, transaction: tx });
    const rows = await statements.findAll({
      attributes: ['id', 'contentHash', 'productId'],
      where: { id: ids },
      transaction: tx,
      raw: true,
    });
    const stored = new Map(rows.map((row) => [row.id, row]));
    const fresh = all.filter(({ id, hash }) => {
      const row = stored.get(id);
      if (row && (row.contentHash !== hash || row.productId !== productId))
        throw new Fault('conflict', say('use.idThereIsAlreadyAnother', { id }));
      return !row;
    });
    await insertMany(
      db,
      'statements',
      fresh.map(({ id, hash, record }) => ({ id, contentHash: hash, productId, day: clock.dayOf(record.at) })),
      tx,
    );
    await writeUse(
      db,
      tx,
      productId,
      fresh.map(({ record }) => record),
    );
    await productKeys.update({ lastAt: now }, { where: { productId }, transaction: tx });
  });
  return ids;
}
