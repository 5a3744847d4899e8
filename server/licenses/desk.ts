/**
 * How every product stands: figures over the year, what the proposal would do, what is lacking. Computed for all
 * people at once, in a thread of its own, and kept while nothing changed.
 */
import {
  type ClassShare,
  course,
  heldBeyond,
  dateOf,
  dayOf,
  needs,
  partial,
  priceOf,
  type NextOf,
  promoted,
  propose,
  type Step,
  termsOf,
  worst,
} from '#core/licenses/index';
import type { Product } from '#core/entities/index';
import { mapKey } from '#core/year/index';
import type { ProductRow, ProductSheet, SeatStep } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { yearDraft } from '../year/draft';
import { mapOf } from '../year/plan';
import { type LicenseState, productLabel, questionOf, readLicenses } from './state';
import { homeroomStudents, marksOf } from './queries';
import { namesFor, ownersOf, ruleWords } from './rule-words';

interface Kept {
  mark: string;
  state: LicenseState;
  rows: ProductRow[];
  /** Next year's needs by product; made when somebody asks. */
  foreseen: Map<string, number> | null;
}

/** What asks of the desk from another thread are answered by. */
export interface LicenseFigures {
  products(): Promise<ProductRow[]>;
  product(id: string, idleDays: number): Promise<ProductSheet | null>;
}

export class LicenseDesk implements LicenseFigures {
  private kept: Kept | null = null;
  private making: Promise<Kept> | null = null;

  constructor(
    private readonly db: Db,
    private readonly config: Pick<Config, 'today'>,
  ) {}

  async products(): Promise<ProductRow[]> {
    return (await this.now()).rows;
  }

  private async now(): Promise<Kept> {
    const row = await marksOf(this.db);
    const mark = [this.config.today(), ...Object.values(row!)].join('|');
    if (this.kept?.mark === mark) return this.kept;
    // Who asks meanwhile waits for the same answer.
    this.making ??= this.make(mark).finally(() => (this.making = null));
    return this.making;
  }

  private async make(mark: string): Promise<Kept> {
    const state = await readLicenses(this.db, this.config);
    const rows = [...state.book.products.values()].map((product) => rowOf(state, product));
    return (this.kept = { mark, state, rows, foreseen: null });
  }

  async product(id: string, idleDays: number): Promise<ProductSheet | null> {
    const kept = await this.now();
    const { state, rows } = kept;
    const product = state.book.products.get(id);
    const row = rows.find((one) => one.id === id);
    if (!product || !row) return null;
    const asked = questionOf(state, id, { sweep: false, idleDays });
    const made = propose(asked);
    const taken = new Map(made.taken.map((t) => [t.held.seatId, t.at]));
    const held = asked.held.map((h) => ({ ...h, to: Math.min(h.to, taken.get(h.seatId) ?? h.to) }));
    const whole = { ...asked, window: { from: dayOf(state.today), to: state.window.to } };
    const now = course(whole);
    const after = course({ ...whole, held: [...held, ...made.given.map((g, i) => ({ ...g, seatId: `given ${i}` }))] });
    const day = state.window.from;
    const holders = asked.held.filter(({ from, to }) => from <= day && day < to).map(({ who }) => who);
    const entitled = new Set(asked.needs.filter(({ from, to }) => from <= day && day < to).map(({ who }) => who));
    const spare = { stopped: 0, notEntitled: 0, idle: 0, idleDays };
    for (const who of holders) {
      if (asked.stopped(who)) spare.stopped++;
      else if (!entitled.has(who) && !asked.uses(who)) spare.notEntitled++;
      // Of a product that tells nothing of its use nothing can be said.
      else if (entitled.has(who) && !asked.uses(who) && state.uses.has(id)) spare.idle++;
    }
    const left = worst(made.short);
    const names = new Map(state.schools.map((school) => [school.id, school.name]));
    const older = product.supersedes === null ? undefined : rows.find((one) => one.id === product.supersedes);
    kept.foreseen ??= await foresee(this.db, state);
    return {
      product,
      row,
      licenses: asked.licenses.map((license) => ({
        ...license,
        school: names.get(license.schoolId ?? '') ?? null,
        held: (state.seats.get(license.id) ?? []).length,
        mayEdit: true,
      })),
      rules: await this.rulesOf(state, id),
      steps: steps(now, after),
      foreseen: { from: dateOf(state.window.to), needed: kept.foreseen.get(id) ?? 0 },
      proposal: {
        given: made.given.length,
        taken: made.taken.length,
        unmet: left && {
          count: left.count,
          from: dateOf(left.from),
          to: dateOf(left.to),
          schools: [...left.bySchool]
            .map(([school, count]) => ({ name: names.get(school) ?? 'elsewhere', count }))
            .sort((a, b) => b.count - a.count || a.name.localeCompare(b.name, 'en')),
        },
        buyCents: left ? priceOf(left.count, asked.licenses) : 0,
      },
      spare,
      partial: await this.partialOf(state, entitled),
      olderEdition: older
        ? {
            id: older.id,
            label: older.label,
            rules: state.book.rules.filter((rule) => rule.productId === older.id).length,
            held: older.held,
          }
        : null,
    };
  }

