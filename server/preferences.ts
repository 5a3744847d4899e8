/** How each person wants to see Sheaf; what they never said is as usual. */
import { z } from 'zod';
import { speechOf } from '#core/messages/languages';
import type { Speech } from '#core/messages/say';
import { densities, type Preferences, themes, uiLanguages, usual } from '#core/preferences/index';
import type { Db } from './db/connection';

const name = z.string().min(1).max(40);
const listColumns = z.object({
  order: z.array(name).max(60),
  hidden: z.array(name).max(60),
  widths: z.record(name, z.number().int().min(24).max(2000)),
});
export const preferencesSchema = z.object({
  language: z.enum(uiLanguages).nullable(),
  theme: z.enum(themes),
  density: z.enum(densities),
  columns: z.record(name, listColumns),
  hidden: z.array(name).max(100),
});

/** What an earlier version kept and this one cannot read is as usual again. */
export async function preferencesOf(db: Db, personId: string): Promise<Preferences> {
  const row = await db.models.preferences.findOne({ where: { personId }, raw: true });
  if (!row) return usual;
  const read = preferencesSchema.partial().safeParse(JSON.parse(row.body));
  return { ...usual, ...(read.success ? read.data : {}) };
}

/** The language of letters to a person. */
export const speechFor = async (db: Db, personId: string): Promise<Speech> =>
  speechOf((await preferencesOf(db, personId)).language ?? 'en-US');

export async function setPreferences(db: Db, personId: string, some: Partial<Preferences>): Promise<Preferences> {
  const known = await preferencesOf(db, personId);
  const all = { ...known, ...some, columns: { ...known.columns, ...some.columns } };
  await db.models.preferences.upsert({ personId, body: JSON.stringify(all) });
  return all;
}
