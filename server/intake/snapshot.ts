/** The register as an import needs it, read in five passes; and the tools that planning takes along. */
import type { Snapshot, Tools } from '#core/intake/index';
import { makeSecret, recipeFor, UsernameGiver } from '#core/accounts/index';
import type { Affiliation, Enrollment, Person, School, SchoolClass } from '#core/register/index';
import type { Config } from '../config';
import { sealText, secretBelow } from '../auth/seal';
import type { Db } from '../db/connection';
import type { District } from '../district';
import { mint } from '../plans/store';

/** Students and their homerooms; `whole`: staff and all other classes as well. Those merged into others are nobody. */
export async function readSnapshot(
  db: Db,
  whole = false,
  /** Of whom the enrollments are wanted; absent: of everybody. */
  enrollmentsOf?: (people: Person[]) => string[],
): Promise<Snapshot> {
  const only = (condition: string) => (whole ? '1 = 1' : condition);
  const [schools, people, affiliations, classes, accounts] = [
    await db.select<School>('SELECT id, name, code, kind, lowGrade, highGrade FROM schools'),
    await db.select<Person>(`SELECT * FROM people WHERE status <> 'merged' AND ${only("role = 'student'")}`),
    await db.select<Affiliation>(
      `SELECT a.* FROM affiliations a JOIN people p ON p.id = a.personId WHERE a.ends IS NULL AND ${only("p.role = 'student'")}`,
    ),
    await db.select<SchoolClass>(`SELECT * FROM classes WHERE ends IS NULL AND ${only("kind = 'homeroom'")}`),
    await db.select<Snapshot['accounts'][number]>(
      `SELECT id, personId, username, status FROM accounts WHERE ${only("role = 'student'")}`,
    ),
  ];
  const open = `FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.ends IS NULL AND c.ends IS NULL AND ${only("e.role = 'student' AND c.kind = 'homeroom'")}`;
  const base = { schools, people, affiliations, classes, accounts };
  const ids = enrollmentsOf?.(people);
  // Of most of a large register the enrollments cost more to read by name than all together.
  if (!ids || ids.length > people.length / 3)
    return { ...base, enrollments: await db.select<Enrollment>(`SELECT e.* ${open}`) };
  const enrollments: Enrollment[] = [];
  for (let at = 0; at < ids.length; at += 4000)
    enrollments.push(
      ...(await db.select<Enrollment>(`SELECT e.* ${open} AND e.personId IN (:ids)`, {
        ids: ids.slice(at, at + 4000),
      })),
    );
  const sizes = await db.select<{ classId: string; n: number }>(
    `SELECT e.classId, COUNT(*) AS n ${open} GROUP BY e.classId`,
  );
  return { ...base, enrollments, classSizes: new Map(sizes.map(({ classId, n }) => [classId, Number(n)])) };
}

export async function planningTools(db: Db, config: Config, { settings }: District): Promise<Tools> {
  const given = new Map(
    (await db.select<{ username: string; personKey: string }>('SELECT username, personKey FROM given_usernames')).map(
      (row) => [row.username, row.personKey],
    ),
  );
  return {
    mint,
    usernames: new UsernameGiver(settings.usernamePattern, given),
    sealedSecret: (personId, grade) => sealText(config.key, personId, makeSecret(recipeFor(grade), secretBelow)),
  };
}

/** For counting what would happen: ids and secrets that nobody will see. */
export function countingTools(): Tools {
  let n = 0;
  return {
    mint: () => `new-${n++}`,
    usernames: new UsernameGiver('{number}', new Map()),
    sealedSecret: () => '',
    onlyCount: true,
  };
}
