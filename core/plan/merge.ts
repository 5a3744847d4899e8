/**
 * Two plans that follow each other, as one plan with the same effect. Changes of the same row fold into one;
 * a row made and purged again vanishes. The second plan must be able to follow the first: where it expects a
 * value that the first does not leave, merging throws.
 */
import { say } from '#core/messages/say';
import type { Change, Fields, Plan } from './change';

export class MergeError extends Error {}

const rowKey = (change: Change): string => `${change.entity}:${change.id}`;

export function merge(first: Plan, second: Plan): Plan {
  const folded = new Map<string, Change | null>();
  for (const change of [...first.changes, ...second.changes]) {
    const key = rowKey(change);
    const earlier = folded.get(key);
    if (!earlier) {
      // A row that vanished may come back, later in the order.
      folded.delete(key);
      folded.set(key, change);
    } else {
      folded.set(key, fold(earlier, change));
    }
  }
  return { changes: [...folded.values()].filter((change) => change !== null) };
}

/** One change that does what `a` and then `b` do to the same row; null when nothing is left to do. */
function fold(a: Change, b: Change): Change | null {
  for (const [field, expected] of Object.entries(b.before)) {
    if (field in a.after && a.after[field] !== expected) {
      throw new MergeError(
        say('plan.shouldBeButTheEarlier', { label: b.label, field, expected, after: a.after[field] }),
      );
    }
  }
  if (b.op === 'create' && a.op !== 'purge') throw new MergeError(say('plan.addedTwice', { label: b.label }));
  if (a.op === 'purge' && b.op !== 'create')
    throw new MergeError(say('plan.deletedBeforeItIsChanged', { label: b.label }));

  if (a.op === 'create') {
    if (b.op === 'purge') return null;
    return { ...a, after: { ...a.after, ...b.after }, reason: joined(a, b) };
  }
  if (b.op === 'purge') {
    return { ...b, before: { ...b.before, ...a.before }, reason: joined(a, b) };
  }
  const before: Fields = { ...b.before, ...a.before };
  const after: Fields = { ...a.after, ...b.after };
  for (const field of Object.keys(after)) {
    if (field in before && before[field] === after[field]) {
      delete before[field];
      delete after[field];
    }
  }
  if (Object.keys(after).length === 0) return null;
  const op = a.op === b.op ? a.op : 'update';
  return { ...b, op, before, after, reason: joined(a, b) };
}

const joined = (a: Change, b: Change): string => (a.reason === b.reason ? a.reason : `${a.reason}; ${b.reason}`);
