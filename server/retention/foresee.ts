/** What is due to be purged, and what will be: by kind, with the people who left. */
import { addMonths, dueFrom, dueOn, type Retention, retentionKinds, type RetentionKind } from '#core/retention/index';
import { clock } from '../clock';
import type { RetentionSheet } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';

/** For how long ahead purges are foreseen. */
const monthsAhead = 12;

/**
 * When each thing of a kind was: a day, or a quarter of an hour in UTC (a day of any zone begins at one), and how many. Who left counts from the end of the last place they
 * had; whoever still has a device waits until it is back.
 */
const quarterOf = (moment: string) =>
  `CONCAT(LEFT(${moment}, 14), LPAD(15 * FLOOR(MID(${moment}, 15, 2) / 15), 2, '0'))`;
const whensOf: Record<RetentionKind, string> = {
  leavers: `SELECT day, COUNT(*) AS n FROM (SELECT p.id, MAX(a.ends) AS day FROM people p JOIN affiliations a ON a.personId = p.id WHERE p.status = 'left'
    GROUP BY p.id HAVING SUM(a.ends IS NULL) = 0) x WHERE NOT EXISTS (SELECT 1 FROM loans l WHERE l.personId = x.id AND l.ends IS NULL) GROUP BY day`,
  files: `SELECT ${quarterOf('createdAt')} AS day, COUNT(*) AS n FROM intakes WHERE status NOT IN ('open', 'purged') GROUP BY day`,
  requests: `SELECT ${quarterOf('settledAt')} AS day, COUNT(*) AS n FROM join_requests WHERE settledAt IS NOT NULL GROUP BY day`,
  use: `SELECT day, SUM(n) AS n FROM (SELECT day, COUNT(*) AS n FROM use_days GROUP BY day UNION ALL SELECT ${quarterOf('at')}, COUNT(*) FROM results GROUP BY 1
    UNION ALL SELECT seenOn, COUNT(*) FROM levels GROUP BY 1 UNION ALL SELECT lastOn, COUNT(*) FROM use_strays GROUP BY 1 UNION ALL SELECT day, COUNT(*) FROM statements GROUP BY 1) x GROUP BY day`,
  trail: `SELECT ${quarterOf('at')} AS day, COUNT(*) AS n FROM audit GROUP BY day`,
};

export interface Foreseen {
  kind: RetentionKind;
  /** Due today. */
  due: number;
  /** The next days on which something becomes due, within a year. */
  ahead: { day: string; count: number }[];
}

export async function foreseePurge(db: Db, retention: Retention, today: string): Promise<Foreseen[]> {
  const until = addMonths(today, monthsAhead);
  return Promise.all(
    retentionKinds.map(async (kind): Promise<Foreseen> => {
      const rows = (await db.select<{ day: string; n: number }>(`${whensOf[kind]} ORDER BY day`)).map(({ day, n }) => ({
        day: day.length > 10 ? clock.dayOf(`${day}Z`) : day,
        n,
      }));
      const from = dueFrom(kind, retention, today);
      return {
        kind,
        due: rows.reduce((sum, { day, n }) => (day <= from ? sum + Number(n) : sum), 0),
        ahead: rows
          .filter(({ day }) => day > from)
          .map(({ day, n }) => ({ day: dueOn(kind, retention, day), count: Number(n) }))
          .filter(({ day }) => day <= until)
          .reduce<Foreseen['ahead']>((days, { day, count }) => {
            const last = days.at(-1);
            if (last?.day === day) last.count += count;
            else days.push({ day, count });
            return days;
          }, []),
      };
    }),
  );
}

/** Who is due to be purged, longest gone first. */
export async function dueLeavers(db: Db, config: Config, limit: number): Promise<RetentionSheet['leavers']> {
  const { retention } = (await district(db))!.settings;
  return db.select(
    `SELECT p.id, CONCAT(p.familyName, ', ', p.givenName) AS name, p.number, p.role, MAX(a.ends) AS leftOn FROM people p JOIN affiliations a ON a.personId = p.id
     WHERE p.status = 'left' GROUP BY p.id HAVING SUM(a.ends IS NULL) = 0 AND MAX(a.ends) <= :from ORDER BY leftOn, name, p.id LIMIT ${limit}`,
    { from: dueFrom('leavers', retention, config.today()) },
  );
}

export async function retentionSheet(db: Db, config: Config): Promise<RetentionSheet> {
  const here = (await district(db))!;
  const { retention } = here.settings;
  const today = config.today();
  const [kinds, leavers, waiting] = await Promise.all([
    foreseePurge(db, retention, today),
    dueLeavers(db, config, 500),
    db.one<{ n: number }>(
      "SELECT COUNT(DISTINCT p.id) AS n FROM people p JOIN loans l ON l.personId = p.id AND l.ends IS NULL WHERE p.status = 'left'",
    ),
  ]);
  return {
    retention,
    district: here.name,
    kinds: kinds.map(({ kind, due, ahead }) => ({
      kind,
      due,
      next: ahead[0]?.day ?? null,
      nextCount: ahead.filter(({ day }) => day === ahead[0]?.day).reduce((sum, { count }) => sum + count, 0),
    })),
    leavers,
    withDevice: Number(waiting?.n ?? 0),
  };
}
