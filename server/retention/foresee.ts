/** What is due to be purged, and what will be: by kind, with the people who left. */
import { addMonths, dueFrom, dueOn, type Retention, retentionKinds, type RetentionKind } from '#core/retention/index';
import { clock } from '../clock';
import type { RetentionSheet } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { district } from '../district';
import { leaversBy, whensOf } from './queries';

/** For how long ahead purges are foreseen. */
const monthsAhead = 12;

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
      const rows = (await whensOf(db, kind)).map(({ day, n }) => ({
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
  return leaversBy(db, dueFrom('leavers', retention, config.today()), limit);
}

export async function retentionSheet(db: Db, config: Config): Promise<RetentionSheet> {
  const here = (await district(db))!;
  const { retention } = here.settings;
  const today = config.today();
  const [kinds, leavers, waiting] = await Promise.all([
    foreseePurge(db, retention, today),
    dueLeavers(db, config, 500),
    db.models.person.count({
      distinct: true,
      where: { status: 'left' },
      include: [{ association: 'openLoan', where: { ends: null }, required: true }],
    }),
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
    withDevice: waiting,
  };
}
