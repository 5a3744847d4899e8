import { entity, id, type RowOf } from '../declare';

export const assignee = entity(
  'assignees',
  { workId: id('work'), personId: id('person') },
  { unique: { byWork: { fields: ['workId', 'personId'], message: 'plan.hasAssignmentAlready' } } },
);
export type Assignee = RowOf<typeof assignee>;
