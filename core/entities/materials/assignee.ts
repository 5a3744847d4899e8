import { entity, id, type RowOf } from '../declare';

export const assignee = entity(
  'assignees',
  { workId: id('work'), personId: id('person') },
  { unique: { byWork: ['workId', 'personId'] } },
);
export type Assignee = RowOf<typeof assignee>;
