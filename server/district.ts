/** The district's own settings: kept as one checked document beside its name. */
import { addDays } from '#core/time/index';
import { z } from 'zod';
import { type Language, languages } from '#core/cards/index';
import { defaultBands, patternError } from '#core/accounts/index';
import { retentionKinds, type RetentionKind, usualRetention } from '#core/retention/index';
import { classKinds, type SchoolYear } from '#core/entities/index';
import { grades } from '#core/tabular/values';
import { clock } from './clock';
import type { Db, Tx } from './db/connection';
import { mint } from './plans/mint';

function isPattern(pattern: string, context: z.RefinementCtx): void {
  const wrong = patternError(pattern);
  if (wrong) context.addIssue({ code: 'custom', message: wrong });
}

const gradeCode = z.string().refine((code) => (grades as readonly string[]).includes(code), 'is no grade');
const months = z.number().int().min(1).max(240);

export const settingsSchema = z.object({
  /** Student numbers have so many digits; null: any form. */
  numberDigits: z.number().int().min(3).max(12).nullable().default(null),
  usernamePattern: z.string().default('{given:1}{family}').superRefine(isPattern),
  /** Schools with a pattern of their own, by id. */
  schoolPatterns: z.record(z.string().length(26), z.string().superRefine(isPattern)).default({}),
  /** What schools call their classes, by id; the others by grade and letter. */
  classPatterns: z.record(z.string().length(26), z.string().max(60)).default({}),
  /** Classes as they are usually set up. */
  templates: z
    .array(
      z.object({
        name: z.string().max(80),
        kind: z.enum(classKinds),
        subject: z.string().nullable(),
        period: z.string().nullable(),
        color: z.string().nullable(),
        discuss: z.string().nullable(),
        invite: z.string().nullable(),
        groups: z.array(z.string().max(120)).max(20),
      }),
    )
    .max(100)
    .default([]),
  /** How secrets are made, by grade. */
  bands: z
    .array(
      z.object({
        name: z.string().max(40),
        grades: z.array(gradeCode),
        recipe: z.object({
          words: z.number().int().min(0).max(6),
          digits: z.number().int().min(0).max(6),
          pictures: z.number().int().min(3).max(6).optional(),
        }),
      }),
    )
    .min(1)
    .default(defaultBands),
  /** The share of a school that an import may let leave without being held. */
  mostLeaving: z.number().min(0).max(1).default(0.05),
  /** The share of a school that a plan may add to it without being held. */
  mostJoining: z.number().min(0).max(10).default(0.5),
  /** Grades in which everyone has a device of their own. */
  oneToOne: z.array(gradeCode).default([]),
  /** Years after which a device is replaced, whatever it still gets. */
  deviceYears: z.number().int().min(1).max(15).default(5),
  /** Whoever runs a school has a letter of the week. */
  digest: z.boolean().default(true),
  /** Months for which each kind of data is kept. */
  retention: z
    .object(Object.fromEntries(retentionKinds.map((kind) => [kind, months])) as Record<RetentionKind, typeof months>)
    .default(usualRetention),
  /** Who must have a second factor beside the password. */
  secondFactor: z.enum(['nobody', 'coordinators']).default('nobody'),
  /** What families sign in letters home, by language; Sheaf's own words where nothing is said. */
  consent: z
    .partialRecord(z.enum(['en', ...(Object.keys(languages) as Language[])]), z.string().trim().min(1).max(1200))
    .default({}),
  /** Domains of addresses whose owners the single sign-on may link at their first sign-in. */
  signOnDomains: z.array(z.string().max(253)).max(50).default([]),
});
export type Settings = z.infer<typeof settingsSchema>;

/** The school year, from its first day to its last, both included. */
export type Year = Omit<SchoolYear, 'id'>;
export interface District {
  id: string;
  name: string;
  /** IANA */
  zone: string;
  /** Of the years that are on record the one that begins last. */
  year: SchoolYear;
  settings: Settings;
}

export async function district(db: Db, tx?: Tx): Promise<District | null> {
  const transaction = tx;
  const row = await db.models.district.findOne({ transaction });
  if (!row) return null;
  const year = await db.models.year.findOne({ order: [['begins', 'DESC']], transaction });
  const { id, name, zone, settings } = row;
  return { id, name, zone, year: year!.get({ plain: true }), settings: settingsSchema.parse(JSON.parse(settings)) };
}

export async function makeDistrict(
  db: Db,
  { name, zone, year, ...settings }: { name: string; zone: string; year: Year } & z.input<typeof settingsSchema>,
  transaction: Tx,
): Promise<void> {
  const kept = JSON.stringify(settingsSchema.parse(settings));
  await db.models.district.create({ id: mint(), name, zone, settings: kept }, { transaction });
  await db.models.year.create({ id: mint(), ...year }, { transaction });
}

/** Days are the district's from now on; call it before a day is asked for, where no request did. */
export async function keepTime(db: Db): Promise<void> {
  const row = await db.models.district.findOne({ attributes: ['zone'] });
  if (row) clock.zone = row.zone;
}

/** The answer of a thread of its own, which learns from nobody else which zone is the district's. */
export const timely =
  <A extends unknown[], R>(db: Db, answer: (...args: A) => Promise<R>) =>
  async (...args: A): Promise<R> => {
    await keepTime(db);
    return answer(...args);
  };

/** The day as of which it is told whether everything is ready: the day school opens, and from then on today. */
export const readinessDay = (year: Pick<Year, 'begins'>, today: string): string =>
  today > year.begins ? today : year.begins;

/** A school year that opens on the given day and lasts ten months. */
export function yearFrom(opens: string): Year {
  const [y] = opens.split('-').map(Number) as [number];
  const ends = addDays(opens, 300);
  return { name: `${y}–${String((y + 1) % 100).padStart(2, '0')}`, begins: opens, ends };
}

/** Changes some of the settings; the others stay as they are. */
export async function keepSettings(db: Db, change: Partial<Settings>): Promise<void> {
  await db.transaction(async (tx) => {
    const row = await db.models.district.findOne({ transaction: tx, lock: tx.LOCK.UPDATE });
    const settings = settingsSchema.parse({ ...(JSON.parse(row!.settings) as object), ...change });
    await row!.update({ settings: JSON.stringify(settings) }, { transaction: tx });
  });
}
