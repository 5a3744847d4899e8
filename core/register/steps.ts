/** The shapes that steps have, so that planners say only what happens, to which row and why. */
import type { Columns, Ending, Entity, Row, StepOf } from '#core/entities/index';

export const creates = <E extends Entity>(
  entity: E,
  id: string,
  after: Columns<E>,
  reason: string,
): StepOf<E, 'create'> => ({ entity, id, op: 'create', before: {}, after, reason });

/** The row with its id, made. */
export const makes = <E extends Entity>(entity: E, row: Row<E>, reason: string): StepOf<E, 'create'> => {
  const { id, ...after } = row;
  return creates(entity, id, after as unknown as Columns<E>, reason);
};

export const updates = <E extends Entity>(
  entity: E,
  id: string,
  before: Partial<Columns<E>>,
  after: Partial<Columns<E>>,
  reason: string,
): StepOf<E, 'update'> => ({ entity, id, op: 'update', before, after, reason });

/** What is open ends; `date`: the first day on which it no longer holds. */
export const ends = <E extends Ending>(entity: E, id: string, date: string, reason: string): StepOf<E, 'end'> => {
  const [before, after]: Partial<Columns<Ending>>[] = [{ ends: null }, { ends: date }];
  return { entity, id, op: 'end', before, after, reason } as StepOf<E, 'end'>;
};
