/**
 * Applying and undoing a plan: one transaction in which every precondition is checked on locked rows, the rows are
 * written in batches, the ledger gets its entry and the plan its new status. A conflict anywhere, or the death of
 * the process, leaves nothing.
 */
import { Op } from 'sequelize';
import { say } from '#core/messages/say';
import type { Grant } from '#core/authority/index';
import { type Change, type Conflict, conflictOf, type Fields, groupBy, isSoAlready, kindOf } from '#core/plan/index';
import { declarationOf, entities, type Entity } from '#core/entities/index';
import { Story } from '#core/register/story';
import { inWords } from '#core/register/words';
import { mustMake } from '../authority/check';
import { CommitLost, isAway } from '../db/away';
import { type Db, pauseAfter, type Tx } from '../db/connection';
import { enter, entered } from './ledger';
import { changesOf, planHead, type PlanHead, remaining } from './store';
import { mint } from './mint';
import { clashes } from './clashes';
import { type Keeper, keepers, type Keeping } from './keep';
import { takenKey } from './keep/keeper';
import { Whom } from './whom';
import { insertRows } from '../db/bulk';
import { backToMark, deleteRows, lockedRows, mark, updateAlike, updateRows } from './rows.queries';

/** What stands in the way of a plan, by name; the most urgent ones first, at most `shown` of them. */
export class PlanConflict extends Error {
  constructor(
    readonly conflicts: Conflict[],
    readonly count: number,
  ) {
    const [first] = conflicts;
    super(
      say('plan.noneWasMade', {
        count,
        first: first ? say('plan.about', { label: first.label, message: first.message }) : '',
      }),
    );
  }
}

const shown = 200;
const batchSize = 5000;
/** From how many rows on that change alike they are written by one statement. */
const fewest = 50;

