/**
 * What holds once only, whatever plans are applied in whatever order and through however many servers. The database
 * keeps each by a key: of the row's own table where that can say it, else of a claim, a row made for it alone.
 */
import type { Entity } from './index';

/** Of rows that say the same in these fields, one is open at a time. Named as its key in the database. */
export interface OpenOnce {
  entity: Entity;
  fields: readonly string[];
  /** What the second one is told. */
  message: string;
}
export const openOnce = {
  oneEnrollment: { entity: 'enrollment', fields: ['personId', 'classId'], message: 'is in this class already' },
  oneLoan: {
    entity: 'loan',
    fields: ['deviceId'],
    message: 'the device is with somebody already; take it back first',
  },
} as const satisfies Record<string, OpenOnce>;

/** `number`: an active student's. `homeroom`: the one that a student is in. */
export const claims = ['number', 'homeroom'] as const;
export type Claim = (typeof claims)[number];
