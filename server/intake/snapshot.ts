/** The register as an import needs it, read in five passes; and the tools that planning takes along. */
import type { Snapshot, Tools } from '#core/intake/index';
import { makeSecret, recipeFor, UsernameGiver } from '#core/accounts/index';
import type { Affiliation, Enrollment, Person, School, SchoolClass } from '#core/register/index';
import type { Config } from '../config';
import { sealText, secretBelow } from '../auth/seal';
import type { Db } from '../db/connection';
import type { District } from '../district';
import { mint } from '../plans/store';

/** Those of whom a part of the register is read, by id and by number. */
export interface Part {
  ids: string[];
  numbers: string[];
}

/**
 * Students and their homerooms; `whole`: staff and all other classes as well. Those merged into others are nobody.
 * With `part` chosen from all ids, only what is theirs, and the sizes of schools and classes beside it.
 */
export async function readSnapshot(db: Db, whole = false, part?: (ids: string[]) => Part): Promise<Snapshot> {
  const only = (condition: string) => (whole ? '1 = 1' : condition);
  const schools = await db.select<School>('SELECT id, name, code, kind, lowGrade, highGrade FROM schools');
  const classes = await db.select<SchoolClass>(
    `SELECT * FROM classes WHERE ends IS NULL AND ${only("kind = 'homeroom'")}`,
  );
  const peopleSql = `FROM people p WHERE p.status <> 'merged' AND ${only("p.role = 'student'")}`;
  const placesSql = `FROM affiliations a JOIN people p ON p.id = a.personId WHERE a.ends IS NULL AND ${only("p.role = 'student'")}`;
  // Coordinators' accounts are no feed's to freeze.
  const accountsSql = `FROM accounts WHERE ${whole ? "role IN ('student', 'teacher')" : "role = 'student'"}`;
  const enrollmentsSql = `FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.ends IS NULL AND c.ends IS NULL AND ${only("e.role = 'student' AND c.kind = 'homeroom'")}`;
  const accountColumns = 'id, personId, username, status';
  const all = part ? (await db.select<{ id: string }>(`SELECT p.id ${peopleSql}`)).map(({ id }) => id) : [];
  const chosen = part?.(all);
  // Most of a large register costs more to read by name than the whole of it.
  if (!chosen || chosen.ids.length > all.length / 3)
    return {
      schools,
      classes,
      people: await db.select<Person>(`SELECT p.* ${peopleSql}`),
      affiliations: await db.select<Affiliation>(`SELECT a.* ${placesSql}`),
      enrollments: await db.select<Enrollment>(`SELECT e.* ${enrollmentsSql}`),
      accounts: await db.select<Snapshot['accounts'][number]>(`SELECT ${accountColumns} ${accountsSql}`),
    };
  const inBatches = async <T extends object>(sql: string, values: string[]): Promise<T[]> => {
    const rows: T[] = [];
    for (let at = 0; at < values.length; at += 5000)
      rows.push(...(await db.select<T>(sql, { values: values.slice(at, at + 5000) })));
    return rows;
  };
  const people = await inBatches<Person>(`SELECT p.* ${peopleSql} AND p.id IN (:values)`, chosen.ids);
  const known = new Set(people.map(({ id }) => id));
  for (const person of await inBatches<Person>(`SELECT p.* ${peopleSql} AND p.number IN (:values)`, chosen.numbers))
    if (!known.has(person.id)) people.push(person);
  const ids = people.map(({ id }) => id);
  const counts = async (sql: string): Promise<ReadonlyMap<string, number>> =>
    new Map((await db.select<{ id: string; n: number }>(sql)).map(({ id, n }) => [id, Number(n)]));
  return {
    schools,
    classes,
    people,
    affiliations: await inBatches<Affiliation>(`SELECT a.* ${placesSql} AND a.personId IN (:values)`, ids),
    enrollments: await inBatches<Enrollment>(`SELECT e.* ${enrollmentsSql} AND e.personId IN (:values)`, ids),
    accounts: await inBatches(`SELECT ${accountColumns} ${accountsSql} AND personId IN (:values)`, ids),
    sizes: {
      schools: await counts(
        'SELECT schoolId AS id, COUNT(*) AS n FROM affiliations WHERE ends IS NULL GROUP BY schoolId',
      ),
      classes: await counts('SELECT classId AS id, COUNT(*) AS n FROM enrollments WHERE ends IS NULL GROUP BY classId'),
    },
  };
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
