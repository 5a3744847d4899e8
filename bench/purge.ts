/** A purge of every tenth of 100,000 people, who left years ago, with a long trail about everybody; beside the bare deletes. */
import { inEnglish } from '#core/messages/languages';
import type { Config } from '#server/config';
import type { Db } from '#server/db/connection';
import { mint } from '#server/plans/mint';
import { purge } from '#server/retention/purge';
import { print, timed } from './table';

const due = 'CRC32(id) MOD 10 = 0';
const tables = ['enrollments', 'accounts', 'affiliations', 'touched'];

/** The people must be on record, and are fewer afterwards. */
export async function benchPurge(db: Db, config: Config): Promise<void> {
  await db.run(`UPDATE people SET status = 'left' WHERE ${due}`);
  for (const table of ['enrollments', 'affiliations'])
    await db.run(
      `UPDATE ${table} SET begins = '2019-08-20', ends = '2020-06-30' WHERE personId IN (SELECT id FROM people WHERE ${due})`,
    );
  await db.run(
    `INSERT INTO audit (id, at, byPersonId, action, aboutPersonId, detail)
     SELECT CONCAT('A', RIGHT(id, 25)), '2026-08-01T08:00:00.000Z', :by, 'reveal', NULL, CONCAT('the card of ', familyName, ', ', givenName, ' was lost') FROM people`,
    { by: mint() },
  );
  const bare = await db.begin();
  const { seconds } = await timed(async () => {
    for (const table of tables)
      await db.run(`DELETE FROM ${table} WHERE personId IN (SELECT id FROM people WHERE ${due})`, {}, bare);
    await db.run(`DELETE FROM people WHERE ${due}`, {}, bare);
  });
  await bare.rollback();
  const steps = new Set<string>();
  const purged = await timed(() =>
    db.transaction((tx) => purge(db, config, mint(), tx, (step, done) => steps.add(`${step} ${done}`))),
  );
  print(`${inEnglish(purged.result.sentence)} ${steps.size} states of progress.`, [
    {
      what: 'purged, also from plans and notes',
      seconds: purged.seconds,
      count: purged.result.rows,
      unit: 'rows',
      baseline: { what: 'the bare deletes', seconds },
    },
  ]);
}
