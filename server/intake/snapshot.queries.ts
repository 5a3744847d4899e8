/**
 * The register as an import needs it, whole or as far as it is wanted; and the tools that planning takes along. In SQL and
 * as the driver gives the rows: a night reads a hundred thousand of them in seconds (`./run bench nights`).
 */
import type { Open, Snapshot, Tools } from '#core/intake/index';
import { makeSecret, recipeFor, UsernameGiver } from '#core/accounts/index';
import type { Affiliation, Person, School, SchoolClass } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { givenUsernames } from '../people/given';
import type { Config } from '../config';
import { sealText, secretBelow } from '../auth/seal';
import { inBatches } from '../db/batches';
import type { Db } from '../db/connection';
import type { District } from '../district';
import { leftWith } from '../people/left.queries';
import { mint } from '../plans/mint';

const openColumns = 'e.id, e.personId, e.classId, e.role';

/** Students and their homerooms; with `people` staff as well; `whole`: staff and all classes. */
export type Extent = 'students' | 'people' | 'whole';

/** Those merged into others are nobody. */
function statements(extent: Extent) {
  const students = extent === 'students' ? "= 'student'" : 'IS NOT NULL';
  const homerooms = extent === 'whole' ? 'IS NOT NULL' : "= 'homeroom'";
  return {
    schools: 'SELECT id, name, code, kind, lowGrade, highGrade FROM schools',
    classes: `SELECT * FROM classes WHERE ends IS NULL AND kind ${homerooms}`,
    people: `FROM people p WHERE p.status <> 'merged' AND p.role ${students}`,
    places: `FROM affiliations a JOIN people p ON p.id = a.personId WHERE a.ends IS NULL AND p.role ${students}`,
    // Coordinators' accounts are no feed's to freeze.
    accounts: `SELECT id, personId, username, status FROM accounts WHERE role IN ('student'${extent === 'students' ? '' : ", 'teacher'"})`,
    enrollments: `FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.ends IS NULL AND c.ends IS NULL AND e.role ${students} AND c.kind ${homerooms}`,
  };
}

const leavers = (people: readonly Person[]): string[] =>
  people.flatMap(({ id, status }) => (status === 'left' ? id : []));

export async function readSnapshot(db: Db, extent: Extent): Promise<Snapshot> {
  const sql = statements(extent);
  const people = await db.rows<Person>(`SELECT p.* ${sql.people}`);
  return {
    schools: await db.select<School>(sql.schools),
    classes: await db.select<SchoolClass>(sql.classes),
    people,
    ...(await leftWith(db, leavers(people))),
    affiliations: await db.rows<Affiliation>(`SELECT a.* ${sql.places}`),
    enrollments: await db.rows<Open>(`SELECT ${openColumns} ${sql.enrollments}`),
    accounts: await db.rows<Snapshot['accounts'][number]>(sql.accounts),
  };
}

/** So many fit into a packet that the driver does not make large beforehand, which would set off the sweeping of memory. */
const idsAtOnce = 4000;

/** What is asked while nobody waits for it; whoever takes it meets the error. */
const later = <T>(promise: Promise<T>): Promise<T> => {
  promise.catch(() => {});
  return promise;
};

type About = [Person[], Affiliation[], Open[], Snapshot['accounts']];

/** Some people of the register with all about them, single enrollments of others, and the sizes of schools and classes: asked for bit by bit. */
export class Part {
  private readonly sql = statements('whole');
  private readonly shared: Promise<[School[], SchoolClass[]]>;
  private readonly sizes: Promise<[ReadonlyMap<string, number>, ReadonlyMap<string, number>]>;
  private readonly own = new Set<string>();
  private readonly about: Promise<About>[] = [];
  private readonly numbered: Promise<{ id: string }[]>[] = [];
  private readonly placed: Promise<Placed[]>[] = [];

  constructor(private readonly db: Db) {
    const { sql } = this;
    this.shared = later(Promise.all([db.rows<School>(sql.schools), db.rows<SchoolClass>(sql.classes)]));
    const counts = async (counting: string): Promise<ReadonlyMap<string, number>> =>
      new Map((await db.rows<{ id: string; n: string }>(counting)).map(({ id, n }) => [id, Number(n)]));
    this.sizes = later(
      Promise.all([
        counts('SELECT schoolId AS id, COUNT(*) AS n FROM affiliations WHERE ends IS NULL GROUP BY schoolId'),
        counts('SELECT classId AS id, COUNT(*) AS n FROM enrollments WHERE ends IS NULL GROUP BY classId'),
      ]),
    );
  }

