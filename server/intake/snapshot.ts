/** The register as an import needs it, read in five passes; and the tools that planning takes along. */
import type { Open, Snapshot, Tools, Touched } from '#core/intake/index';
import { makeSecret, recipeFor, UsernameGiver } from '#core/accounts/index';
import { type Affiliation, type Person, personLabel, type School, type SchoolClass } from '#core/register/index';
import { givenUsernames } from '../people/given';
import type { Config } from '../config';
import { sealText, secretBelow } from '../auth/seal';
import { inBatches } from '../db/batches';
import type { Db } from '../db/connection';
import type { District } from '../district';
import { mint } from '../plans/store';

/** What of the register is wanted, chosen from all ids; and what is to be done while the database looks it up. */
export interface Part {
  chosen: (ids: string[]) => Touched;
  /** While the ids come. */
  first?: () => void;
  /** While the rows come. */
  meanwhile?: () => void;
}

/**
 * Students and their homerooms; `whole`: staff and all other classes as well. Those merged into others are nobody.
 * With `part` only what a night can touch, and the sizes of schools and classes beside it.
 */
export async function readSnapshot(db: Db, whole = false, part?: Part): Promise<Snapshot> {
  const only = (condition: string) => (whole ? '1 = 1' : condition);
  const sql = {
    schools: 'SELECT id, name, code, kind, lowGrade, highGrade FROM schools',
    classes: `SELECT * FROM classes WHERE ends IS NULL AND ${only("kind = 'homeroom'")}`,
    people: `FROM people p WHERE p.status <> 'merged' AND ${only("p.role = 'student'")}`,
    places: `FROM affiliations a JOIN people p ON p.id = a.personId WHERE a.ends IS NULL AND ${only("p.role = 'student'")}`,
    // Coordinators' accounts are no feed's to freeze.
    accounts: `SELECT id, personId, username, status FROM accounts WHERE ${whole ? "role IN ('student', 'teacher')" : "role = 'student'"}`,
    enrollments: `FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.ends IS NULL AND c.ends IS NULL AND ${only("e.role = 'student' AND c.kind = 'homeroom'")}`,
  };
  const shared = Promise.all([db.select<School>(sql.schools), db.select<SchoolClass>(sql.classes)]);
  const counts = async (counting: string): Promise<ReadonlyMap<string, number>> =>
    new Map((await db.select<{ id: string; n: number }>(counting)).map(({ id, n }) => [id, Number(n)]));
  const sizes =
    part &&
    Promise.all([
      counts('SELECT schoolId AS id, COUNT(*) AS n FROM affiliations WHERE ends IS NULL GROUP BY schoolId'),
      counts('SELECT classId AS id, COUNT(*) AS n FROM enrollments WHERE ends IS NULL GROUP BY classId'),
    ]);
  // A row for each id would cost more than all the rest; the last letter is as good as by chance.
  const everyone = part
    ? db.rows<{ ids: string }>(`SELECT GROUP_CONCAT(p.id) AS ids ${sql.people} GROUP BY RIGHT(p.id, 1)`)
    : Promise.resolve([]);
  if (part?.first) {
    await asked();
    part.first();
  }
  const all = (await everyone).flatMap(({ ids }) => ids.split(','));
  const chosen = part?.chosen(all);
  const [schools, classes] = await shared;
  // Most of a large register costs more to read by name than the whole of it.
  if (!chosen || chosen.ids.length > all.length / 3)
    return {
      schools,
      classes,
      people: await db.rows<Person>(`SELECT p.* ${sql.people}`),
      affiliations: await db.rows<Affiliation>(`SELECT a.* ${sql.places}`),
      enrollments: await db.rows<Open>(`SELECT ${openColumns} ${sql.enrollments}`),
      accounts: await db.rows<Snapshot['accounts'][number]>(sql.accounts),
    };
  const named = <T extends object>(statement: string, values: string[]): Promise<T[]> =>
    inBatches(values, idsAtOnce, (batch) => db.rows<T>(statement, [batch]));
  const about = (ids: string[]) =>
    Promise.all([
      named<Person>(`SELECT p.* ${sql.people} AND p.id IN (?)`, ids),
      named<Affiliation>(`SELECT a.* ${sql.places} AND a.personId IN (?)`, ids),
      named<Open>(`SELECT ${openColumns} ${sql.enrollments} AND e.personId IN (?)`, ids),
      named<Snapshot['accounts'][number]>(`${sql.accounts} AND personId IN (?)`, ids),
    ]);
  const chosenIds = new Set(chosen.ids);
  // In the order of the index, so that what lies together is read together.
  const pairs = chosen.pairs.sort(([one], [other]) => (one < other ? -1 : one > other ? 1 : 0));
  const rest = Promise.all([
    named<{ id: string }>(`SELECT p.id ${sql.people} AND p.number IN (?)`, chosen.numbers),
    about(chosen.ids),
    singleEnrollments(db, pairs),
    labelsOf(db, [...new Set(pairs.map(([personId]) => personId))]),
    sizes,
  ]);
  if (part?.meanwhile) {
    await asked();
    part.meanwhile();
  }
  const [numbered, some, single, labels, counted] = await rest;
  // Somebody else who has the number of who is new.
  const others = new Set(numbered.flatMap(({ id }) => (chosenIds.has(id) ? [] : id)));
  const more = await about([...others]);
  return {
    schools,
    classes,
    people: [...some[0], ...more[0]],
    affiliations: [...some[1], ...more[1]],
    enrollments: [...some[2], ...more[2], ...single.filter(({ personId }) => !others.has(personId))],
    accounts: [...some[3], ...more[3]],
    labels,
    sizes: { schools: counted![0], classes: counted![1] },
  };
}

