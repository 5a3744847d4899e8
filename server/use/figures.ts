/**
 * Use in figures: by week, by school, class and group, and who stands out. The facts are read here and added up by
 * core/use, in the thread that counts.
 */
import { addDays } from '#core/time/index';
import { may, scopeKey, theirRows } from '#core/authority/index';
import { groupBy } from '#core/plan/index';
import { fullName } from '#core/register/index';
import {
  addUp,
  type Held,
  hurriedShare,
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
import type { Db, Param } from '../db/connection';
import { everywhere } from '../authority/actor';
import { productLabel } from '../licenses/state';
import { mergedInto, mergedSql } from '../people/merged';
import { type Counted, KeptCounts, type Keeping } from './kept';

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
  const { product } = filter;
  const last = await db.one<{ day: string | null }>(
    `SELECT MAX(day) AS day FROM (SELECT MAX(day) AS day FROM use_days ${product ? 'WHERE productId = :product' : ''} GROUP BY productId) d`,
    { product: product ?? null },
  );
  const known = last?.day ?? config.today();
  const to = filter.to ?? (filter.from && filter.from > known ? config.today() : known);
  const from = filter.from ?? addDays(to, -usualDays);
  if (to < from) throw new Fault('invalid', 'to: the last day is before the first one');
  if (weeksBetween(from, to).length > mostWeeks)
    throw new Fault('invalid', `to: ask for no more than ${mostWeeks} weeks at once`);
  return { ...filter, from, to };
}

export const useSheet = async (of: Of, viewer: Viewer, wanted: UseFilter): Promise<UseSheet> =>
  of.use.sheet(viewer, await withDays(of, wanted));

/** From so many days of people on it takes seconds to count them. */
const many = 300_000;

