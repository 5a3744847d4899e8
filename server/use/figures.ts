/**
 * Use in figures: by week, by school, class and group, and who stands out. The database adds up, so that a district of
 * 100,000 comes as some hundred rows.
 */
import { groupBy } from '#core/plan/index';
import { fullName } from '#core/register/index';
import { hurriedLeast, hurriedShare, hurries, weekOf, weeksBetween } from '#core/use/index';
import { Fault, mayBeSeen, orNone, type Services, type Viewer } from '../api/context';
import type { UseFilter, UsePerson, UseRow, UseSheet, UseStand } from '../api/contract';
import type { Db, Params } from '../db/connection';
import { productLabel } from '../licenses/state';

/** People that are listed at once. */
const mostPeople = 20_000;
/** Weeks that one may ask for at once. */
const mostWeeks = 60;

/** How many days are shown where nobody said which. */
const usualDays = 55;
type Days = UseFilter & { from: string; to: string };
type Of = Pick<Services, 'db' | 'config'>;

/** The filter with its days: where none are said, up to the last one of which something is told. */
async function withDays({ db, config }: Of, filter: UseFilter): Promise<Days> {
  const last = await db.one<{ day: string | null }>(
    'SELECT MAX(day) AS day FROM use_days WHERE productId = COALESCE(:product, productId)',
    { product: filter.product ?? null },
  );
  const known = last?.day ?? config.today();
  const to = filter.to ?? (filter.from && filter.from > known ? config.today() : known);
  const from = filter.from ?? new Date(Date.parse(to) - usualDays * 86_400_000).toISOString().slice(0, 10);
  return { ...filter, from, to };
}

interface Asked {
  /** Common tables `who` (students asked for), `used` (what they used in the days asked for) and `hurried`. */
  tables: string;
  params: Params;
}

async function asked({ db, config }: Of, viewer: Viewer, filter: Days): Promise<Asked> {
  if (filter.to < filter.from) throw new Fault(422, 'to: the last day is before the first one');
  if (weeksBetween(filter.from, filter.to).length > mostWeeks)
    throw new Fault(422, `to: ask for no more than ${mostWeeks} weeks at once`);
  const scope = mayBeSeen(viewer);
  const products = filter.product
    ? [filter.product]
    : (await db.select<{ id: string }>('SELECT DISTINCT productId AS id FROM last_uses')).map(({ id }) => id);
  const conditions = [
    "p.role = 'student' AND p.status = 'active'",
    scope.sql,
    viewer.role === 'school' && 'a.schoolId IN (:scopeSchools)',
    filter.school && 'a.schoolId = :school',
    filter.grade && 'a.grade = :grade',
    filter.classId &&
      "EXISTS (SELECT 1 FROM enrollments fe WHERE fe.personId = p.id AND fe.classId = :classId AND fe.ends IS NULL AND fe.role = 'student')",
    filter.group &&
      'EXISTS (SELECT 1 FROM memberships fm WHERE fm.personId = p.id AND fm.groupId = :group AND fm.ends IS NULL)',
  ].filter(Boolean);
  // Of few, their own rows are read; of everyone, all.
  const few = viewer.role !== 'district' || filter.school || filter.grade || filter.classId || filter.group;
  const narrow = (column: string) => (few ? `AND ${column} IN (SELECT id FROM who)` : '');
  return {
    tables: `WITH who AS (SELECT p.id, p.familyName, p.givenName, p.number, a.schoolId FROM people p JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL WHERE ${conditions.join(' AND ')}),
      used AS (SELECT personId, COUNT(DISTINCT day) AS days, SUM(seconds) AS seconds FROM use_days WHERE productId IN (:products) AND day BETWEEN :from AND :to ${narrow('personId')} GROUP BY personId),
      hurried AS (SELECT r.personId, COUNT(*) AS timed, SUM(r.seconds < m.minutes * 60 * :share) AS quick FROM results r JOIN materials m ON m.id = r.materialId
        WHERE m.productId IN (:products) AND r.finished AND r.seconds > 0 AND m.minutes > 0 AND r.at >= :from AND r.at < :after ${narrow('r.personId')} GROUP BY r.personId)`,
    params: {
      ...scope.params,
      products: orNone(products),
      today: config.today(),
      from: filter.from,
      to: filter.to,
      after: `${filter.to}T99`,
      monday: weekOf(filter.from),
      school: filter.school ?? null,
      grade: filter.grade ?? null,
      classId: filter.classId ?? null,
      group: filter.group ?? null,
      share: hurriedShare,
      least: hurriedLeast,
    },
  };
}

