/**
 * Plans in the database: a head with counts, guards and what waits, and the changes in chunks, each of one kind, so
 * that a kind can be paged and a million changes never stand in one row.
 */
import type { Reason } from '#core/intake/index';
import {
  applying,
  type Change,
  type Held,
  invertChange,
  keeper,
  kindOf,
  pack,
  type Plan,
  summarise,
  type Summary,
  type TakenOut,
  unpack,
} from '#core/plan/index';
import { nowIso } from '../clock';
import { tell } from '#core/register/story';
import type { Grant } from '#core/authority/index';
import { mustMake } from '../authority/check';
import type { Db, Tx } from '../db/connection';
import { heldByAll } from './guards';
import { mint } from './mint';
import { insertMany } from '../db/bulk';
import type { Row } from '../db/models';

const chunkSize = 2000;

export type PlanStatus = 'ready' | 'applying' | 'applied' | 'undone' | 'set-aside' | 'purged';

export interface PlanHead {
  id: string;
  kind: string;
  title: string;
  status: PlanStatus;
  schoolId: string | null;
  intakeId: string | null;
  createdBy: string;
  createdAt: string;
  changes: number;
  /** Counts by kind, and the whole plan in words. */
  summary: Summary & { sentence: string };
  held: Held[];
  /** Guards released by a person: code, reason, who and when. */
  releases: { code: string; reason: string; by: string; at: string }[];
  takenOut: TakenOut;
  /** What the plan leaves to a person, in words, by line. */
  /** What is not in the plan, and why; `rows` where several wait for one reason. */
  waiting: (Omit<Reason, 'rows'> & Partial<Reason>)[];
}

export interface NewPlan {
  kind: string;
  title: string;
  schoolId?: string | null;
  intakeId?: string | null;
  createdBy: string;
  plan: Plan;
  held?: Held[];
  waiting?: PlanHead['waiting'];
  /** Of an import: the lines that it leaves out. */
  waits?: readonly number[];
  /** What the creator may do by this plan besides what their role gives. */
  grant?: Grant;
}

/**
 * Returns the plan's id. Throws NotAllowed where a change is not the creator's to make; what the guards of every plan
 * say is added to what its planner says. `progress` is told the changes stored so far.
 */
export async function savePlan(
  db: Db,
  tx: Tx,
  input: NewPlan,
  progress: (done: number) => void = () => {},
): Promise<string> {
  const id = mint();
  const { changes } = input.plan;
  await mustMake(db, input.createdBy, input.grant ?? null, [changes], tx);
  const held = [...(input.held ?? [])];
  if (input.grant?.is !== 'opening')
    for (const one of await heldByAll(db, tx, input.kind, changes))
      if (!held.some(({ code }) => code === one.code)) held.push(one);
  const { version } = (await db.models.register.findOne({ attributes: ['version'], transaction: tx, raw: true }))!;
  await db.models.plans.create(
    {
      ...{ id, kind: input.kind, title: input.title, status: 'ready', createdBy: input.createdBy, createdAt: nowIso() },
      ...{ schoolId: input.schoolId ?? null, intakeId: input.intakeId ?? null, changes: changes.length, version },
      summary: JSON.stringify({ ...summarise(changes), sentence: tell(changes) }),
      held: JSON.stringify(held),
      ...{ releases: '[]', takenOut: '{}' },
      waiting: JSON.stringify(input.waiting ?? []),
      waits: input.waits ? JSON.stringify(input.waits) : null,
    },
    { transaction: tx },
  );
  let rows: Row<'planChunks'>[] = [];
  let seq = 0;
  // The database takes some in while the next ones are packed.
  let storing: Promise<void> = Promise.resolve();
  const store = async () => {
    await storing;
    storing = insertMany(db, 'planChunks', rows, tx);
    storing.catch(() => {});
    rows = [];
    // Sends them off before the next ones take the thread.
    await new Promise((next) => setImmediate(next));
  };
  for (let start = 0; start < changes.length;) {
    const kind = kindOf(changes[start]!);
    let end = start + 1;
    while (end < changes.length && end - start < chunkSize && kindOf(changes[end]!) === kind) end++;
    rows.push({ planId: id, seq: seq++, kind, changes: end - start, body: pack(changes.slice(start, end)) });
    if (rows.length >= 4) {
      await store();
      progress(end);
    }
    start = end;
  }
  await store();
  await storing;
  return id;
}

export async function planHead(db: Db, id: string, tx?: Tx): Promise<PlanHead | null> {
  const row = await db.models.plans.findOne({ where: { id }, transaction: tx, raw: true });
  if (!row) return null;
  return {
    ...row,
    status: row.status as PlanStatus,
    summary: JSON.parse(row.summary) as PlanHead['summary'],
    held: JSON.parse(row.held) as Held[],
    releases: JSON.parse(row.releases) as PlanHead['releases'],
    takenOut: JSON.parse(row.takenOut) as TakenOut,
    waiting: JSON.parse(row.waiting) as PlanHead['waiting'],
  };
}