/** Counts what a district looks at first where that takes long, so that whoever looks finds it counted. */
export async function countAhead(of: Of, least = many): Promise<void> {
  const told = await of.db.one<{ n: number }>(
    "SELECT TABLE_ROWS AS n FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'use_days'",
  );
  if (Number(told?.n ?? 0) < least) return;
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
      db.select<{ id: string; name: string; edition: string | null }>('SELECT id, name, edition FROM products'),
      this.told(),
      may(viewer, 'usage.strays')
        ? db.select<{ productId: string; who: string; times: number; lastOn: string }>(
            'SELECT productId, who, times, lastOn FROM use_strays WHERE productId IN (:products) ORDER BY lastOn DESC, who LIMIT 200',
            { products: orNone(facts.products) },
          )
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
    const named = await db.rows<{
      id: string;
      familyName: string;
      givenName: string;
      number: string | null;
      school: string;
    }>(
      `SELECT p.id, p.familyName, p.givenName, p.number, s.name AS school FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL JOIN schools s ON s.id = a.schoolId
       WHERE p.id IN (?) ORDER BY p.familyName, p.givenName, p.id LIMIT ${mostPeople}`,
      [ids],
    );
    const shown = new Set(named.map(({ id }) => id));
    // With what was told of records that were merged into them.
    const into = new Map([...(await mergedInto(db))].filter(([, now]) => shown.has(now)));
    const told = [...shown, ...into.keys()];
    const products = orNone(facts.products);
    const [rooms, lasts, days] = await Promise.all([
      db.rows<{ personId: string; name: string }>(
        `SELECT e.personId, MIN(c.name) AS name FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.ends IS NULL
         WHERE e.ends IS NULL AND e.role = 'student' AND e.personId IN (?) GROUP BY e.personId`,
        [[...shown]],
      ),
      db.rows<{ personId: string; usedOn: string }>(
        'SELECT personId, MAX(usedOn) AS usedOn FROM last_uses WHERE productId IN (?) AND personId IN (?) GROUP BY personId',
        [products, told],
      ),
      db.rows<{ personId: string; day: string }>(
        'SELECT DISTINCT personId, day FROM use_days WHERE productId IN (?) AND day BETWEEN ? AND ? AND personId IN (?)',
        [products, filter.from, filter.to, told],
      ),
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
    const rows = await this.db.select<{ id: string }>('SELECT DISTINCT productId AS id FROM last_uses');
    return rows.map(({ id }) => id);
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
    const scope = theirRows(viewer, 'people', 'p');
    const conditions = [
      "p.role = 'student' AND p.status = 'active'",
      scope,
      theirRows(viewer, 'atSchool', 'a'),
      filter.school && 'a.schoolId = :school',
      filter.grade && 'a.grade = :grade',
      filter.classId &&
        "EXISTS (SELECT 1 FROM enrollments fe WHERE fe.personId = p.id AND fe.classId = :classId AND fe.ends IS NULL AND fe.role = 'student')",
      filter.group &&
        'EXISTS (SELECT 1 FROM memberships fm WHERE fm.personId = p.id AND fm.groupId = :group AND fm.ends IS NULL)',
    ].filter(Boolean);
    const unit = unitOf(viewer, filter);
    // A row for each would cost more than all the rest.
    const rows = await this.db.select<{ unit: string | null; ids: string }>(
      `SELECT ${unit.id} AS unit, GROUP_CONCAT(p.id) AS ids FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL ${unit.join}
       WHERE ${conditions.join(' AND ')} GROUP BY 1, RIGHT(p.id, 1)`,
      {
        school: filter.school ?? null,
        grade: filter.grade ?? null,
        classId: filter.classId ?? null,
        group: filter.group ?? null,
      },
    );
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
      const values: Param[] = [orNone(products), from, to];
      const days = await this.db.rows<{ productId: string; day: string; people: number; each: Buffer }>(
        `SELECT productId, day, COUNT(*) AS people, CAST(GROUP_CONCAT(personId, LPAD(LEAST(seconds, 999999), 6, '0') SEPARATOR '') AS BINARY) AS \`each\` FROM use_days ${only ? 'FORCE INDEX (byPerson)' : ''}
         WHERE productId IN (?) AND day BETWEEN ? AND ? ${only ? 'AND personId IN (?)' : ''} GROUP BY productId, day`,
        only ? [...values, only] : values,
      );
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
    const today = this.config.today();
    const values: Param[] = [from, from, orNone(products), today, today, today];
    const rows = await this.db.rows<Held & { personId: string }>(
      `SELECT s.personId, COUNT(DISTINCT l.productId) AS held, COUNT(DISTINCT IF(COALESCE(lu.usedOn, lm.usedOn) IS NULL, l.productId, NULL)) AS never,
         COUNT(DISTINCT IF(COALESCE(lu.usedOn, lm.usedOn) < ? AND COALESCE(lm.usedOn, lu.usedOn) < ?, l.productId, NULL)) AS idle
       FROM licenses l JOIN seats s ON s.licenseId = l.id LEFT JOIN last_uses lu ON lu.personId = s.personId AND lu.productId = l.productId
       LEFT JOIN (${mergedSql} SELECT g.at AS personId, u.productId, MAX(u.usedOn) AS usedOn FROM gone g JOIN last_uses u ON u.personId = g.id GROUP BY g.at, u.productId) lm
         ON lm.personId = s.personId AND lm.productId = l.productId
       WHERE l.productId IN (?) AND s.begins <= ? AND (s.ends IS NULL OR s.ends > ?) AND l.ends > ? ${only ? 'AND s.personId IN (?)' : ''} GROUP BY s.personId`,
      only ? [...values, only] : values,
    );
    return new Map(
      rows.map(({ personId, held, never, idle }) => [
        personId,
        { held: Number(held), never: Number(never), idle: Number(idle) },
      ]),
    );
  }

  private async paced(products: string[], { from, to }: UseDays, only: string[] | null): Promise<Map<string, Paced>> {
    const values: Param[] = [hurriedShare, orNone(products), from, `${to}T99`];
    const rows = await this.db.rows<Paced & { personId: string }>(
      `SELECT r.personId, COUNT(*) AS timed, SUM(r.seconds < m.minutes * 60 * ?) AS quick FROM results r JOIN materials m ON m.id = r.materialId
       WHERE m.productId IN (?) AND r.finished AND r.seconds > 0 AND m.minutes > 0 AND r.at >= ? AND r.at < ? ${only ? 'AND r.personId IN (?)' : ''} GROUP BY r.personId`,
      only ? [...values, only] : values,
    );
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

/** What a line is of: schools, the classes of a school, the groups of a class. */
function unitOf(viewer: Viewer, filter: UseFilter): { join: string; id: string } {
  if (filter.classId)
    return {
      join: 'LEFT JOIN memberships j ON j.personId = p.id AND j.ends IS NULL LEFT JOIN class_groups k ON k.id = j.groupId AND k.classId = :classId AND k.ends IS NULL',
      id: 'k.id',
    };
  if (filter.school || !may(viewer, 'classes.all') || viewer.schoolIds.length === 1)
    return {
      join: `LEFT JOIN enrollments j ON j.personId = p.id AND j.ends IS NULL AND j.role = 'student' LEFT JOIN classes k ON k.id = j.classId AND k.ends IS NULL AND ${theirRows(viewer, 'classes', 'k')} ${may(viewer, 'classes.all') ? 'AND k.schoolId = a.schoolId' : ''}`,
      id: 'k.id',
    };
  return { join: '', id: 'a.schoolId' };
}

async function namesOf(db: Db, ids: string[]): Promise<Map<string, { name: string; school: string }>> {
  const rows = await db.select<{ id: string; name: string; school: string }>(
    `SELECT id, name, name AS school FROM schools WHERE id IN (:ids) UNION ALL
     SELECT c.id, c.name, s.name FROM classes c JOIN schools s ON s.id = c.schoolId WHERE c.id IN (:ids) UNION ALL
     SELECT g.id, g.name, s.name FROM class_groups g JOIN schools s ON s.id = g.schoolId WHERE g.id IN (:ids)`,
    { ids: orNone(ids) },
  );
  return new Map(rows.map(({ id, ...names }) => [id, names]));
}
