/**
 * Use in figures: by week, by school, class and group, and who stands out. The facts are read here and added up by
 * core/use, in the thread that counts.
 */
import { say } from '#core/messages/say';
import { addDays } from '#core/time/index';
import { may, scopeKey } from '#core/authority/index';
import { groupBy } from '#core/plan/index';
import { fullName } from '#core/register/index';
import {
  addUp,
  type Held,
  hurries,
  type Paced,
  standing,
  type UseFacts,
  type Used,
  weekOf,
  weeksBetween,
} from '#core/use/index';
import { orNone } from '../db/batches';
import { Fault } from '../faults';
import type { Services, UseDays, UseFigures, Viewer } from '../services';
import type { UseFilter, UsePerson, UseSheet, UseStand } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { everywhere } from '../authority/actor';
import { productLabel } from '../licenses/state';
import { mergedInto } from '../people/merged';
import { type Counted, KeptCounts, type Keeping } from './kept';
import {
  dayTexts,
  daysOfUse,
  heldRows,
  homeroomsOf,
  idsByUnit,
  lastDay,
  lastUsesOf,
  namedPeople,
  pacedRows,
  roughDays,
  signInWeeks,
  unitNames,
} from './queries';

/** People that are listed at once. */
const mostPeople = 20_000;
/** Weeks that one may ask for at once. */
const mostWeeks = 60;
/** Of so many the rows of each are looked up; of more, all rows are read. */
const few = 5_000;
/** Of a person's id, and of an id with six digits of seconds after it. */
const [idLength, oneLength] = [26, 32];

/** How many days are shown where nobody said which. */
const usualDays = 55;
type Of = Pick<Services, 'db' | 'config' | 'use'>;

/** The filter with its days: where none are said, up to the last one of which something is told. */
async function withDays({ db, config }: Of, filter: UseFilter): Promise<UseDays> {
  // The last day of each product is the end of its part of the index.
  const known = (await lastDay(db, filter.product ?? null)) ?? config.today();
  const to = filter.to ?? (filter.from && filter.from > known ? config.today() : known);
  const from = filter.from ?? addDays(to, -usualDays);
  if (to < from) throw new Fault('invalid', say('use.toTheLastDayIs'));
  if (weeksBetween(from, to).length > mostWeeks)
    throw new Fault('invalid', say('use.toAskForAtMost', { weeks: mostWeeks }));
  return { ...filter, from, to };
}

/** How many students signed in, by week, of those and for the days that are asked for. */
export async function signIns(
  of: Of,
  viewer: Viewer,
  wanted: UseFilter,
): Promise<{ weeks: string[]; people: number[] }> {
  const filter = await withDays(of, { ...wanted, product: undefined });
  const found = new Map((await signInWeeks(of.db, viewer, filter)).map(({ week, people }) => [week, Number(people)]));
  const weeks = weeksBetween(filter.from, filter.to);
  return { weeks, people: weeks.map((week) => found.get(week) ?? 0) };
}

export const useSheet = async (of: Of, viewer: Viewer, wanted: UseFilter): Promise<UseSheet> =>
  of.use.sheet(viewer, await withDays(of, wanted));

/** From so many days of people on it takes seconds to count them. */
const many = 300_000;

/** Counts what a district looks at first where that takes long, so that whoever looks finds it counted. */
export async function countAhead(of: Of, least = many): Promise<void> {
  if ((await roughDays(of.db)) < least) return;
  await useSheet(of, everywhere, {});
}

/** Those who stand so, by name. */
export const usePeople = async (
  of: Of,
  viewer: Viewer,
  { stand, ...wanted }: UseFilter & { stand: UseStand },
): Promise<UsePerson[]> => of.use.people(viewer, await withDays(of, wanted), stand);

interface Asked extends UseFacts {
  products: string[];
  sums: ReturnType<typeof addUp>;
}

export class UseDesk implements UseFigures {
  private readonly counts: KeptCounts<Asked>;

  constructor(
    private readonly db: Db,
    private readonly config: Config,
    keeping?: Keeping,
  ) {
    this.counts = new KeptCounts(keeping);
  }

