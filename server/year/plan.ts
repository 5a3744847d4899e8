/** The roll-over: the register read whole, the draft put to it, and what comes of it as numbers or as a plan. */
import { groupBy } from '#core/plan/index';
import type {
  Account,
  Affiliation,
  Booking,
  Enrollment,
  Group,
  License,
  Loan,
  Membership,
  Person,
  Product,
  Rule,
  School,
  SchoolClass,
  Seat,
} from '#core/entities/index';
import { type Next, type RollOver, rollOver, usualMap, type YearOrder, type YearState } from '#core/year/index';
import type { Rehearsal } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { type NewPlan } from '../plans/store';
import { mint } from '../plans/mint';
import { keptSplits, nextYear, type Split, type YearDraft, yearDraft } from './draft';

async function readState(db: Db, today: string): Promise<YearState> {
  const active = "(SELECT id FROM people WHERE status = 'active')";
  const [schools, people, places, enrollments, memberships, accounts, classes, groups] = await Promise.all([
    db.select<School>('SELECT * FROM schools ORDER BY name'),
    db.select<Person>(
      "SELECT id, role, number, givenName, familyName, status FROM people WHERE status = 'active' ORDER BY id",
    ),
    db.select<Affiliation>('SELECT * FROM affiliations WHERE ends IS NULL'),
    db.select<Enrollment>(`SELECT * FROM enrollments WHERE ends IS NULL AND personId IN ${active}`),
    db.select<Membership>(`SELECT * FROM memberships WHERE ends IS NULL AND personId IN ${active}`),
    db.select<Pick<Account, 'id' | 'personId' | 'username' | 'status' | 'role'>>(
      'SELECT id, personId, username, status, role FROM accounts',
    ),
    db.select<SchoolClass>('SELECT * FROM classes WHERE ends IS NULL ORDER BY id'),
    db.select<Group>('SELECT * FROM class_groups WHERE ends IS NULL ORDER BY id'),
  ]);
  const [seats, licenses, loans, bookings, products, rules] = await Promise.all([
    db.select<Seat>(
      'SELECT s.* FROM seats s JOIN licenses l ON l.id = s.licenseId WHERE (s.ends IS NULL OR s.ends > :today) AND l.ends > :today ORDER BY s.id',
      { today },
    ),
    db.select<License>('SELECT * FROM licenses'),
    db.select<Loan>('SELECT * FROM loans WHERE ends IS NULL ORDER BY id'),
    db.select<Booking>('SELECT * FROM bookings WHERE ends IS NULL ORDER BY id'),
    db.select<Product>('SELECT * FROM products'),
    db.select<Rule>('SELECT * FROM entitlements WHERE ends IS NULL OR ends > :today', { today }),
  ]);
  const placeOf = new Map(places.map((place) => [place.personId, place]));
  const accountOf = new Map(accounts.map((account) => [account.personId, account]));
  const byPerson = <T extends { personId: string }>(rows: T[]) => groupBy(rows, ({ personId }) => personId);
  const [enrolled, grouped, seated] = [byPerson(enrollments), byPerson(memberships), byPerson(seats)];
  return {
    schools,
    people: people.map((person) => ({
      person,
      place: placeOf.get(person.id) ?? null,
      enrollments: enrolled.get(person.id) ?? [],
      memberships: grouped.get(person.id) ?? [],
      seats: seated.get(person.id) ?? [],
      // Whether these are called back is a choice of the roll-over's own.
      loans: [],
      account: accountOf.get(person.id) ?? null,
    })),
    ...{ classes, groups, seats, loans, bookings, rules },
    licenses: new Map(licenses.map((license) => [license.id, license])),
    products: new Map(products.map((product) => [product.id, product])),
  };
}

/** The usual map with what was decided otherwise. */
export function mapOf(
  schools: readonly School[],
  there: readonly { schoolId: string; grade: string | null }[],
  draft: Pick<YearDraft, 'map'>,
): Map<string, Next> {
  const map = usualMap(schools, there);
  for (const [key, next] of Object.entries(draft.map)) if (map.has(key)) map.set(key, next);
  return map;
}

export const apartOf = (schools: readonly School[], { apart }: Pick<YearDraft, 'apart'>): Set<string> =>
  new Set(apart ?? schools.filter(({ kind }) => kind === 'evening').map(({ id }) => id));

const sectionsOf = (split: Split): Map<string, string> =>
  new Map(
    Object.entries(split.placed).flatMap(([personId, index]) => {
      const name = split.classes[index]?.name;
      return name ? [[personId, name] as const] : [];
    }),
  );

async function roll(
  db: Db,
  config: Pick<Config, 'today'>,
): Promise<RollOver & { schools: readonly School[]; title: string }> {
  const today = config.today();
  const [{ draft }, state, kept] = await Promise.all([yearDraft(db), readState(db, today), keptSplits(db)]);
  const { year, after } = await nextYear(db, draft);
  const order: YearOrder = {
    date: today,
    mint,
    map: mapOf(
      state.schools,
      state.people.flatMap(({ place, person }) => (place && person.role === 'student' ? place : [])),
      draft,
    ),
    again: new Set(draft.again),
    leave: new Set(draft.leave),
    apart: apartOf(state.schools, draft),
    teachers: draft.teachers,
    endGroups: draft.endGroups,
    collect: draft.collect,
    sections: new Map([...kept].map(([key, { draft: split }]) => [key, sectionsOf(split)])),
    year: { ...year, after },
  };
  return { ...rollOver(state, order), schools: state.schools, title: `Roll-over to ${year.name}` };
}

/** What the roll-over would come to, school by school; changes nothing. `error`: what must be decided first. */
export async function rehearse(db: Db, config: Pick<Config, 'today'>): Promise<Rehearsal> {
  try {
    const { lines, problems, plan } = await roll(db, config);
    return {
      lines,
      changes: plan.changes.length,
      problems: problems.slice(0, 50),
      problemCount: problems.length,
      error: null,
    };
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return { lines: [], changes: 0, problems: [], problemCount: 0, error: error.message };
  }
}

export async function planYear(
  db: Db,
  config: Pick<Config, 'today'>,
): Promise<Pick<NewPlan, 'kind' | 'title' | 'plan' | 'waiting'>> {
  const { plan, problems, title } = await roll(db, config);
  return {
    kind: 'year',
    title,
    plan,
    waiting: problems.slice(0, 2000).map(({ label, message }) => ({ line: 0, message: `${label} ${message}.` })),
  };
}
