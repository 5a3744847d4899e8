/** Writes records of use: by day, results, levels, and the last use, for whoever is on record; the others are strays. */
import { clock } from '../clock';
import type { UseRecord } from '#core/use/index';
import { orNone } from '../db/batches';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';

/** Ids by lower-cased username, number or address. */
export async function peopleCalled(db: Db, whos: readonly string[], tx?: Tx): Promise<Map<string, string>> {
  const asked = [...new Set(whos.filter(Boolean))];
  const ascii = (list: string[]) => orNone(list.filter((who) => /^[\x20-\x7e]+$/.test(who)));
  // Each by its own index; addresses have none, so they are looked for only where somebody is named by one.
  const rows = await inBatches(asked, 5000, (some) =>
    db.select<{ id: string; number: string | null; email: string | null; username: string | null }>(
      `SELECT p.id, p.number, p.email, ac.username FROM (
         SELECT personId AS id FROM accounts WHERE username IN (:names) UNION SELECT id FROM people WHERE number IN (:some)
         ${some.some((who) => who.includes('@')) ? 'UNION SELECT id FROM people WHERE email IN (:some)' : ''}
       ) f JOIN people p ON p.id = f.id LEFT JOIN accounts ac ON ac.personId = p.id WHERE p.status <> 'merged'`,
      { names: ascii(some).map((who) => who.toLowerCase()), some },
      tx,
    ),
  );
  const found = new Map<string, string>();
  for (const { id, number, email, username } of rows)
    for (const who of [email, number, username]) if (who) found.set(who.toLowerCase(), id);
  return found;
}

/** Adds up what has one key; `more` folds a further one into what is there. */
function folded<T>(rows: readonly T[], key: (row: T) => string, more: (kept: T, row: T) => T): T[] {
  const kept = new Map<string, T>();
  for (const row of rows) {
    const at = key(row);
    const known = kept.get(at);
    kept.set(at, known ? more(known, row) : row);
  }
  // In the order of the keys, so that two who write at once wait for each other instead of in a circle.
  return [...kept].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, row]) => row);
}

export interface Written {
  taken: number;
  strays: number;
}

/** Records of one product, in the transaction. Each counts: whoever may send one twice looks first. */
export async function writeUse(db: Db, tx: Tx, productId: string, records: readonly UseRecord[]): Promise<Written> {
  const people = await peopleCalled(
    db,
    records.map(({ who }) => who),
    tx,
  );
  const materials = new Map(
    (
      await db.models.material.findAll({
        attributes: ['id', 'address'],
        where: { productId },
        raw: true,
        transaction: tx,
      })
    ).map(({ id, address }) => [address, id]),
  );
  const known = records.flatMap((record) => {
    const personId = people.get(record.who.toLowerCase());
    return personId ? { ...record, personId, day: clock.dayOf(record.at) } : [];
  });
  await db.batch(
    'INSERT INTO use_days (productId, day, personId, times, seconds) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE times = times + VALUES(times), seconds = seconds + VALUES(seconds)',
    folded(
      known.map(({ day, personId, seconds }) => ({ day, personId, seconds, times: 1 })),
      ({ day, personId }) => `${day} ${personId}`,
      (a, b) => ({ ...a, seconds: a.seconds + b.seconds, times: a.times + b.times }),
    ).map(({ day, personId, times, seconds }) => [productId, day, personId, times, seconds]),
    tx,
  );
  await db.batch(
    'INSERT INTO last_uses (personId, productId, usedOn) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE usedOn = GREATEST(usedOn, VALUES(usedOn))',
    folded(
      known,
      ({ personId }) => personId,
      (a, b) => (a.day < b.day ? b : a),
    ).map(({ personId, day }) => [personId, productId, day]),
    tx,
  );
  const worked = known.flatMap(({ address, ...record }) => {
    const materialId = materials.get(address ?? '');
    return materialId && (record.finished || record.share !== null) ? { ...record, materialId } : [];
  });
  await db.batch(
    'INSERT INTO results (materialId, personId, at, finished, permille, seconds) VALUES (?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE finished = GREATEST(finished, VALUES(finished)), permille = COALESCE(VALUES(permille), permille), seconds = COALESCE(VALUES(seconds), seconds)',
    folded(
      worked,
      ({ materialId, personId, at }) => `${materialId} ${personId} ${at}`,
      (a, b) => ({
        ...a,
        finished: a.finished || b.finished,
        share: b.share ?? a.share,
        seconds: Math.max(a.seconds, b.seconds),
      }),
    ).map((one) => [
      one.materialId,
      one.personId,
      one.at,
      one.finished ? 1 : 0,
      one.share === null ? null : Math.round(one.share * 1000),
      one.seconds || null,
    ]),
    tx,
  );
  const leveled = known.flatMap(({ level, personId, day }) => (level ? { ...level, personId, day } : []));
  await db.batch(
    `INSERT INTO levels (productId, skill, personId, band, seenOn) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE band = IF(VALUES(seenOn) >= seenOn, VALUES(band), band), seenOn = GREATEST(seenOn, VALUES(seenOn))`,
    folded(
      leveled,
      ({ skill, personId }) => `${skill} ${personId}`,
      (a, b) => (a.day <= b.day ? b : a),
    ).map(({ skill, personId, band, day }) => [productId, skill.slice(0, 120), personId, band, day]),
    tx,
  );
  const strays = folded(
    records.flatMap(({ who, at }) =>
      people.has(who.toLowerCase()) ? [] : { who: who.slice(0, 254), day: clock.dayOf(at), times: 1 },
    ),
    ({ who }) => who,
    (a, b) => ({ who: a.who, day: a.day < b.day ? b.day : a.day, times: a.times + b.times }),
  );
  await db.batch(
    'INSERT INTO use_strays (productId, who, times, lastOn) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE times = times + VALUES(times), lastOn = GREATEST(lastOn, VALUES(lastOn))',
    strays.map(({ who, times, day }) => [productId, who, times, day]),
    tx,
  );
  return { taken: known.length, strays: strays.length };
}
