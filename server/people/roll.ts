/**
 * The roll: everyone on record as lists, facets and counts ask for them, kept in memory and brought up to date before
 * each answer from what the ledger, the prints and the first sign-ins say has changed since. It is only quicker than
 * the database, never more than it: a roll that is thrown away comes back the same.
 */
import { placesThatCount } from '#core/authority/index';
import { belongs } from '#core/classes/index';
import { fold } from '#core/names/index';
import { groupBy, unpack } from '#core/plan/index';
import { grades } from '#core/tabular/index';
import { calledName, type Person, searchFields } from '#core/entities/index';
import { dayOf, needs, never, type RuleBook } from '#core/licenses/index';
import type { Lack, PeopleSort } from '../contract';
import type { Db } from '../db/connection';
import { faceOf, holds } from '../cards/face';
import { district, type District, readinessDay } from '../district';
import { readBook } from '../licenses/book';
import { Op } from 'sequelize';
import { type Marks, type PersonRow, readMarks, rollRows, type Which } from './queries';

/** What is read of a person themselves: what lists show, and what they are found by. */
const nameFields = searchFields.filter((field) => field !== 'number');

export interface OnRoll {
  id: string;
  role: Person['role'];
  status: 'active' | 'left';
  family: string;
  given: string;
  /** By which they are called, which their card shows. */
  called: string;
  number: string;
  username: string;
  schoolId: string | null;
  grade: string | null;
  account: 'active' | 'frozen' | null;
  /** A card that holds; one that was printed and no longer does; none. */
  card: 'holds' | 'outdated' | null;
  signedIn: boolean;
  /** Open classes as a student, and as a teacher. */
  classes: readonly string[];
  teaches: readonly string[];
  /** Was in a class that ended, or left one. */
  hadClass: boolean;
  /** Products of which they have a seat on the readiness day, and those to which they are entitled then. */
  seats: readonly string[];
  needs: readonly string[];
  /** Has a device of their own. */
  device: boolean;
  /** Groups by hand, of a class or school that the person is in now. */
  groups: readonly string[];
  /** Schools of the places that count for the person, see core/authority. */
  schools: readonly string[];
  /** Names folded, for sorting; and everything that may be looked for, each word after a space. */
  sortFamily: string;
  sortGiven: string;
  text: string;
  /** Bits of what is lacking, see lackBits. */
  lacking: number;
  /** The school's and the grade's place in their lists, for counting; -1 and 0 for none. */
  schoolAt: number;
  gradeAt: number;
}

export const lackBits: Record<Lack, number> = {
  account: 8,
  class: 1,
  card: 2,
  'signed-in': 4,
  seats: 16,
  device: 32,
};

function lackingOf(
  { role, grade, classes, account, seats, needs, device, card, signedIn }: OnRoll,
  oneToOne: ReadonlySet<string>,
): number {
  const isStudent = role === 'student';
  return (
    (isStudent && account === null ? lackBits.account : 0) |
    (isStudent && classes.length === 0 ? lackBits.class : 0) |
    (needs.some((product) => !seats.includes(product)) ? lackBits.seats : 0) |
    (isStudent && grade !== null && oneToOne.has(grade) && !device ? lackBits.device : 0) |
    (isStudent && account !== null && card !== 'holds' ? lackBits.card : 0) |
    (account !== null && !signedIn ? lackBits['signed-in'] : 0)
  );
}

export const lacks = (one: OnRoll, lack: Lack): boolean => (one.lacking & lackBits[lack]) !== 0;
/** Ends a number in what is looked for, so that its last digits can be found. */
export const numberEnd = '\t';

type SortKey = Pick<OnRoll, 'id' | 'number' | 'username' | 'grade' | 'sortFamily' | 'sortGiven'>;
const order = (a: string | number, b: string | number): number => (a < b ? -1 : a > b ? 1 : 0);
export const gradeRank = (grade: string | null): number =>
  grade === null ? 0 : (grades as readonly string[]).indexOf(grade) + 1;
const columnKey: Record<PeopleSort, (one: SortKey) => string | number> = {
  family: (one) => one.sortFamily,
  given: (one) => one.sortGiven,
  number: (one) => one.number,
  username: (one) => one.username,
  grade: (one) => gradeRank(one.grade),
};
/** By the column, by a second one if it is told, then by family and given name, then by id, so that no two are the same. */
export function comparer(sort: PeopleSort, then?: PeopleSort): (a: SortKey, b: SortKey) => number {
  const columns = new Set<PeopleSort>([sort, then ?? sort, 'family', 'given']);
  const keys = [...columns].map((column) => columnKey[column]);
  return (a, b) => {
    for (const key of keys) {
      const by = order(key(a), key(b));
      if (by !== 0) return by;
    }
    return order(a.id, b.id);
  };
}
/** A sort order that is kept in memory: `grade`, or `grade,username`. */
type Order = PeopleSort | `${PeopleSort},${PeopleSort}`;
const mostOrders = 8;
const comparerOf = (by: Order) => comparer(...(by.split(',') as [PeopleSort, PeopleSort?]));

