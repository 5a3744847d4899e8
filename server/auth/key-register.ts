/**
 * Which keys belong to a database: their ids stand in it. A server with another key, or with a new one beside a
 * database that has sealed rows, does not start, since all that it would seal could be opened by nobody else.
 */
import { Op } from 'sequelize';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import type { Keys } from './keys';
import { unsealText } from './seal';

export class WrongKey extends Error {}

/** Writes down that a key is in use, once. */
export const noteKey = (db: Db, id: string): Promise<unknown> =>
  db.models.sealKeys.bulkCreate([{ id, createdAt: nowIso() }], { ignoreDuplicates: true });

const where = 'The key is in SHEAF_KEY or in the file seal.key of the data folder (SHEAF_DATA).';

/**
 * Throws WrongKey, with what to do, unless one of the keys is the database's. Writes down the first one. True: the
 * current key is a new one, or took the place of another and was interrupted, so everything is to be sealed anew.
 */
export async function checkKeys(db: Db, keys: Keys): Promise<boolean> {
  const known = await db.models.sealKeys.findAll({ attributes: ['id', 'retiredAt'], raw: true });
  if (known.length === 0) {
    if (!(await opensWhatIsThere(db, keys))) throw wrong('none of the passwords that are sealed here opens with it');
    await noteKey(db, keys.current.id);
    return false;
  }
  const inUse = known.filter(({ retiredAt }) => retiredAt === null).map(({ id }) => id);
  if (inUse.includes(keys.current.id)) return inUse.length > 1;
  // Whoever has the key that is in use may give the place to another.
  if (inUse.every((id) => keys.all.some((key) => key.id === id))) return true;
  throw wrong(`this database is sealed by the key ${inUse.join(' or ')}, and the one given is ${keys.current.id}`);
}

const wrong = (why: string): WrongKey =>
  new WrongKey(
    `The key does not fit the database: ${why}. ${where} Put back the key that belongs to this database, from its backup; a new key opens nothing that is sealed.`,
  );

/** For a database written before keys had ids: true if it has no sealed passwords, or if the first one opens with this key. */
async function opensWhatIsThere(db: Db, keys: Keys): Promise<boolean> {
  const row = await db.models.account.findOne({
    attributes: ['personId', 'secretSealed'],
    where: { secretSealed: { [Op.not]: null } },
    raw: true,
  });
  if (!row) return true;
  try {
    unsealText(keys, row.personId, row.secretSealed!);
    return true;
  } catch {
    return false;
  }
}
