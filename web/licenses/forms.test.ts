/** What the fields of a new license begin with. */
import { expect, it } from 'vitest';
import { cents, renewal } from './forms';

const license = {
  ...{
    productId: 'kelpline',
    schoolId: null,
    seats: 555,
    costCents: 355_200,
    orderNumber: 'SI-2529',
    trial: 1 as const,
  },
  ...{ begins: '2025-10-01', ends: '2027-06-22' },
};

it('renews a license from the day after it ends, for a year, with the same seats', () => {
  expect(renewal(license)).toEqual({
    ...license,
    ...{ begins: '2027-06-23', ends: '2028-06-22', costCents: null, orderNumber: null, trial: 0 },
  });
  expect(renewal({ ...license, ends: '2028-02-29' })).toMatchObject({ begins: '2028-03-01', ends: '2029-02-28' });
});

it('reads an amount as it is written, and none where nothing sensible is', () => {
  expect(['$3,552', '12.5', ' ', '-1', 'free'].map(cents)).toEqual([355_200, 1250, null, null, null]);
});