interface Stood {
  id: string;
  familyName: string;
  givenName: string;
  number: string | null;
  schoolId: string;
  held: number;
  never: number;
  idle: number;
  days: number;
  seconds: number;
  lastOn: string | null;
  timed: number;
  quick: number;
}
/** Of what they hold a seat of today: how many products, how many of them never used, and how many not since `from`. */
const person = `SELECT w.*, COALESCE(k.held, 0) AS held, COALESCE(k.never, 0) AS never, COALESCE(k.idle, 0) AS idle, COALESCE(u.days, 0) AS days, COALESCE(u.seconds, 0) AS seconds,
  (SELECT MAX(lu.usedOn) FROM last_uses lu WHERE lu.personId = w.id AND lu.productId IN (:products)) AS lastOn, COALESCE(h.timed, 0) AS timed, COALESCE(h.quick, 0) AS quick
  FROM who w LEFT JOIN used u ON u.personId = w.id LEFT JOIN hurried h ON h.personId = w.id
  LEFT JOIN (SELECT s.personId, COUNT(DISTINCT l.productId) AS held, COUNT(DISTINCT IF(lu.usedOn IS NULL, l.productId, NULL)) AS never, COUNT(DISTINCT IF(lu.usedOn < :from, l.productId, NULL)) AS idle
    FROM seats s JOIN licenses l ON l.id = s.licenseId LEFT JOIN last_uses lu ON lu.personId = s.personId AND lu.productId = l.productId
    WHERE l.productId IN (:products) AND s.begins <= :today AND (s.ends IS NULL OR s.ends > :today) AND l.ends > :today GROUP BY s.personId) k ON k.personId = w.id`;

/** Who stands so, as a condition on `person`; somebody hurries as core/use says. */
const stands: Record<UseStand, string> = {
  never: 'w.never > 0',
  idle: 'w.idle > 0',
  hurries: 'w.timed >= :least AND w.quick * 2 >= w.timed',
  used: 'w.days > 0',
};

/** What a line is of: schools, the classes of a school, the groups of a class. */
function unitOf(viewer: Viewer, filter: UseFilter): { join: string; id: string } {
  if (filter.classId)
    return {
      join: 'JOIN memberships j ON j.personId = w.id AND j.ends IS NULL JOIN class_groups k ON k.id = j.groupId AND k.classId = :classId AND k.ends IS NULL',
      id: 'k.id',
    };
  if (filter.school || viewer.role === 'teacher' || viewer.schoolIds.length === 1)
    return {
      join: `JOIN enrollments j ON j.personId = w.id AND j.ends IS NULL AND j.role = 'student' JOIN classes k ON k.id = j.classId AND k.ends IS NULL ${viewer.role === 'teacher' ? 'AND k.id IN (:scopeClasses)' : 'AND k.schoolId = w.schoolId'}`,
      id: 'k.id',
    };
  return { join: '', id: 'w.schoolId' };
}

