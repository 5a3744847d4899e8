/** The roll-over: the register read whole, the draft put to it, and what comes of it as numbers or as a plan. */
import { say } from '#core/messages/say';
import { Op } from 'sequelize';
import { groupBy } from '#core/plan/index';
import {
  type Next,
  type RollOver,
  rollOver,
  usualMap,
  type YearGroup,
  type YearOrder,
  type YearState,
} from '#core/year/index';
import type { Rehearsal } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { type NewPlan } from '../plans/store';
import { mint } from '../plans/mint';
import { keptSplits, nextYear, type Split, type YearDraft, yearDraft } from './draft';
import { endsAfter, joined } from '../db/joined';
import type { School } from '#core/entities/index';

async function readState(db: Db, today: string): Promise<YearState> {
  const { models } = db;
  const open = { where: { ends: null }, order: ['id'] as string[], raw: true } as const;
  const ofActive = { where: { ends: null }, whose: { 'person.status': 'active' } };
  const [schools, people, places, enrollments, memberships, accounts, classes, groups] = await Promise.all([
    models.school.findAll({ order: ['name'], raw: true }),
    models.person.findAll({
      attributes: ['id', 'role', 'number', 'givenName', 'familyName', 'status'],
      where: { status: 'active' },
      order: ['id'],
      raw: true,
    }),
    models.affiliation.findAll({ where: { ends: null }, raw: true }),
    joined(db, 'enrollment', ofActive),
    joined(db, 'membership', ofActive),
    models.account.findAll({ attributes: ['id', 'personId', 'username', 'status', 'role'], raw: true }),
    models.class.findAll(open),
    models.group.findAll(open),
  ]);
  const [seats, licenses, loans, bookings, products, rules] = await Promise.all([
    joined(db, 'seat', {
      where: { ends: endsAfter(today) },
      whose: { 'license.ends': { [Op.gt]: today } },
      order: ['id'],
    }),
    models.license.findAll({ raw: true }),
    models.loan.findAll(open),
    models.booking.findAll(open),
    models.product.findAll({ raw: true }),
    models.rule.findAll({ where: { ends: endsAfter(today) }, raw: true }),
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
  return { ...rollOver(state, order), schools: state.schools, title: say('year.rollOverTo', { name: year.name }) };
}

/** What the roll-over would come to; changes nothing. */
export class YearDesk {
  /** Of the rehearsal before, whose counts are being looked at. */
  private who: RollOver['who'] | null = null;
  constructor(
    private readonly db: Db,
    private readonly config: Pick<Config, 'today'>,
  ) {}

  /** School by school. */
  async rehearse(): Promise<Rehearsal> {
    const made = await rehearse(this.db, this.config);
    this.who = made.who;
    return made.rehearsal;
  }

  /** Ids of the people behind a count; `school` null: of all schools. */
  async people(group: YearGroup, school: string | null): Promise<string[]> {
    this.who ??= (await rehearse(this.db, this.config)).who;
    const found = [...this.who].filter(([key]) =>
      school === null ? key.endsWith(`:${group}`) : key === `${school}:${group}`,
    );
    return [...new Set(found.flatMap(([, ids]) => ids))];
  }
}

/** `error`: what must be decided first. */
async function rehearse(
  db: Db,
  config: Pick<Config, 'today'>,
): Promise<{ rehearsal: Rehearsal; who: RollOver['who'] }> {
  try {
    const { lines, problems, plan, who } = await roll(db, config);
    const counts = { changes: plan.changes.length, problems: problems.slice(0, 50), problemCount: problems.length };
    return { rehearsal: { lines, ...counts, error: null }, who };
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    const none = { lines: [], changes: 0, problems: [], problemCount: 0 };
    return { rehearsal: { ...none, error: error.message }, who: new Map() };
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
