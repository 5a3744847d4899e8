/** What the directory should hold: everyone with an account, every open class with its people; and what of it waits to be sent. */
import { createHash } from 'node:crypto';
import { type DirectoryPerson, fingerprint, groupOf, type Kind, type Resource, userOf } from '#core/directory/index';
import type { Db } from '../db/connection';
import { district } from '../district';

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
  const rows = await db.select<Omit<DirectoryPerson, 'active'> & { isActive: number }>(
    `SELECT p.id, ac.username AS userName, p.givenName, p.familyName, p.email, p.role, p.number, s.name AS school, ac.status = 'active' AND p.status = 'active' AS isActive
     FROM accounts ac JOIN people p ON p.id = ac.personId AND p.status <> 'merged' LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId`,
  );
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
  const classes = await db.select<{ id: string; name: string; school: string }>(
    "SELECT c.id, c.name, s.name AS school FROM classes c JOIN schools s ON s.id = c.schoolId WHERE c.ends IS NULL AND c.kind <> 'template'",
  );
  const members = new Map(classes.map(({ id }) => [id, [] as string[]]));
  const rows = await db.select<{ classId: string; personId: string }>(
    'SELECT DISTINCT e.classId, e.personId FROM enrollments e JOIN accounts ac ON ac.personId = e.personId WHERE e.ends IS NULL',
  );
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
    const put = (rows: unknown[][]) =>
      db.batch(
        `INSERT INTO directory_items (id, kind, label, wantedHash, state, tries) VALUES (?, ?, ?, ?, 'due', 0)
         ON DUPLICATE KEY UPDATE label = VALUES(label), wantedHash = VALUES(wantedHash), state = 'due', tries = 0, lastError = NULL`,
        rows,
        tx,
      );
    for (let at = 0; at < changed.length; at += 2000)
      await put(changed.slice(at, at + 2000).map(({ id, kind, label, hash }) => [id, kind, label.slice(0, 250), hash]));
    if (missing.length > 0)
      await db.batch(
        "UPDATE directory_items SET wantedHash = ?, state = 'due', tries = 0, lastError = NULL WHERE id = ?",
        missing.map(({ id }) => [gone, id]),
        tx,
      );
  });
  return all;
}