export async function useSheet(of: Of, viewer: Viewer, wanted: UseFilter): Promise<UseSheet> {
  const { db } = of;
  const filter = await withDays(of, wanted);
  const { tables, params } = await asked(of, viewer, filter);
  const weeks = weeksBetween(filter.from, filter.to);
  const unit = unitOf(viewer, filter);
  const week = 'FLOOR(DATEDIFF(d.day, :monday) / 7)';
  const days = `FROM use_days d JOIN who w ON w.id = d.personId`;
  const within = 'd.productId IN (:products) AND d.day BETWEEN :from AND :to';
  const each = (...wanted: UseStand[]) => wanted.map((stand) => `SUM(${stands[stand]}) AS ${stand}`).join(', ');
  const [units, counts, sums, byWeek, byProduct] = await Promise.all([
    db.select<Record<'students' | 'seats' | 'used' | 'hurries', number> & { id: string }>(
      `${tables} SELECT ${unit.id} AS id, COUNT(DISTINCT w.id) AS students, SUM(w.held > 0) AS seats, ${each('used', 'hurries')} FROM (${person}) w ${unit.join} GROUP BY 1`,
      params,
    ),
    db.one<Record<UseStand, number | null>>(
      `${tables} SELECT ${each('never', 'idle', 'hurries', 'used')} FROM (${person}) w`,
      params,
    ),
    db.select<{ id: string; week: number; seconds: number }>(
      `${tables} SELECT ${unit.id} AS id, ${week} AS week, SUM(d.seconds) AS seconds ${days} ${unit.join} WHERE ${within} GROUP BY 1, 2`,
      params,
    ),
    db.select<{ week: number; seconds: number; people: number }>(
      `${tables} SELECT ${week} AS week, SUM(d.seconds) AS seconds, COUNT(DISTINCT d.personId) AS people ${days} WHERE ${within} GROUP BY 1`,
      params,
    ),
    db.select<{ productId: string; week: number; seconds: number }>(
      `${tables} SELECT d.productId, ${week} AS week, SUM(d.seconds) AS seconds ${days} WHERE ${within} GROUP BY 1, 2`,
      params,
    ),
  ]);
  const names = await namesOf(
    db,
    units.map(({ id }) => id),
  );
  const minutes = new Map<string, number[]>();
  for (const { id, week: nth, seconds } of sums) {
    let list = minutes.get(id);
    if (!list) minutes.set(id, (list = weeks.map(() => 0)));
    list[Number(nth)] = Math.round(Number(seconds) / 60);
  }
  const rows = units.map(({ id, students, seats, used, hurries: quick }): UseRow => {
    const weekly = minutes.get(id) ?? weeks.map(() => 0);
    return {
      id,
      ...(names.get(id) ?? { name: '', school: '' }),
      students: Number(students),
      seats: Number(seats),
      used: Number(used),
      minutes: weekly.reduce((sum, n) => sum + n, 0),
      weeks: weekly,
      hurries: Number(quick),
    };
  });
  const labels = new Map(
    (
      await db.select<{ id: string; name: string; edition: string | null }>('SELECT id, name, edition FROM products')
    ).map((product) => [product.id, productLabel(product)]),
  );
  const perProduct = [...groupBy(byProduct, ({ productId }) => productId)];
  return {
    from: filter.from,
    to: filter.to,
    weeks,
    byWeek: weeks.map((_, i) => {
      const row = byWeek.find((one) => Number(one.week) === i);
      return { minutes: Math.round(Number(row?.seconds ?? 0) / 60), people: Number(row?.people ?? 0) };
    }),
    byProduct: perProduct
      .map(([id, list]) => ({
        id,
        label: labels.get(id) ?? '',
        minutes: weeks.map((_, i) => Math.round(Number(list.find((one) => Number(one.week) === i)?.seconds ?? 0) / 60)),
      }))
      .sort((a, b) => a.label.localeCompare(b.label, 'en')),
    rows: rows.sort(
      (a, b) => a.school.localeCompare(b.school, 'en') || a.name.localeCompare(b.name, 'en', { numeric: true }),
    ),
    counts: {
      never: Number(counts?.never ?? 0),
      idle: Number(counts?.idle ?? 0),
      hurries: Number(counts?.hurries ?? 0),
      used: Number(counts?.used ?? 0),
    },
    products: (await db.select<{ id: string }>('SELECT DISTINCT productId AS id FROM last_uses'))
      .map(({ id }) => ({ id, label: labels.get(id) ?? '' }))
      .sort((one, other) => one.label.localeCompare(other.label, 'en')),
    strays:
      viewer.role === 'district'
        ? (
            await db.select<{ productId: string; who: string; times: number; lastOn: string }>(
              'SELECT productId, who, times, lastOn FROM use_strays WHERE productId IN (:products) ORDER BY lastOn DESC, who LIMIT 200',
              params,
            )
          ).map(({ productId, ...row }) => ({ product: labels.get(productId) ?? '', ...row }))
        : [],
  };
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

/** Those who stand so, by name. */
export async function usePeople(
  of: Of,
  viewer: Viewer,
  { stand, ...wanted }: UseFilter & { stand: UseStand },
): Promise<UsePerson[]> {
  const { db } = of;
  const filter = await withDays(of, wanted);
  const { tables, params } = await asked(of, viewer, filter);
  const people = await db.select<Stood>(
    `${tables} SELECT w.* FROM (${person}) w WHERE ${stands[stand]} ORDER BY w.familyName, w.givenName, w.id LIMIT ${mostPeople}`,
    params,
  );
  const places = await db.select<{ personId: string; className: string; school: string }>(
    `SELECT a.personId, s.name AS school, COALESCE((SELECT MIN(c.name) FROM enrollments e JOIN classes c ON c.id = e.classId AND c.kind = 'homeroom' AND c.ends IS NULL WHERE e.personId = a.personId AND e.ends IS NULL AND e.role = 'student'), '') AS className
     FROM affiliations a JOIN schools s ON s.id = a.schoolId WHERE a.ends IS NULL AND a.personId IN (:ids)`,
    { ids: orNone(people.map(({ id }) => id)) },
  );
  const placeOf = new Map(places.map((place) => [place.personId, place]));
  return people.map((one) => ({
    id: one.id,
    name: fullName(one),
    number: one.number ?? '',
    school: placeOf.get(one.id)?.school ?? '',
    className: placeOf.get(one.id)?.className ?? '',
    seat: Number(one.held) > 0,
    days: Number(one.days),
    minutes: Math.round(Number(one.seconds) / 60),
    lastOn: one.lastOn,
    hurries: hurries(Number(one.timed), Number(one.quick)),
  }));
}
