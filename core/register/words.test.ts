/** What the fields of a change say to a person. */
import { expect, it } from 'vitest';
import type { Change } from '#core/plan/index';
import { sampleSchool } from './samples';
import { shownFields } from './words';

const change = (entity: string, before: Change['before'], after: Change['after']): Change => ({
  ...{ entity, op: 'update', id: 'x', reason: '', label: 'Somebody', subject: 'p1' },
  before,
  after,
});
const told = (...args: Parameters<typeof change>) =>
  shownFields(change(...args), [sampleSchool('s1', { name: 'North' })]).map(({ before, after, isDay }) => [
    before,
    after,
    isDay,
  ]);

it('dates are told to be dates, grades are called as everywhere, and schools by their names', () => {
  expect(told('person', { birthDate: '2016-07-03' }, { birthDate: '2016-07-04' })).toEqual([
    ['2016-07-03', '2016-07-04', true],
  ]);
  expect(told('affiliation', { grade: '03' }, { grade: 'KG' })).toEqual([['3', 'K', false]]);
  expect(told('device', { schoolId: 's1' }, { schoolId: 's1' })).toEqual([['North', 'North', false]]);
  // What was never a grade stays as it is.
  expect(told('affiliation', { grade: 'upper' }, { grade: '12' })).toEqual([['upper', '12', false]]);
});