/** So many fit into a packet that the driver does not make large beforehand, which would set off the sweeping of memory. */
const idsAtOnce = 4000;

const openColumns = 'e.id, e.personId, e.classId, e.role';

/** Until what was asked before is with the database, also where connections had to be made for it. */
const asked = (): Promise<void> => new Promise((next) => setTimeout(next, 10));

/** Open enrollments of people in classes, each found by the two. */
async function singleEnrollments(db: Db, pairs: Touched['pairs']): Promise<Open[]> {
  const found = await inBatches(
    pairs.map((pair, n) => [...pair, n] as const),
    5000,
    (batch) =>
      // Of each the place in the list comes back, and not what is known of it already.
      db.rows<{ n: number; id: string; role: Open['role'] }>(
        `SELECT STRAIGHT_JOIN t.n, e.id, e.role FROM JSON_TABLE(?, '$[*]' COLUMNS (personId CHAR(26) PATH '$[0]', classId CHAR(26) PATH '$[1]', n INT PATH '$[2]')) t
         JOIN enrollments e FORCE INDEX (byPerson) ON e.personId = CONVERT(t.personId USING ascii) AND e.classId = CONVERT(t.classId USING ascii) AND e.ends IS NULL`,
        [JSON.stringify(batch)],
      ),
  );
  return found.map(({ n, ...open }) => ({ ...open, personId: pairs[n]![0], classId: pairs[n]![1] }));
}

async function labelsOf(db: Db, ids: string[]): Promise<Map<string, string>> {
  const people = await inBatches(ids, idsAtOnce, (values) =>
    db.rows<Pick<Person, 'id' | 'number' | 'familyName' | 'givenName'>>(
      'SELECT id, number, familyName, givenName FROM people WHERE id IN (?)',
      [values],
    ),
  );
  return new Map(people.map((person) => [person.id, personLabel(person)]));
}

export async function planningTools(db: Db, config: Config, { settings }: District): Promise<Tools> {
  const given = await givenUsernames(db, config);
  return {
    mint,
    usernames: new UsernameGiver(settings.usernamePattern, given),
    patternOf: (schoolId) => settings.schoolPatterns[schoolId],
    sealedSecret: (personId, grade) =>
      sealText(config.key, personId, makeSecret(recipeFor(grade, settings.bands), secretBelow)),
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