  /** Ids of all people. A row for each would cost more than all the rest; the last letter is as good as by chance. */
  everyone(): Promise<string[]> {
    const lists = this.db.rows<{ ids: string }>(
      `SELECT GROUP_CONCAT(p.id) AS ids ${this.sql.people} GROUP BY RIGHT(p.id, 1)`,
    );
    return later(lists.then((rows) => rows.flatMap(({ ids }) => ids.split(','))));
  }

  /** Also whoever has one of the numbers. */
  people(ids: readonly string[], numbers: readonly string[] = []): void {
    const { sql } = this;
    for (const id of ids) this.own.add(id);
    this.about.push(
      later(
        Promise.all([
          this.named<Person>(`SELECT p.* ${sql.people} AND p.id IN (?)`, ids),
          this.named<Affiliation>(`SELECT a.* ${sql.places} AND a.personId IN (?)`, ids),
          this.named<Open>(`SELECT ${openColumns} ${sql.enrollments} AND e.personId IN (?)`, ids),
          this.named<Snapshot['accounts'][number]>(`${sql.accounts} AND personId IN (?)`, ids),
        ]),
      ),
    );
    if (numbers.length > 0)
      this.numbered.push(later(this.named<{ id: string }>(`SELECT p.id ${sql.people} AND p.number IN (?)`, numbers)));
  }

  /** Open enrollments of people in classes, each found by the two. */
  places(places: [personId: string, classId: string][]): void {
    // In the order of the index, so that what lies together is read together; all that is asked is in the index itself.
    const pairs = places.sort(([, one], [, other]) => (one < other ? -1 : one > other ? 1 : 0));
    const open = (as: string, role: string) =>
      `enrollments ${as} FORCE INDEX (byClass) ON ${as}.classId = CONVERT(t.classId USING ascii) AND ${as}.ends IS NULL AND ${as}.role = '${role}' AND ${as}.personId = p.id`;
    const found = inBatches(
      pairs.map((pair, n) => [...pair, n] as const),
      5000,
      (batch) =>
        // Of each the place in the list comes back, and not what is known of it already.
        this.db.rows<Found>(
          `SELECT STRAIGHT_JOIN t.n, p.number, p.familyName, p.givenName, COALESCE(s.id, x.id) AS id, IF(s.id IS NULL, 'teacher', 'student') AS role
           FROM JSON_TABLE(?, '$[*]' COLUMNS (personId CHAR(26) PATH '$[0]', classId CHAR(26) PATH '$[1]', n INT PATH '$[2]')) t
           JOIN people p ON p.id = CONVERT(t.personId USING ascii)
           LEFT JOIN ${open('s', 'student')} LEFT JOIN ${open('x', 'teacher')}`,
          [JSON.stringify(batch)],
        ),
    );
    this.placed.push(later(found.then((rows) => rows.map((row) => ({ ...row, at: pairs[row.n]! })))));
  }

  async snapshot(): Promise<Snapshot> {
    // Somebody else who has the number of who is new.
    const others = (await Promise.all(this.numbered)).flat().flatMap(({ id }) => (this.own.has(id) ? [] : id));
    if (others.length > 0) this.people([...new Set(others)]);
    const [about, placed, [schools, classes], sizes] = [
      await Promise.all(this.about),
      (await Promise.all(this.placed)).flat(),
      await this.shared,
      await this.sizes,
    ];
    const labels = new Map<string, string>();
    const single: Open[] = [];
    for (const { at, id, role, number, familyName, givenName } of placed) {
      const [personId, classId] = at;
      if (!labels.has(personId)) labels.set(personId, personLabel({ number, familyName, givenName }));
      if (id !== null && !this.own.has(personId)) single.push({ id, role, personId, classId });
    }
    const people = about.flatMap(([some]) => some);
    return {
      schools,
      classes,
      people,
      ...(await leftWith(this.db, leavers(people))),
      affiliations: about.flatMap(([, affiliations]) => affiliations),
      enrollments: [...about.flatMap(([, , enrollments]) => enrollments), ...single],
      accounts: about.flatMap(([, , , accounts]) => accounts),
      labels,
      sizes: { schools: sizes[0], classes: sizes[1] },
    };
  }

  private named<T extends object>(statement: string, values: readonly string[]): Promise<T[]> {
    return inBatches(values, idsAtOnce, (batch) => this.db.rows<T>(statement, [batch]));
  }
}

type Found = { n: number; id: string | null; role: Open['role'] } & Pick<Person, 'number' | 'familyName' | 'givenName'>;
type Placed = Found & { at: [personId: string, classId: string] };

export async function planningTools(db: Db, config: Config, { settings }: District): Promise<Tools> {
  const given = await givenUsernames(db, config);
  return {
    mint,
    usernames: new UsernameGiver(settings.usernamePattern, given, given.held),
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