  async sheet(viewer: Viewer, filter: UseDays): Promise<UseSheet> {
    const { db } = this;
    const { value: facts, at, anew } = await this.facts(viewer, filter);
    const { sums } = facts;
    const weeks = weeksBetween(filter.from, filter.to);
    const minutes = (seconds: number[]) => seconds.map((n) => Math.round(n / 60));
    const [names, products, told, strays] = await Promise.all([
      namesOf(db, [...sums.units.keys()]),
      db.models.product.findAll({ attributes: ['id', 'name', 'edition'], raw: true }),
      this.told(),
      may(viewer, 'usage.strays')
        ? db.models.useStrays.findAll({
            where: { productId: facts.products },
            order: [['lastOn', 'DESC'], 'who'],
            limit: 200,
            raw: true,
          })
        : [],
    ]);
    const labels = new Map(products.map((product) => [product.id, productLabel(product)]));
    const labelOf = (id: string) => labels.get(id) ?? '';
    return {
      countedAt: at,
      anew,
      from: filter.from,
      to: filter.to,
      weeks,
      byWeek: sums.byWeek.map(({ seconds, people }) => ({ minutes: Math.round(seconds / 60), people })),
      byProduct: [...sums.byProduct]
        .map(([id, seconds]) => ({ id, label: labelOf(id), minutes: minutes(seconds) }))
        .sort((a, b) => a.label.localeCompare(b.label, 'en')),
      rows: [...sums.units]
        .map(([id, { weeks: seconds, ...heads }]) => {
          const weekly = minutes(seconds);
          return {
            id,
            ...(names.get(id) ?? { name: '', school: '' }),
            ...heads,
            minutes: weekly.reduce((sum, n) => sum + n, 0),
            weeks: weekly,
          };
        })
        .sort(
          (a, b) => a.school.localeCompare(b.school, 'en') || a.name.localeCompare(b.name, 'en', { numeric: true }),
        ),
      counts: sums.counts,
      products: told
        .map((id) => ({ id, label: labelOf(id) }))
        .sort((one, other) => one.label.localeCompare(other.label, 'en')),
      strays: strays.map(({ productId, ...row }) => ({ product: labelOf(productId), ...row })),
    };
  }

  async people(viewer: Viewer, filter: UseDays, stand: UseStand): Promise<UsePerson[]> {
    const { db } = this;
    const { value: facts } = await this.facts(viewer, filter);
    const ids = [...standing(facts)[stand]];
    if (ids.length === 0) return [];
    const named = await namedPeople(db, ids, mostPeople);
    const shown = new Set(named.map(({ id }) => id));
    // With what was told of records that were merged into them.
    const into = new Map([...(await mergedInto(db))].filter(([, now]) => shown.has(now)));
    const told = [...shown, ...into.keys()];
    const products = orNone(facts.products);
    const [rooms, lasts, days] = await Promise.all([
      homeroomsOf(db, [...shown]),
      lastUsesOf(db, products, told),
      daysOfUse(db, products, filter, told),
    ]);
    const roomOf = new Map(rooms.map(({ personId, name }) => [personId, name]));
    const whose = ({ personId }: { personId: string }) => into.get(personId) ?? personId;
    const lastOf = groupBy(lasts, whose);
    const daysOf = groupBy(days, whose);
    const usedOf = groupBy(facts.used, ({ personId }) => personId);
    return named.map((one): UsePerson => {
      const seconds = (usedOf.get(one.id) ?? [])
        .flatMap((used) => used.seconds)
        .reduce<number>((sum, n) => sum + (n ?? 0), 0);
      const { timed, quick } = facts.paced.get(one.id) ?? { timed: 0, quick: 0 };
      return {
        id: one.id,
        name: fullName(one),
        number: one.number ?? '',
        school: one.school,
        className: roomOf.get(one.id) ?? '',
        seat: (facts.held.get(one.id)?.held ?? 0) > 0,
        days: new Set(daysOf.get(one.id)?.map(({ day }) => day)).size,
        minutes: Math.round(seconds / 60),
        lastOn:
          lastOf
            .get(one.id)
            ?.map(({ usedOn }) => usedOn)
            .sort()
            .at(-1) ?? null,
        hurries: hurries(timed, quick),
      };
    });
  }

  /** Products that tell of their use. */
  private async told(): Promise<string[]> {
    const rows = await this.db.models.lastUses.findAll({ attributes: ['productId'], group: ['productId'], raw: true });
    return rows.map(({ productId }) => productId);
  }

  private facts(viewer: Viewer, filter: UseDays): Promise<Counted<Asked>> {
    const key = JSON.stringify([scopeKey(viewer), Object.entries(filter).sort()]);
    return this.counts.get(key, () => this.count(viewer, filter));
  }

  private async count(viewer: Viewer, filter: UseDays): Promise<Asked> {
    const products = filter.product ? [filter.product] : await this.told();
    const who = await this.who(viewer, filter);
    // Ids of those asked for, where they are few; null: whoever.
    const into = new Map([...(await mergedInto(this.db))].filter(([, now]) => who.has(now)));
    const only = who.size <= few ? orNone([...who.keys(), ...into.keys()]) : null;
    const weeks = weeksBetween(filter.from, filter.to);
    const [used, held, paced] = await Promise.all([
      this.used(who.keys(), into, products, filter, weeks, only),
      this.held(products, filter, only),
      this.paced(products, filter, only),
    ]);
    const facts = { who, used, held, paced, weeks: weeks.length };
    return { ...facts, products, sums: addUp(facts) };
  }