/** How far back first sign-ins are looked at again: what began earlier may be written later. */
const overlapMs = 600_000;
/** Above so many changes it is quicker to read everyone. */
const tooMany = 20_000;
const chunk = 4000;

const nothing: readonly string[] = [];

/** The rules as of a day; `text` tells whether they are the same as before. */
interface EntitlementBook {
  day: string;
  book: RuleBook;
  text: string;
  oneToOne: string;
}

export class Roll {
  private people = new Map<string, OnRoll>();
  private list: OnRoll[] | null = null;
  private sorted = new Map<Order, OnRoll[]>();
  private readonly schools = new Map<string, number>();
  private marks: Marks | null = null;
  private updating: Promise<void> | null = null;
  private readonly words = new Map<string, string>();

  private book: EntitlementBook | null = null;
  private district: District | null = null;

  /** `today`: yyyy-mm-dd. */
  constructor(
    readonly db: Db,
    private readonly today: () => string,
  ) {}

  /** Everyone in the order of a column, or of two, as of now. */
  async inOrder(sort: PeopleSort, then?: PeopleSort): Promise<readonly OnRoll[]> {
    await this.update();
    const by: Order = then && then !== sort ? `${sort},${then}` : sort;
    const list = this.sorted.get(by) ?? [...this.people.values()].sort(comparerOf(by));
    // The most recently used order is dropped last.
    this.sorted.delete(by);
    this.sorted.set(by, list);
    const [oldest] = this.sorted.keys();
    if (this.sorted.size > mostOrders) this.sorted.delete(oldest!);
    return list;
  }

  async everyone(): Promise<readonly OnRoll[]> {
    await this.update();
    return (this.list ??= [...this.people.values()]);
  }

  /** One of them. */
  async of(id: string): Promise<OnRoll | null> {
    await this.update();
    return this.people.get(id) ?? null;
  }

  /** Ids of the schools in the order of `schoolAt`. */
  get schoolIds(): readonly string[] {
    return [...this.schools.keys()];
  }

  /** One at a time: whoever asks meanwhile waits for an update that began after they asked. */
  private async update(): Promise<void> {
    const before = this.updating;
    if (before) {
      await before.catch(() => {});
      if (this.updating && this.updating !== before) return this.updating;
    }
    const mine = this.bring().finally(() => {
      if (this.updating === mine) this.updating = null;
    });
    this.updating = mine;
    return mine;
  }

  private async bring(): Promise<void> {
    const now = await readMarks(this.db);
    const { marks } = this;
    // Settings are taken apart only when they are other than before: this stands before every answer.
    if (!marks || now.settings !== marks.settings) this.district = await district(this.db);
    const day = this.district ? readinessDay(this.district.year, this.today()) : this.today();
    const oneToOne = this.district?.settings.oneToOne.join() ?? '';
    const asBefore = this.book?.day === day && this.book.oneToOne === oneToOne;
    if (marks && asBefore && now.version === marks.version && now.signIn === marks.signIn) {
      this.marks = { ...marks, settings: now.settings };
      return;
    }
    const book = { ...(await readBook(this.db, day)), oneToOne };
    const changed = marks && this.book?.day === day ? await this.changedSince(marks) : null;
    const asRuled = asBefore && this.book?.text === book.text;
    this.book = book;
    if (changed === null) await this.readAll();
    else {
      if (changed.size > 0) await this.readSome([...changed]);
      if (!asRuled) this.label([...this.people.values()]);
    }
    this.marks = now;
  }

  private async readAll(): Promise<void> {
    const people = new Map<string, OnRoll>();
    for (let after = ''; ;) {
      const some = await this.db.models.person.findAll({
        attributes: ['id'],
        where: { id: { [Op.gt]: after } },
        order: ['id'],
        limit: chunk,
        raw: true,
      });
      const ids = some.map(({ id }) => id);
      if (ids.length === 0) break;
      const from = ids[0]!;
      const to = (after = ids.at(-1)!);
      for (const one of await this.read({ from, to })) people.set(one.id, one);
    }
    this.people = people;
    this.list = null;
    this.sorted.clear();
  }

