/** What the directory should hold: everyone with an account, every open class with its people; and what of it waits to be sent. */
import { createHash } from 'node:crypto';
import { fingerprint, groupOf, type Kind, type Resource, userOf } from '#core/directory/index';
import type { Db } from '../db/connection';
import { district } from '../district';
import { Op } from 'sequelize';
import { insertMany } from '../db/bulk';
import { joined } from '../db/joined';
import { membersNow, usersNow } from './queries';

export interface Wanted {
  id: string;
  kind: Kind;
  label: string;
  /** Members by their ids in Sheaf; the sender puts those of the directory. */
  resource: Resource;
  members: string[];
  /** Not to be made when it is not there yet: on hold, or left. */
  onlyIfThere: boolean;
  hash: string;
}

const hashOf = (kind: Kind, resource: Resource): string =>
  createHash('sha256').update(fingerprint(kind, resource)).digest('hex');

export async function wantedUsers(db: Db): Promise<Wanted[]> {
  const name = (await district(db))?.name ?? '';
  const rows = await usersNow(db);
  return rows.map(({ isActive, ...row }) => {
    const resource = userOf({ ...row, active: isActive === 1 }, name);
    const label = `${row.familyName}, ${row.givenName} · ${row.userName}`;
    return {
      id: row.id,
      kind: 'User',
      label,
      resource,
      members: [],
      onlyIfThere: isActive !== 1,
      hash: hashOf('User', resource),
    };
  });
}

export async function wantedGroups(db: Db): Promise<Wanted[]> {
  const classes = await joined(db, 'class', {
    fields: ['id', 'name'],
    of: { school: 'school.name' },
    where: { ends: null, kind: { [Op.ne]: 'template' } },
  });
  const members = new Map(classes.map(({ id }) => [id, [] as string[]]));
  const rows = await membersNow(db);
  for (const { classId, personId } of rows) members.get(classId)?.push(personId);
  return classes.map((one) => {
    const ids = members.get(one.id)!;
    const resource = groupOf({ ...one, members: ids });
    const label = `${one.name} · ${one.school}`;
    return {
      id: one.id,
      kind: 'Group',
      label,
      resource,
      members: ids,
      onlyIfThere: false,
      hash: hashOf('Group', resource),
    };
  });
}

const gone = '-';

/** Marks what differs from what was last sent as due; what is no longer wanted is due as well. Returns all that is wanted, by id. */
export async function queue(db: Db): Promise<Map<string, Wanted>> {
  const wanted = [...(await wantedUsers(db)), ...(await wantedGroups(db))];
  const known = new Map(
    (await db.models.directory.findAll({ attributes: ['id', 'wantedHash', 'remoteId'], raw: true })).map((row) => [
      row.id,
      row,
    ]),
  );
  const changed = wanted.filter(({ id, hash, onlyIfThere }) => {
    const row = known.get(id);
    return row ? row.wantedHash !== hash : !onlyIfThere;
  });
  const all = new Map(wanted.map((one) => [one.id, one]));
  const missing = [...known.values()].filter(({ id, wantedHash }) => !all.has(id) && wantedHash !== gone);
  await db.transaction(async (tx) => {
    const anew = { label: 'anew', wantedHash: 'anew', state: 'anew', tries: 'anew', lastError: 'anew' } as const;
    for (let at = 0; at < changed.length; at += 2000)
      await insertMany(
        db,
        'directory',
        changed.slice(at, at + 2000).map(({ id, kind, label, hash }) => ({
          ...{ id, kind, label: label.slice(0, 250), wantedHash: hash, state: 'due', tries: 0, lastError: null },
        })),
        tx,
        anew,
      );
    await db.models.directory.update(
      { wantedHash: gone, state: 'due', tries: 0, lastError: null },
      { where: { id: missing.map(({ id }) => id) }, transaction: tx },
    );
  });
  return all;
}