/** A value that its column cannot hold, in words; null: it is something else. */
function unfit({ errno, message }: RowError): string | null {
  const [, column] = (message ?? '').match(/column (?:`[^`]+`\.)*[`']([^`']+)[`'] at/) ?? [];
  const what = column ?? say('plan.aValue');
  if (errno === 1406) return say('plan.isTooLong', { what });
  return errno === 1264 || errno === 1292 || errno === 1366 ? say('plan.cantBeSavedAsWritten', { what }) : null;
}

interface RowError {
  code?: string;
  errno?: number;
  message?: string;
}

const sameFields = (one: Fields, other: Fields): boolean => {
  const fields = Object.keys(one);
  return fields.length === Object.keys(other).length && fields.every((field) => field in other);
};
/** Whether two changes of a kind check and set the same fields; a new row has all of them in any case. */
const checksAlike = (a: Change, b: Change): boolean =>
  a.op === 'create' || a.op === 'purge' || (sameFields(a.before, b.before) && sameFields(a.after, b.after));

/** Fields of an entity that only grow, as the version of a password does: a card was printed for each. */
const growing = (entity: string): string[] =>
  Object.entries(declarationOf(entity)?.fields ?? {}).flatMap(([field, { facts }]) => (facts.grows ? field : []));
const without = (fields: Fields, names: readonly string[]): Fields =>
  Object.fromEntries(Object.entries(fields).filter(([field]) => !names.includes(field)));

/** Writes changes within a transaction. Collects conflicts; the caller ends with `finish`, which throws if there are any. */
export class Applier {
  private readonly conflicts: Conflict[] = [];
  private conflictCount = 0;
  done = 0;
  /** Changes that somebody else made meanwhile: nothing was left to do. */
  readonly soAlready: Conflict[] = [];
  private readonly keepers: { of: readonly string[]; keeper: Keeper }[];

  constructor(
    private readonly db: Db,
    private readonly tx: Tx,
    isUndo = false,
  ) {
    const keeping: Keeping = { db, tx, isUndo, conflict: (conflict) => this.conflict(conflict) };
    this.keepers = keepers.map(({ of, make }) => ({ of, keeper: make(keeping) }));
  }

  async apply(changes: Change[]): Promise<void> {
    for (let start = 0; start < changes.length;) {
      const kind = kindOf(changes[start]!);
      let end = start + 1;
      const first = changes[start]!;
      while (
        end < changes.length &&
        end - start < batchSize &&
        kindOf(changes[end]!) === kind &&
        checksAlike(changes[end]!, first)
      )
        end++;
      await this.run(changes.slice(start, end));
      this.done += end - start;
      start = end;
    }
  }

  /** When all were written: what only the whole can show. */
  async end(): Promise<void> {
    for (const { keeper } of this.keepers) if (this.conflictCount === 0) await keeper.end?.();
    this.finish();
  }

  private finish(): void {
    if (this.conflictCount > 0) throw new PlanConflict(this.conflicts, this.conflictCount);
  }

  private conflict(conflict: Conflict): void {
    this.conflictCount++;
    if (this.conflicts.length < shown) this.conflicts.push(conflict);
  }

  /** Changes of one kind: the same entity, operation and fields. */
  private async run(changes: Change[]): Promise<void> {
    const [{ entity, op, before, after }] = changes as [Change];
    const known = entities[entity as Entity];
    if (!known) throw new Error(`no entity ${entity}`);
    const columns = known.columns as readonly string[];
    const unknown = [...Object.keys(before), ...Object.keys(after)].find((field) => !columns.includes(field));
    if (unknown) throw new Error(`${entity} has no field ${unknown}`);
    // What only grows is in nobody's way: it counts on with each change, whichever way that goes.
    const grows = growing(entity);
    if (op !== 'create' && grows.length > 0)
      changes = changes.map((change) => ({ ...change, before: without(change.before, grows) }));
    if (op !== 'create' && op !== 'purge' && this.conflictCount === 0)
      try {
        changes = await this.makingWay(changes, (those) => this.alike(known.table, those, grows));
      } catch (error) {
        await this.nameRowError(error as RowError, changes);
        return;
      }
    if (changes.length === 0) return;
    // What is made anew meets the primary key; looking first would cost more than the insert.
    const free =
      op === 'create'
        ? changes
        : await this.thatHold(
            known.table,
            op === 'purge' ? columns : [...new Set([...Object.keys(changes[0]!.before), ...Object.keys(after)])],
            changes,
          );
    // Once anything is in the way nothing will be kept, so only the checks go on.
    if (this.conflictCount > 0 || free.length === 0) return;
    try {
      await this.makingWay(free, (those) => this.write(known.table, columns, those));
    } catch (error) {
      await this.nameRowError(error as RowError, free);
      return;
    }
    await this.wrote(free);
  }

  /** Writes the changes. If a unique key is taken, keepers may free it, and the changes are written again. */
  private async makingWay<T>(changes: Change[], write: (changes: Change[]) => Promise<T>): Promise<T> {
    const able = this.keepers.filter(({ of, keeper }) => keeper.makeWay && of.includes(changes[0]!.entity));
    if (able.length === 0) return write(changes);
    await mark(this.db, this.tx, 'passing');
    try {
      return await write(changes);
    } catch (error) {
      const key = takenKey(error);
      if (key === null) throw error;
      await backToMark(this.db, this.tx, 'passing');
      let made = false;
      for (const { keeper } of able) made = (await keeper.makeWay!(key, changes)) || made;
      if (!made) throw error;
      return write(changes);
    }
  }

  /**
   * Where many rows go from the same to the same (enrollments that end), one statement checks and writes them all.
   * The changes that were not made so; where anything is in the way, all of them, with nothing written.
   */
  private async alike(table: string, changes: Change[], grows: readonly string[]): Promise<Change[]> {
    const groups = groupBy(changes, ({ before, after }) => JSON.stringify([before, after]));
    const single: Change[] = [];
    for (const group of groups.values()) {
      if (group.length < fewest) {
        single.push(...group);
        continue;
      }
      const [{ before, after }] = group as [Change];
      const [set, check] = [Object.entries(after), Object.entries(before)];
      await mark(this.db, this.tx, 'alike');
      const ids = group.map(({ id }) => id);
      const written = await updateAlike(this.db, this.tx, table, { set, check, grows, ids });
      if (written === group.length) {
        await this.wrote(group);
        continue;
      }
      await backToMark(this.db, this.tx, 'alike');
      single.push(...group);
    }
    return single;
  }

  /** The changes that nothing stands in the way of, on locked rows; the others become conflicts. */
  private async thatHold(table: string, fields: readonly string[], changes: Change[]): Promise<Change[]> {
    const rows = await this.rowsOf(
      table,
      fields,
      changes.map(({ id }) => id),
    );
    return changes.filter((change) => {
      const row = rows.get(change.id);
      const conflict = conflictOf(change, row, inWords);
      const isSo = conflict && isSoAlready({ ...change, after: without(change.after, growing(change.entity)) }, row);
      if (isSo) this.soAlready.push({ ...conflict, message: say('plan.isAlreadySoAnotherPerson') });
      else if (conflict) this.conflict(conflict);
      return !conflict;
    });
  }

  private async thatAreThere(changes: Change[]): Promise<Conflict[]> {
    const { table } = entities[changes[0]!.entity as Entity];
    const rows = await this.rowsOf(
      table,
      [],
      changes.map(({ id }) => id),
    );
    return changes.flatMap((change) => conflictOf(change, rows.get(change.id), inWords) ?? []);
  }

  private async rowsOf(table: string, fields: readonly string[], ids: string[]): Promise<Map<string, Fields>> {
    const rows = await lockedRows(this.db, this.tx, table, ['id', ...fields], ids);
    return new Map(rows.map((row) => [row.id, row]));
  }

  private async write(table: string, columns: readonly string[], changes: Change[]): Promise<void> {
    const { db, tx } = this;
    const [{ entity, op, after }] = changes as [Change];
    if (op === 'create') {
      await insertRows(
        db,
        entity as Entity,
        ['id', ...columns],
        changes.map((change) => [change.id, ...columns.map((column) => change.after[column] ?? null)]),
        tx,
      );
    } else if (op === 'purge') {
      for (const { of, keeper } of this.keepers) if (of.includes(entity)) await keeper.purging?.(changes);
      await deleteRows(
        db,
        tx,
        table,
        changes.map(({ id }) => id),
      );
    } else {
      await updateRows(db, tx, table, Object.keys(after), growing(entity), changes);
    }
  }

  /** After rows of one kind were written. */
  private async wrote(changes: Change[]): Promise<void> {
    for (const { of, keeper } of this.keepers) if (of.includes(changes[0]!.entity)) await keeper.wrote?.(changes);
  }

  private async nameRowError(error: RowError, changes: Change[]): Promise<void> {
    const original = (error as { original?: RowError; parent?: RowError }).original ?? error;
    const [first] = changes as [Change];
    const key = takenKey(error);
    if (key !== null) {
      // What is made anew meets the primary key where it is there already.
      const named = await (key === 'PRIMARY'
        ? this.thatAreThere(changes)
        : clashes(this.db, this.tx, first.entity as Entity, key, changes));
      for (const conflict of named) this.conflict(conflict);
      if (named.length > 0) return;
    }
    const message =
      original.errno === 1062
        ? say('plan.thereCanBeOnlyOne')
        : original.errno === 1451
          ? say('plan.somethingAddedLaterDependsOn')
          : original.errno === 1452
            ? say('plan.whatItBelongsToNo')
            : unfit(original);
    if (message === null) throw error;
    this.conflict({
      key: `${first.entity}:${first.id}:${first.op}`,
      label:
        changes.length > 1 ? say('plan.orOneOfMore', { label: first.label, count: changes.length - 1 }) : first.label,
      message,
      ...(changes.length === 1 ? { subject: first.subject } : {}),
    });
  }
}

/** The plan that makes the register: undoing it would take away whoever undoes it. */
export const openingKind = 'setup';

export interface Applied {
  ledgerId: string;
  changes: number;
  sentence: string;
}

export interface CarryOptions {
  /** Subjects whose changes are left as they are, and count as taken out of the plan from now on. */
  except?: readonly string[];
  progress?: (done: number, total: number) => void;
  alsoWithin?: (tx: Tx, applied: Applied) => Promise<void>;
  /** What they may do by this plan besides what their role gives. */
  grant?: Grant;
  /** What is done in the place of the plan's own changes, some at a time; anew for each time that the transaction begins again. */
  instead?: () => (changes: Change[], tx: Tx) => Promise<Change[]>;
}

/** So often it is asked whether a COMMIT happened of which the answer was lost: for about half a minute. */
const mostAsked = 12;

/**
 * Applies the plan, or undoes it, and writes the ledger. Throws NotAllowed where a change is not this person's to make
 * with the role that they have now, PlanConflict, or Error when the plan's status or a guard forbids it; in each case
 * nothing is changed. Throws CommitLost when the database went away in such a moment that nobody knows. `byPersonId`
 * null: the program itself, not a person. `alsoWithin` runs in the same transaction, last.
 */
export async function carryOut(
  db: Db,
  planId: string,
  action: 'apply' | 'undo',
  byPersonId: string | null,
  options: CarryOptions = {},
): Promise<Applied> {
  const ledgerId = mint();
  const once = (): Promise<Applied> =>
    db.transaction((tx) => carryOutIn(db, tx, { planId, action, byPersonId, ledgerId }, options));
  let lost: CommitLost | null = null;
  for (let tries = 1; ; tries++)
    try {
      return await once();
    } catch (error) {
      // The plan's row is waited for first, so what the ledger then says is what became of it.
      if (error instanceof CommitLost) lost = error;
      else if (!lost || !isAway(error)) throw error;
      // It went away again before it could be asked: what became of the plan is still not known.
      if (tries >= mostAsked) throw lost;
      await pauseAfter(tries);
    }
}

async function carryOutIn(
  db: Db,
  tx: Tx,
  {
    planId,
    action,
    byPersonId,
    ledgerId,
  }: { planId: string; action: 'apply' | 'undo'; byPersonId: string | null; ledgerId: string },
  options: CarryOptions,
): Promise<Applied> {
  await db.models.plans.findOne({ attributes: ['id'], where: { id: planId }, lock: true, transaction: tx });
  const before = await entered(db, tx, ledgerId);
  if (before) return { ledgerId, ...before };
  const head = await planHead(db, planId, tx);
  if (!head) throw new Error(say('plan.thisPlanNoLongerExists'));
  allowed(head, action);
  if (options.except?.length)
    head.takenOut = { ...head.takenOut, subjects: [...(head.takenOut.subjects ?? []), ...options.except] };
  const isUndo = action === 'undo';
  if (byPersonId !== null) await mustMake(db, byPersonId, options.grant ?? null, changesOf(db, head, isUndo, tx), tx);
  const applier = new Applier(db, tx, isUndo);
  const story = new Story();
  const whom = action === 'apply' ? await Whom.of(db, tx, head) : null;
  const instead = options.instead?.();
  try {
    for await (const planned of changesOf(db, head, isUndo, tx, 'applied')) {
      const changes = instead ? await instead(planned, tx) : planned;
      // What needs no row is done while the database writes.
      const applied = applier.apply(changes);
      applied.catch(() => {});
      for (const change of changes) story.add(change);
      if (whom?.apart) void whom.add(changes);
      await applied;
      if (!whom?.apart) await whom?.add(changes);
      options.progress?.(applier.done, head.changes);
    }
    await applier.end();
    await whom?.end();
  } catch (error) {
    await whom?.giveUp();
    throw error;
  }
  const { soAlready } = applier;
  const changes = applier.done - soAlready.length;
  if (changes === 0 && soAlready.length > 0) throw new PlanConflict(soAlready.slice(0, shown), soAlready.length);
  // What others did is not this plan's to undo.
  if (!isUndo && soAlready.length > 0)
    head.takenOut = { ...head.takenOut, keys: [...(head.takenOut.keys ?? []), ...soAlready.map(({ key }) => key)] };
  const sentence = soAlready.length === 0 || isUndo ? story.sentence : (await remaining(db, head, tx)).sentence;
  const applied: Applied = { ledgerId, changes, sentence };
  await db.models.plans.update(
    { status: action === 'apply' ? 'applied' : 'undone', takenOut: JSON.stringify(head.takenOut) },
    { where: { id: planId }, transaction: tx },
  );
  if (head.intakeId) {
    // Undoing what continued an import leaves the import applied.
    const others = { intakeId: head.intakeId, status: 'applied', id: { [Op.ne]: planId } };
    const isApplied = action === 'apply' || (await db.models.plans.count({ where: others, transaction: tx })) > 0;
    const status = isApplied ? 'applied' : 'open';
    await db.models.intakes.update({ status }, { where: { id: head.intakeId }, transaction: tx });
  }
  await options.alsoWithin?.(tx, applied);
  const { ledgerId: id, ...told } = applied;
  await enter(db, tx, { id, planId, action, byPersonId, ...told });
  return applied;
}

function allowed(head: PlanHead, action: 'apply' | 'undo'): void {
  if (action === 'undo') {
    if (head.status !== 'applied') throw new Error(say('api.onlyAnAppliedPlanCan'));
    if (head.kind === openingKind) throw new Error(say('plan.thisPlanSetUpThe'));
    return;
  }
  if (head.status !== 'ready' && head.status !== 'undone')
    throw new Error(say('plan.thisPlanIsDiscardedSo', { status: head.status }));
  const released = new Set(head.releases.map(({ code }) => code));
  const held = head.held.find(({ code }) => !released.has(code));
  if (held) throw new Error(say('plan.aGuardIsHoldingThe', { message: held.message }));
}