  /** Students asked for, with the schools, or classes of a school, or groups of a class, that they are counted under. */
  private async who(viewer: Viewer, filter: UseDays): Promise<Map<string, string[]>> {
    const rows = await idsByUnit(this.db, viewer, filter);
    const who = new Map<string, string[]>();
    for (const { unit: id, ids } of rows)
      for (const personId of ids.split(',')) {
        const within = who.get(personId);
        if (!within) who.set(personId, id === null ? [] : [id]);
        else if (id !== null && !within.includes(id)) within.push(id);
      }
    return who;
  }

  /**
   * Each day of a product comes as one text, in the order in which the days lie in the table: sorting two million rows
   * by person is what takes a database half a minute.
   */
  private async used(
    who: Iterable<string>,
    into: ReadonlyMap<string, string>,
    products: string[],
    filter: UseDays,
    weeks: string[],
    only: string[] | null,
  ): Promise<Used[]> {
    // Both lists are in the order of ids, so that most are found beside the one before.
    const ids = [...who].sort();
    const place = new Map(ids.map((id, i) => [id, i]));
    for (const [gone, now] of into) place.set(gone, place.get(now)!);
    const bytes = Buffer.from(ids.join(''), 'latin1');
    // By product; per person and week the seconds, -1: none.
    const told = new Map<string, Int32Array>();
    const read = async (from: string, to: string): Promise<void> => {
      const days = await dayTexts(this.db, products, { from, to }, only);
      for (const { productId, day, people, each } of days) {
        if (each.length !== Number(people) * oneLength)
          throw new Error(`the use of ${day} is cut: raise group_concat_max_len`);
        let seconds = told.get(productId);
        if (!seconds) told.set(productId, (seconds = new Int32Array(ids.length * weeks.length).fill(-1)));
        const week = weeks.indexOf(weekOf(day));
        let next = 0;
        for (let start = 0; start < each.length; start += oneLength) {
          for (let skip = 0; skip < 8 && !isAt(each, start, bytes, next); skip++) next++;
          const at = isAt(each, start, bytes, next)
            ? next
            : place.get(each.toString('latin1', start, start + idLength));
          if (at === undefined) continue;
          next = at + 1;
          let spent = 0;
          for (let digit = start + idLength; digit < start + oneLength; digit++) spent = spent * 10 + each[digit]! - 48;
          const cell = at * weeks.length + week;
          seconds[cell] = Math.max(0, seconds[cell]!) + spent;
        }
      }
    };
    // Of everyone a week at a time, so that the texts stay small.
    if (only) await read(filter.from, filter.to);
    else
      for (const monday of weeks) {
        const sunday = addDays(monday, 6);
        await read(monday < filter.from ? filter.from : monday, sunday > filter.to ? filter.to : sunday);
      }
    const used: Used[] = [];
    for (const [productId, seconds] of told)
      for (const [i, personId] of ids.entries()) {
        const own = seconds.subarray(i * weeks.length, (i + 1) * weeks.length);
        if (own.some((n) => n >= 0))
          used.push({ personId, productId, seconds: Array.from(own, (n) => (n < 0 ? null : n)) });
      }
    return used;
  }

  private async held(products: string[], { from }: UseDays, only: string[] | null): Promise<Map<string, Held>> {
    const rows = await heldRows(this.db, products, from, this.config.today(), only);
    return new Map(
      rows.map(({ personId, held, never, idle }) => [
        personId,
        { held: Number(held), never: Number(never), idle: Number(idle) },
      ]),
    );
  }

  private async paced(products: string[], { from, to }: UseDays, only: string[] | null): Promise<Map<string, Paced>> {
    const rows = await pacedRows(this.db, products, { from, to }, only);
    return new Map(
      rows.map(({ personId, timed, quick }) => [personId, { timed: Number(timed), quick: Number(quick) }]),
    );
  }
}

/** Whether the id number `nth` of `ids` stands in the text from there on; ids differ in their last letters first. */
function isAt(text: Buffer, from: number, ids: Buffer, nth: number): boolean {
  const start = nth * idLength;
  for (let i = idLength - 1; i >= 0; i--) if (text[from + i] !== ids[start + i]) return false;
  return true;
}

async function namesOf(db: Db, ids: string[]): Promise<Map<string, { name: string; school: string }>> {
  const rows = await unitNames(db, ids);
  return new Map(rows.map(({ id, ...names }) => [id, names]));
}
