/** Rows of the register for tests: usual ones, of which a test says what matters to it. */
import type { School } from './index';

export const sampleSchool = (id: string, more: Partial<School> = {}): School => ({
  ...{ id, name: id, code: id.toUpperCase(), kind: 'k8', lowGrade: 'KG', highGrade: '08' },
  ...{ door: null, ways: null, cardText: null },
  ...more,
});
