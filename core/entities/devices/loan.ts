import { day, entity, id, oneOf, orNull, type RowOf } from '../declare';

/** A device that somebody has. */
export const loan = entity(
  'loans',
  {
    deviceId: id('device'),
    personId: id('person'),
    /** `own`: for as long as they are here; `loan`: until a day. */
    kind: oneOf(['own', 'loan'], 5, { untold: true }),
    begins: day({ untold: true }),
    due: orNull(day()),
    ends: orNull(day({ untold: true })),
  },
  {
    ends: 'ends',
    openOnce: {
      key: 'oneLoan',
      fields: ['deviceId'],
      message: 'plan.deviceHasHolder',
    },
  },
);
export type Loan = RowOf<typeof loan>;
