/** The shapes that changes have, so that planners say only what happens, to which row and why. */
import type { Change, Fields } from '#core/plan/index';
import type { Entity } from './index';

export type Step = Pick<Change, 'entity' | 'id' | 'op' | 'before' | 'after' | 'reason'>;

export const creates = (entity: Entity, id: string, after: Fields, reason: string): Step => ({
  entity,
  id,
  op: 'create',
  before: {},
  after,
  reason,
});

export const updates = (entity: Entity, id: string, before: Fields, after: Fields, reason: string): Step => ({
  entity,
  id,
  op: 'update',
  before,
  after,
  reason,
});

/** What is open ends; `date`: the first day on which it no longer holds. */
export const ends = (
  entity:
    | 'class'
    | 'affiliation'
    | 'enrollment'
    | 'group'
    | 'membership'
    | 'rule'
    | 'seat'
    | 'cart'
    | 'loan'
    | 'booking'
    | 'work',
  id: string,
  date: string,
  reason: string,
): Step => ({
  entity,
  id,
  op: 'end',
  before: { ends: null },
  after: { ends: date },
  reason,
});
