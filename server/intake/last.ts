/** The last applied file of a feed, read again as it was then: what it said, whom it meant, and what a person put right in it. */
import { Op } from 'sequelize';
import { recordOf } from '#core/entities/index';
import { type Keys, rosterRows, type Said, type SaidBefore } from '#core/intake/index';
import { type Bundle, type SomeUsers, withRepairs } from '#core/oneroster/index';
import { carriedOver, type OpenFile, type PutRight, readRows, type TypedRow } from '#core/tabular/index';
import type { Draft } from '../contract';
import type { Db } from '../db/connection';
import { district } from '../district';
import { mergedInto } from '../people/merged';
import { openTable } from './opened';
import { rulesFor } from './rules';

/** As stored with an intake: ids on record by line, or by sourcedId; and the sourcedIds that were nobody's. */
export interface Matched {
  people: Record<string, string>;
  classes: Record<string, string>;
  unknown?: string[];
}

export interface LastTime {
  /** As it was taken over, with what was put right. */
  bundle: Bundle | null;
  /** Its classes, if it was taken over in part. */
  taken: string[] | undefined;
  /** By id on record; of a bundle's people all, or those sourcedIds that are wanted. */
  said: (only?: SomeUsers) => Map<string, SaidBefore>;
  /** What nobody has answered yet, by id on record. */
  unanswered: Record<string, Said>;
  keys: Keys;
}

interface Row {
  id: string;
  draft: string;
  matched: string | null;
  unanswered: string | null;
}

const lastRow = (db: Db, feedId: string, but: string): Promise<Row | null> =>
  db.models.intakes.findOne({
    attributes: ['id', 'draft', 'matched', 'unanswered'],
    where: { feedId, status: 'applied', id: { [Op.ne]: but }, matched: { [Op.not]: null } },
    order: [['id', 'DESC']],
    raw: true,
  });

async function opened(db: Db, id: string, draft: Draft) {
  const row = await db.models.intakes.findOne({ attributes: ['bytes'], where: { id }, raw: true });
  return openTable(row!.bytes, draft.hints);
}

/** Id of the feed's last applied file but this one; null: there is none. */
export const lastId = async (db: Db, feedId: string, but: string): Promise<string | null> =>
  (await lastRow(db, feedId, but))?.id ?? null;

/** What was put right in the feed's last file and stands in this one as it stood there. */
export async function putRightBefore(
  db: Db,
  feedId: string,
  but: string,
  now: () => Promise<OpenFile>,
): Promise<PutRight> {
  const none: PutRight = { repairs: {}, leftOut: [] };
  const row = await lastRow(db, feedId, but);
  const draft = row && (JSON.parse(row.draft) as Draft);
  if (!draft || (Object.keys(draft.repairs).length === 0 && draft.leftOut.length === 0)) return none;
  return carriedOver((await opened(db, row.id, draft)).file, draft, await now());
}

export async function lastTime(db: Db, feedId: string, but: string, today: string): Promise<LastTime | null> {
  const row = await lastRow(db, feedId, but);
  if (!row) return null;
  const draft = JSON.parse(row.draft) as Draft;
  const matched = await withoutMerged(db, JSON.parse(row.matched!) as Matched);
  const { file, bundle } = await opened(db, row.id, draft);
  const here = await district(db);
  const school = draft.schoolId
    ? await db.models.school.findOne({
        attributes: ['name', 'lowGrade', 'highGrade', 'kind'],
        where: { id: draft.schoolId },
        raw: true,
      })
    : null;
  const mended = bundle && withRepairs(bundle, draft.repairs);
  /** What is said of whom, as the file came or as it was put right. */
  const each = (right: boolean, put: (personId: string, said: Said, line: number) => void, only?: SomeUsers) => {
    if (bundle) {
      const { rows, people } = rosterRows(right ? mended! : bundle, draft.classes, only);
      rows.forEach((r, i) => {
        const id = matched.people[people[i]!.sourcedId];
        if (id !== undefined) put(id, saidBy(r, r.schoolName), r.line);
      });
      return;
    }
    for (const r of readRows(file, right ? draft.repairs : {}, rulesFor(here!, school, today)).rows) {
      const id = matched.people[r.line];
      if (id !== undefined) put(id, saidBy(r, r.schoolName || (school?.name ?? '')), r.line);
    }
  };
  const unanswered = JSON.parse(row.unanswered ?? '{}') as Record<string, Said>;
  let whole: Map<string, SaidBefore> | null = null;
  const said: LastTime['said'] = (only) => {
    if (!only && whole) return whole;
    const before = new Map<string, SaidBefore>();
    each(false, (id, values) => before.set(id, { said: values }), only);
    if (Object.keys(draft.repairs).length > 0)
      each(
        true,
        (id, values, line) => {
          const one = before.get(id);
          if (!one || !draft.repairs[line]) return;
          one.mended = Object.fromEntries(Object.entries(values).filter(([field, v]) => v !== one.said[field]));
        },
        only,
      );
    // What a person has not answered yet is asked again, so the older value still counts as said.
    for (const [personId, older] of Object.entries(unanswered)) {
      const one = before.get(personId);
      before.set(personId, { ...one, said: { ...one?.said, ...older } });
    }
    if (!only) whole = before;
    return before;
  };
  return {
    bundle: mended,
    taken: draft.classes,
    said,
    unanswered,
    keys: {
      people: new Map(Object.entries(matched.people)),
      classes: new Map(Object.entries(matched.classes)),
      ...(matched.unknown ? { unknown: new Set(matched.unknown) } : {}),
    },
  };
}

const saidBy = (row: TypedRow, school: string): Said => {
  const { grade, className } = row;
  return { ...recordOf(row), grade, className, school };
};

/** Who was merged into somebody since is that somebody. */
async function withoutMerged(db: Db, { people, ...rest }: Matched): Promise<Matched> {
  const into = await mergedInto(db);
  const now = ([key, id]: [string, string]) => [key, into.get(id) ?? id] as const;
  return { ...rest, people: Object.fromEntries(Object.entries(people).map(now)) };
}