  private async readSome(ids: string[]): Promise<void> {
    const fresh: OnRoll[] = [];
    for (let at = 0; at < ids.length; at += chunk) fresh.push(...(await this.read({ ids: ids.slice(at, at + chunk) })));
    this.list = null;
    const gone = new Set(ids);
    for (const id of ids) this.people.delete(id);
    for (const one of fresh) this.people.set(one.id, one);
    for (const [by, list] of this.sorted) {
      const compare = comparerOf(by);
      this.sorted.set(
        by,
        merged(
          list.filter(({ id }) => !gone.has(id)),
          [...fresh].sort(compare),
          compare,
        ),
      );
    }
  }

  private shared(text: string): string {
    const known = this.words.get(text);
    if (known !== undefined) return known;
    this.words.set(text, text);
    return text;
  }

  private async read(which: Which): Promise<OnRoll[]> {
    const book = this.book!;
    const { people, places, enrollments, ended, cards, memberships, signIns, seats, loans } = await rollRows(
      this.db,
      which,
      book.day,
    );
    const found = new Map<string, OnRoll & { version: number | null }>();
    for (const row of people) found.set(row.id, this.entry(row));
    for (const [personId, all] of groupBy(places, (place) => place.personId)) {
      const one = found.get(personId);
      if (one) one.schools = [...new Set(placesThatCount(all).map(({ schoolId }) => this.shared(schoolId)))];
    }
    for (const { personId, schoolId, grade, ends } of places) {
      const one = found.get(personId);
      if (!one || ends !== null) continue;
      const school = this.shared(schoolId);
      if (!this.schools.has(school)) this.schools.set(school, this.schools.size);
      const at = { schoolAt: this.schools.get(school)!, gradeAt: gradeRank(grade) };
      Object.assign(one, { schoolId: school, grade: grades[at.gradeAt - 1] ?? null, ...at });
    }
    for (const { personId, classId, role } of enrollments) {
      const one = found.get(personId);
      const list = one && (role === 'student' ? one.classes : one.teaches);
      if (list) (list as string[]).push(this.shared(classId));
    }
    for (const { personId } of ended) {
      const one = found.get(personId);
      if (one) one.hadClass = true;
    }
    const rooms = await this.homerooms(cards.flatMap(({ personId }) => found.get(personId)?.classes ?? []));
    for (const { personId, isVoid, ...card } of cards) {
      const one = found.get(personId);
      if (!one || one.card === 'holds') continue;
      const { family: familyName, called: givenName, username, version: secretVersion } = one;
      const className = one.classes.flatMap((id) => rooms.get(id) ?? []).sort()[0] ?? null;
      const face = () => faceOf({ familyName, givenName, username, className });
      one.card = holds({ isVoid: isVoid === 1, ...card }, { secretVersion, face }) ? 'holds' : 'outdated';
    }
    for (const { personId, groupId, ...group } of memberships) {
      const one = found.get(personId);
      if (one && belongs(group, one)) (one.groups as string[]).push(this.shared(groupId));
    }
    for (const { personId } of signIns) {
      const one = found.get(personId);
      if (one) one.signedIn = true;
    }
    for (const { personId, productId } of seats) {
      const one = found.get(personId);
      if (one) one.seats = [...one.seats, this.shared(productId)].sort();
    }
    for (const { personId } of loans) {
      const one = found.get(personId);
      if (one) one.device = true;
    }
    const all = [...found.values()];
    this.label(all);
    return all;
  }

  /** What they are entitled to, and what they lack. */
  private label(people: OnRoll[]): void {
    const { book, day, oneToOne } = this.book!;
    const always = { from: 0, to: never };
    const from = dayOf(day);
    const entitled: string[][] = people.map(() => []);
    const holders = (book.rules.length === 0 ? [] : people).map(
      ({ id, role, status, account, schoolId, grade, classes, teaches }) => ({
        id,
        role,
        stopped: status === 'left' || account === 'frozen',
        places: schoolId === null ? [] : [{ schoolId, grade, ...always }],
        classes: [
          ...classes.map((classId) => ({ classId, role: 'student' as const, ...always })),
          ...teaches.map((classId) => ({ classId, role: 'teacher' as const, ...always })),
        ],
      }),
    );
    for (const [productId, list] of needs(holders, book, { from, to: from + 1 }))
      for (const { who } of list) entitled[who]!.push(this.shared(productId));
    const own = new Set(oneToOne.split(','));
    people.forEach((one, i) => {
      one.needs = entitled[i]!.length > 0 ? entitled[i]!.sort() : nothing;
      one.lacking = lackingOf(one, own);
    });
  }