const isWhole = (out: TakenOut): boolean =>
  [out.keys, out.kinds, out.subjects].every((list) => (list?.length ?? 0) === 0);

/**
 * The changes that are in, in chunks, in the order in which the plan is told; `applied`: in the one in which it is applied.
 * Inverted, the other way round.
 */
export async function* changesOf(
  db: Db,
  head: PlanHead,
  inverted: boolean,
  tx?: Tx,
  order: 'told' | 'applied' = 'told',
): AsyncGenerator<Change[]> {
  const { planChunks } = db.models;
  const told = await planChunks.findAll({
    attributes: ['seq', 'kind'],
    where: { planId: head.id },
    order: ['seq'],
    transaction: tx,
    raw: true,
  });
  const read = (seq: number) => chunkOf(db, head.id, seq, tx);
  // Reads two chunks ahead: a read that waits on the connection behind the current chunk's rows comes too late.
  const ahead = async function* (list: { seq: number }[]) {
    const asked: Promise<Change[]>[] = [];
    let at = 0;
    for (const { seq } of list) {
      for (; at < list.length && asked.length < 3; at++) {
        const chunk = read(list[at]!.seq);
        chunk.catch(() => {});
        asked.push(chunk);
      }
      yield { seq, changes: await asked.shift()! };
    }
  };
  // What is in can only be told in the order of the plan; a whole one needs no such pass.
  const keep = keeper(head.takenOut);
  const kept = isWhole(head.takenOut) ? null : new Map<number, Change[]>();
  if (kept) for await (const { seq, changes } of ahead(told)) kept.set(seq, changes.filter(keep));
  const chunks = order === 'applied' ? applying(told, ({ kind }) => kind) : told;
  for await (const { seq, changes } of ahead(inverted ? [...chunks].reverse() : chunks)) {
    const some = kept?.get(seq) ?? changes;
    yield inverted ? some.map(invertChange).reverse() : some;
  }
}

async function chunkOf(db: Db, planId: string, seq: number, tx?: Tx): Promise<Change[]> {
  const where = { planId, seq };
  const row = await db.models.planChunks.findOne({ attributes: ['body'], where, transaction: tx, raw: true });
  return unpack(row!.body);
}

/** Who is new by a plan, or has an account by it: who needs a card then. */
export async function newPeopleOf(db: Db, planId: string): Promise<Set<string>> {
  const chunks = await db.models.planChunks.findAll({
    attributes: ['seq'],
    where: { planId, kind: ['person.create', 'account.create'] },
    raw: true,
  });
  const ids = new Set<string>();
  for (const { seq } of chunks) for (const { subject } of await chunkOf(db, planId, seq)) ids.add(subject);
  return ids;
}

export interface ChangePage {
  changes: (Change & { out: boolean })[];
  /** Offset of the next page within the kind, or null at the end. */
  next: number | null;
}

/** A page of the changes of one kind (or of all), with what was taken out marked. */
export async function changePage(
  db: Db,
  head: PlanHead,
  kind: string | null,
  offset: number,
  limit: number,
): Promise<ChangePage> {
  const chunks = await db.models.planChunks.findAll({
    attributes: ['seq', 'changes'],
    where: { planId: head.id, ...(kind ? { kind } : {}) },
    order: ['seq'],
    raw: true,
  });
  const found: Change[] = [];
  let skipped = 0;
  for (const chunk of chunks) {
    if (found.length >= limit) break;
    if (skipped + chunk.changes <= offset) {
      skipped += chunk.changes;
      continue;
    }
    const changes = await chunkOf(db, head.id, chunk.seq);
    found.push(...changes.slice(Math.max(0, offset - skipped), Math.max(0, offset - skipped) + limit - found.length));
    skipped += chunk.changes;
  }
  const total = chunks.reduce((sum, chunk) => sum + chunk.changes, 0);
  const keep = keeper(head.takenOut);
  // Rows that are no longer made stand before those that need them, on other pages: taken-out subjects tell enough here.
  return {
    changes: found.map((change) => ({ ...change, out: !keep(change) })),
    next: offset + found.length < total ? offset + found.length : null,
  };
}

/** What remains of the plan when what was taken out is left away: the line at its foot. */
export async function remaining(db: Db, head: PlanHead, tx?: Tx): Promise<{ summary: Summary; sentence: string }> {
  if (isWhole(head.takenOut)) return { summary: head.summary, sentence: head.summary.sentence };
  const kept: Change[] = [];
  for await (const changes of changesOf(db, head, false, tx)) kept.push(...changes);
  return { summary: summarise(kept), sentence: tell(kept) };
}
