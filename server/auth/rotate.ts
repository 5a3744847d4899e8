/**
 * A new key in the place of the one before: everything that is sealed is sealed anew, a part at a time, each in a
 * transaction of its own. What was sealed by either key opens meanwhile, so the server may run, and what was interrupted
 * goes on where it stopped. The rows of plans are sealed anew with those that they set, so that undoing still fits.
 */
import { col, fn, Op, where } from 'sequelize';
import { type Change, pack, unpack } from '#core/plan/index';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import type { Keys } from './keys';
import { isCurrent, macOf, resealed, unsealText } from './seal';
import { declared, someModel } from '../db/models';
import { noteKey } from './key-register';
import { sealAnew } from './queries';

const atOnce = 2000;

const anew = (keys: Keys, bound: string, text: string): string | null => {
  const bytes = Buffer.from(text, 'base64');
  return isCurrent(keys, bytes) ? null : resealed(keys, bound, bytes).toString('base64');
};

/** Columns of sealed text: the table, its key, what each is bound to, and the column. */
const columns = [
  { name: 'account', id: 'id', bound: 'personId', column: 'secretSealed' },
  { name: 'joinCodes', id: 'id', bound: 'id', column: 'codeSealed' },
  { name: 'feeds', id: 'id', bound: 'id', column: 'secretSealed' },
  { name: 'appCodes', id: 'accountId', bound: 'accountId', column: 'secretSealed' },
] as const;

/** Seals everything by the current key. `progress` is told rows looked at, of how many. Returns the rows changed. */
export async function rotate(
  db: Db,
  keys: Keys,
  progress: (done: number, total: number) => void = () => {},
): Promise<number> {
  await noteKey(db, keys.current.id);
  const ofAccounts = { kind: { [Op.like]: 'account.%' } };
  let total = await db.models.planChunks.count({ where: ofAccounts });
  for (const { name } of columns) total += await someModel(db.models, name).count();
  let [done, changed] = [0, 0];
  for (const { name, id, bound, column } of columns)
    for (let after = ''; ;) {
      const rows = (await someModel(db.models, name).findAll({
        attributes: [
          [id, 'id'],
          [bound, 'bound'],
          [column, 'text'],
        ],
        where: { [id]: { [Op.gt]: after } },
        order: [id],
        limit: atOnce,
        raw: true,
      })) as unknown as { id: string; bound: string; text: string | null }[];
      if (rows.length === 0) break;
      after = rows.at(-1)!.id;
      const fresh = rows.flatMap((row): unknown[][] => {
        const text = row.text === null ? null : anew(keys, row.bound, row.text);
        if (text === null) return [];
        // Somebody who had a new password meanwhile keeps that one.
        const set = name === 'joinCodes' ? [text, macOf(keys, unsealText(keys, row.bound, text))] : [text];
        return [[...set, row.id, row.text]];
      });
      const { table } = declared[name];
      await db.transaction((tx) => sealAnew(db, tx, { table, id, column, hasMac: name === 'joinCodes' }, fresh));
      changed += fresh.length;
      progress((done += rows.length), total);
    }
  const { planChunks } = db.models;
  const chunks = await planChunks.findAll({ attributes: ['planId', 'seq'], where: ofAccounts, raw: true });
  for (const { planId, seq } of chunks) {
    const here = { planId, seq };
    const row = await planChunks.findOne({ attributes: ['body'], where: here, raw: true });
    const changes = unpack(row!.body);
    const fresh = changes.map((change) => withSealed(keys, change));
    if (fresh.some((change, i) => change !== changes[i])) {
      await planChunks.update({ body: pack(fresh) }, { where: here });
      changed++;
    }
    progress(++done, total);
  }
  // Prints hold for an hour; those by an earlier key are printed again.
  const head = `02${keys.current.id}`.toUpperCase();
  await db.models.prints.update(
    { sealedPdf: null },
    {
      where: {
        [Op.and]: [
          { sealedPdf: { [Op.ne]: null } },
          where(fn('LEFT', fn('HEX', col('sealedPdf')), 18), { [Op.ne]: head }),
        ],
      },
    },
  );
  await db.models.sealKeys.update(
    { retiredAt: nowIso() },
    { where: { id: { [Op.ne]: keys.current.id }, retiredAt: null } },
  );
  return changed;
}

function withSealed(keys: Keys, change: Change): Change {
  const { before, after, subject } = change;
  const bound =
    typeof after.personId === 'string'
      ? after.personId
      : typeof before.personId === 'string'
        ? before.personId
        : subject;
  const part = (fields: Change['before']) => {
    const text = fields.secretSealed;
    const fresh = typeof text === 'string' ? anew(keys, bound, text) : null;
    return fresh === null ? fields : { ...fields, secretSealed: fresh };
  };
  const [b, a] = [part(before), part(after)];
  return b === before && a === after ? change : { ...change, before: b, after: a };
}
