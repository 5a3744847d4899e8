/** Writes records of use: by day, results, levels, words missed, and the last use, of people on record; the others are strays. */
import { clock } from '../clock';
import type { UseRecord } from '#core/use/index';
import { orNone } from '../db/batches';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';
import { insertMany } from '../db/bulk';
import { calledSo, writeKnown, writeLevels } from './queries';

/** Ids by lower-cased username, number or address. */
export async function peopleCalled(db: Db, whos: readonly string[], tx?: Tx): Promise<Map<string, string>> {
  const asked = [...new Set(whos.filter(Boolean))];
  const ascii = (list: string[]) => orNone(list.filter((who) => /^[\x20-\x7e]+$/.test(who)));
  // Each by its own index; addresses have none, so they are looked for only where somebody is named by one.
  const rows = await inBatches(asked, 5000, (some) =>
    calledSo(db, { names: ascii(some).map((who) => who.toLowerCase()), some }, tx),
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
  await insertMany(
    db,
    'useDays',
    folded(
      known.map(({ day, personId, seconds }) => ({ productId, day, personId, times: 1, seconds })),
      ({ day, personId }) => `${day} ${personId}`,
      (a, b) => ({ ...a, seconds: a.seconds + b.seconds, times: a.times + b.times }),
    ),
    tx,
    { times: 'sum', seconds: 'sum' },
  );
  await insertMany(
    db,
    'lastUses',
    folded(
      known,
      ({ personId }) => personId,
      (a, b) => (a.day < b.day ? b : a),
    ).map(({ personId, day }) => ({ personId, productId, usedOn: day })),
    tx,
    { usedOn: 'greatest' },
  );
  const worked = known.flatMap(({ address, ...record }) => {
    const materialId = materials.get(address ?? '');
    return materialId && (record.finished || record.share !== null) ? { ...record, materialId } : [];
  });
  await insertMany(
    db,
    'results',
    folded(
      worked,
      ({ materialId, personId, at }) => `${materialId} ${personId} ${at}`,
      (a, b) => ({
        ...a,
        finished: a.finished || b.finished,
        share: b.share ?? a.share,
        seconds: Math.max(a.seconds, b.seconds),
      }),
    ).map(({ materialId, personId, at, finished, share, seconds }) => ({
      ...{ materialId, personId, at, finished: finished ? 1 : 0 },
      ...{ permille: share === null ? null : Math.round(share * 1000), seconds: seconds || null },
    })),
    tx,
    { finished: 'greatest', permille: 'said', seconds: 'said' },
  );
  const leveled = known.flatMap(({ levels, personId, day }) => levels.map((level) => ({ ...level, personId, day })));
  await writeLevels(
    db,
    tx,
    folded(
      leveled,
      ({ skill, personId }) => `${skill} ${personId}`,
      (a, b) => (a.day <= b.day ? b : a),
    ).map(({ skill, personId, band, day }) => [productId, skill.slice(0, 120), personId, band, day]),
  );
  const asked = known.flatMap(({ words, personId, at }) => words.map((one) => ({ ...one, personId, at })));
  const wordKey = ({ word, personId }: { word: string; personId: string }) => `${word.toLowerCase()} ${personId}`;
  await insertMany(
    db,
    'missedWords',
    folded(
      asked.flatMap(({ known, word, personId, at }) =>
        known ? [] : { productId, word, personId, times: 1, missedAt: at },
      ),
      wordKey,
      (a, b) => ({ ...a, times: a.times + b.times, missedAt: a.missedAt < b.missedAt ? b.missedAt : a.missedAt }),
    ).map((row) => ({ ...row, knownAt: null })),
    tx,
    { times: 'sum', missedAt: 'greatest' },
  );
  await writeKnown(
    db,
    tx,
    folded(
      asked.filter(({ known }) => known),
      wordKey,
      (a, b) => (a.at < b.at ? b : a),
    ).map(({ word, personId, at }) => [at, at, productId, word, personId]),
  );
  const strays = folded(
    records.flatMap(({ who, at }) =>
      people.has(who.toLowerCase()) ? [] : { who: who.slice(0, 254), day: clock.dayOf(at), times: 1 },
    ),
    ({ who }) => who,
    (a, b) => ({ who: a.who, day: a.day < b.day ? b.day : a.day, times: a.times + b.times }),
  );
  await insertMany(
    db,
    'useStrays',
    strays.map(({ who, times, day }) => ({ productId, who, times, lastOn: day })),
    tx,
    { times: 'sum', lastOn: 'greatest' },
  );
  return { taken: known.length, strays: strays.length };
}