  private async rulesOf(state: LicenseState, productId: string): Promise<ProductSheet['rules']> {
    const rules = state.book.rules.filter((rule) => rule.productId === productId);
    const named = await namesFor(this.db, rules.map(termsOf));
    return rules.map(({ id, role, urgency, begins, ends, ...rule }) => {
      const terms = termsOf(rule);
      return {
        ...{ id, ends, mayEdit: true, whom: ruleWords({ role, begins, ends, ...rule }, named.names) },
        fields: { productId, role, urgency, begins, ...terms },
        classes: named.classes.filter(({ id: of }) => [...terms.classes, ...terms.except.classes].includes(of)),
        ofSchools: ownersOf(terms, named.classes),
      };
    });
  }

  private async partialOf(state: LicenseState, entitled: ReadonlySet<number>): Promise<ProductSheet['partial']> {
    if (entitled.size === 0) return [];
    const rows = await homeroomStudents(this.db);
    const shares = new Map<string, ClassShare & { name: string }>();
    for (const { id, name, schoolId, grade, personId } of rows) {
      const who = state.index.get(personId);
      if (who === undefined || state.people[who]!.stopped) continue;
      let share = shares.get(id);
      if (!share) shares.set(id, (share = { classId: id, name, schoolId, grade: grade!, students: 0, entitled: 0 }));
      share.students++;
      if (entitled.has(who)) share.entitled++;
    }
    const schools = new Map(state.schools.map(({ id, name }) => [id, name]));
    return partial([...shares.values()]).map(({ classId, schoolId, missing, students }) => ({
      classId,
      name: shares.get(classId)!.name,
      school: schools.get(schoolId) ?? '',
      missing,
      students,
    }));
  }
}

function rowOf(state: LicenseState, product: Product): ProductRow {
  const asked = questionOf(state, product.id, { sweep: false, idleDays: 0 });
  const day = state.window.from;
  const at = <T extends { from: number; to: number }>(list: readonly T[]) =>
    list.filter(({ from, to }) => from <= day && day < to);
  const short = course(asked).map(({ from, owned, needed }) => ({ from, count: needed - owned }));
  const most = short.reduce((a, b) => (b.count > a.count ? b : a), { from: 0, count: 0 });
  const holders = new Set(at(asked.held).map(({ who }) => who));
  const open = at(asked.pools);
  const ends = asked.pools.map(({ to }) => to).filter((to) => !asked.pools.some((p) => p.from <= to && to < p.to));
  const newer = [...state.book.products.values()].find(({ supersedes }) => supersedes === product.id);
  const { id, publisher, lowGrade, highGrade, subject } = product;
  return {
    id,
    label: productLabel(product),
    publisher,
    lowGrade,
    highGrade,
    subject,
    supersededBy: newer ? { id: newer.id, label: productLabel(newer) } : null,
    owned: open.some(({ seats }) => seats === Infinity) ? null : open.reduce((sum, { seats }) => sum + seats, 0),
    needed: at(asked.needs).length,
    held: holders.size,
    lacking: at(asked.needs).filter(({ who }) => !holders.has(who)).length,
    short: most.count > 0 ? { count: most.count, from: dateOf(most.from) } : null,
    over: heldBeyond(asked, day),
    runsOut: ends.length > 0 ? dateOf(Math.min(...ends)) : null,
  };
}

/** Both courses on the days of both. */
function steps(now: readonly Step[], after: readonly Step[]): SeatStep[] {
  const days = [...new Set([...now, ...after].map(({ from }) => from))].sort((a, b) => a - b);
  const at = (list: readonly Step[], day: number) => list.filter(({ from }) => from <= day).at(-1);
  return days.map((day) => {
    const { owned = 0, needed = 0, held = 0 } = at(now, day) ?? {};
    const step = { from: dateOf(day), owned: owned === Infinity ? null : owned, needed, held };
    return { ...step, after: at(after, day)?.held ?? 0 };
  });
}

/** What is needed once the grade map, as it is decided so far, has sent everybody on. */
async function foresee(db: Db, { people, schools, book, window }: LicenseState): Promise<Map<string, number>> {
  const next = { from: window.to + 1, to: window.to + 2 };
  const there = people.flatMap(({ role, places }) => (role === 'student' ? places.slice(-1) : []));
  const map = mapOf(schools, there, (await yearDraft(db)).draft);
  const nextOf: NextOf = (schoolId, grade) => map.get(mapKey(schoolId, grade)) ?? null;
  // Rules that end with this school year are for this school year.
  const count = needs(promoted(people, schools, next, nextOf), book, next);
  return new Map([...count].map(([id, list]) => [id, list.length]));
}