  private entry(row: PersonRow): OnRoll & { version: number | null } {
    const [family, given] = [fold(row.familyName), fold(row.givenName)];
    const username = row.username ?? '';
    const number = row.number ?? '';
    return {
      id: row.id,
      // Words of the code, not of the answer: comparing them is comparing places in memory.
      role: row.role === 'staff' ? 'staff' : 'student',
      status: row.status === 'left' ? 'left' : 'active',
      family: row.familyName,
      given: row.givenName,
      called: calledName(row),
      number,
      username,
      schoolId: null,
      grade: null,
      account: row.account === null ? null : row.account === 'frozen' ? 'frozen' : 'active',
      card: null,
      signedIn: false,
      classes: [],
      teaches: [],
      hadClass: false,
      seats: nothing,
      needs: nothing,
      device: false,
      groups: [],
      schools: [],
      sortFamily: family,
      sortGiven: given,
      text: ` ${nameFields.map((field) => (row[field] ? fold(row[field]).replaceAll('-', ' ') : '')).join(' ')} ${number.toLowerCase()}${number && numberEnd} ${username}`,
      lacking: 0,
      schoolAt: -1,
      gradeAt: 0,
      version: row.secretVersion,
    };
  }

  /** Ledger entries and prints since a version. */
  private async since(version: number): Promise<{ id: string; planId: string | null }[]> {
    const [ledger, prints] = await Promise.all([
      this.db.models.ledger.findAll({
        attributes: ['id', 'planId'],
        where: { version: { [Op.gt]: version } },
        raw: true,
      }),
      this.db.models.prints.findAll({ attributes: ['id'], where: { version: { [Op.gt]: version } }, raw: true }),
    ]);
    return [...ledger, ...prints.map(({ id }) => ({ id, planId: null }))];
  }

  /** Names of those of the classes that are homerooms. */
  private async homerooms(classIds: readonly string[]): Promise<Map<string, string>> {
    if (classIds.length === 0) return new Map();
    const rows = await this.db.models.class.findAll({
      attributes: ['id', 'name'],
      where: { kind: 'homeroom', id: [...new Set(classIds)] },
      raw: true,
    });
    return new Map(rows.map(({ id, name }) => [id, name]));
  }

  private membersOf = (classId: string) =>
    this.db.models.enrollment.findAll({ attributes: ['personId'], where: { classId, ends: null }, raw: true });

  /** Of whom anything changed; null: too many to tell. */
  private async changedSince(marks: Marks): Promise<Set<string> | null> {
    const ids = new Set<string>();
    for (const { id, planId } of await this.since(marks.version)) {
      if (planId === null) {
        const cards = await this.db.models.printedCards.findAll({
          attributes: ['personId'],
          where: { printId: id },
          raw: true,
        });
        for (const { personId } of cards) ids.add(personId);
        continue;
      }
      const size = await this.db.models.plans.findOne({
        attributes: ['changes', 'kind'],
        where: { id: planId },
        raw: true,
      });
      // Whom a purge was about is nowhere any more.
      if (size?.kind === 'purge') return null;
      if ((size?.changes ?? 0) + ids.size > tooMany) return null;
      const chunks = await this.db.models.planChunks.findAll({ attributes: ['body'], where: { planId }, raw: true });
      for (const { body } of chunks)
        for (const { entity, id: row, subject, before, after } of unpack(body)) {
          if (entity === 'license') return null;
          // A class by another name makes the cards of its students out of date.
          if (entity === 'class') for (const { personId } of await this.membersOf(row)) ids.add(personId);
          ids.add(subject);
          if (entity === 'person') ids.add(row);
          for (const { personId } of [before, after]) if (typeof personId === 'string') ids.add(personId);
        }
    }
    const since = marks.signIn === null ? '' : new Date(Date.parse(marks.signIn) - overlapMs).toISOString();
    const firsts = await this.db.models.signIns.findAll({
      attributes: ['personId'],
      where: { firstAt: { [Op.gte]: since } },
      raw: true,
    });
    for (const { personId } of firsts) if (this.people.get(personId)?.signedIn === false) ids.add(personId);
    return ids;
  }
}

function merged<T>(a: readonly T[], b: readonly T[], compare: (x: T, y: T) => number): T[] {
  const all: T[] = [];
  let j = 0;
  for (const one of a) {
    while (j < b.length && compare(b[j]!, one) < 0) all.push(b[j++]!);
    all.push(one);
  }
  while (j < b.length) all.push(b[j++]!);
  return all;
}
