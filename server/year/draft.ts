/** What is being decided for the next year, kept as it is chosen: one document for the roll-over, one for each grade that is split. */
import { Op } from 'sequelize';
import { z } from 'zod';
import { addDays } from '#core/time/index';
import type { Db, Tx } from '../db/connection';
import { nowIso } from '../clock';
import { district, yearFrom } from '../district';

const next = z.union([
  z.object({ schoolId: z.string().length(26), grade: z.string().max(5) }),
  z.literal('leaves'),
  z.literal('stays'),
]);
const people = z.array(z.string().length(26)).max(5000);
const choices = {
  /** What differs from the usual map; by "schoolId:grade". */
  map: z.record(z.string().max(40), next),
  /** Schools that do not take part; null: the evening schools. */
  apart: z.array(z.string().length(26)).nullable(),
  teachers: z.boolean(),
  endGroups: z.boolean(),
  collect: z.boolean(),
  /** The new year; null: as long as this one, begun 52 weeks later. */
  year: z.object({ name: z.string().trim().min(1).max(40), begins: z.iso.date(), ends: z.iso.date() }).nullable(),
};
/** Some of the choices, as they are changed. */
export const choicesSchema = z.object(choices).partial();
export const yearDraftSchema = z.object({
  map: choices.map.default({}),
  apart: choices.apart.default(null),
  teachers: choices.teachers.default(true),
  endGroups: choices.endGroups.default(true),
  collect: choices.collect.default(true),
  year: choices.year.default(null),
  again: people.default([]),
  leave: people.default([]),
});
export type YearDraft = z.infer<typeof yearDraftSchema>;

const rollOverKey = 'roll-over';

export interface Kept<T> {
  draft: T;
  savedAt: string | null;
}

async function keptDraft(db: Db, about: string, tx?: Tx): Promise<{ draft: unknown; savedAt: string } | null> {
  const row = await db.models.yearDrafts.findOne({ where: { about }, transaction: tx, lock: tx?.LOCK.UPDATE });
  return row && { draft: JSON.parse(row.draft) as unknown, savedAt: row.savedAt };
}

export async function yearDraft(db: Db): Promise<Kept<YearDraft>> {
  const kept = await keptDraft(db, rollOverKey);
  return { draft: yearDraftSchema.parse(kept?.draft ?? {}), savedAt: kept?.savedAt ?? null };
}

async function keep(db: Db, about: string, draft: object, by: string, tx?: Tx): Promise<string> {
  const savedAt = nowIso();
  await db.models.yearDrafts.upsert({ about, draft: JSON.stringify(draft), savedAt, savedBy: by }, { transaction: tx });
  return savedAt;
}

/** Changes some of it on the newest state, so that two who decide at once lose nothing of each other's. */
export async function changeYearDraft(
  db: Db,
  by: string,
  change: (draft: YearDraft) => Partial<YearDraft>,
): Promise<string> {
  return db.transaction(async (tx) => {
    const kept = await keptDraft(db, rollOverKey, tx);
    const draft = yearDraftSchema.parse(kept?.draft ?? {});
    return keep(db, rollOverKey, yearDraftSchema.parse({ ...draft, ...change(draft) }), by, tx);
  });
}

/** A grade of a school, split into classes. */
export const splitSchema = z.object({
  /** Names of the classes, in order, with the most that each takes. */
  classes: z
    .array(z.object({ name: z.string().trim().min(1).max(120), most: z.number().int().min(1).max(500).nullable() }))
    .min(1)
    .max(60),
  /** Person to index of the class; whoever is not here has none yet. */
  placed: z.record(z.string().length(26), z.number().int().min(0).max(59)).default({}),
  /** Those who were put by hand and stay when the grade is split again. */
  fixed: z.array(z.string().length(26)).max(5000).default([]),
  /** Pairs that go into one class, and pairs that must not. */
  wishes: z
    .array(z.object({ a: z.string().length(26), b: z.string().length(26), together: z.boolean() }))
    .max(2000)
    .default([]),
  /** What is balanced beside the size: which attributes, by name. */
  balance: z.array(z.enum(['level', 'language', 'support', 'from'])).default(['level', 'language', 'support']),
  /** What is said of people here, beside what the register knows. */
  marks: z
    .record(z.string().length(26), z.object({ level: z.string().max(20).optional(), support: z.boolean().optional() }))
    .default({}),
});
export type Split = z.infer<typeof splitSchema>;

export async function splitOf(db: Db, key: string): Promise<Kept<Split> | null> {
  const kept = await keptDraft(db, key);
  return kept && { draft: splitSchema.parse(kept.draft), savedAt: kept.savedAt };
}
export const keepSplit = (db: Db, key: string, split: Split, by: string): Promise<string> => keep(db, key, split, by);

/** All that are kept, by "schoolId:grade". */
export async function keptSplits(db: Db): Promise<Map<string, Kept<Split>>> {
  const rows = await db.models.yearDrafts.findAll({ where: { about: { [Op.ne]: rollOverKey } } });
  return new Map(
    rows.map(({ about, draft, savedAt }) => [about, { draft: splitSchema.parse(JSON.parse(draft)), savedAt }]),
  );
}

/** Begun 52 weeks after this one, so on the same day of the week, or as it was set. */
export async function nextYear(
  db: Db,
  draft: YearDraft,
): Promise<{ year: NonNullable<YearDraft['year']>; after: string }> {
  const { year } = (await district(db))!;
  if (draft.year) return { year: draft.year, after: year.name };
  const begins = addDays(year.begins, 364);
  return { year: { ...yearFrom(begins), ends: addDays(year.ends, 364) }, after: year.name };
}
