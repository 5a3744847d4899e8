/** What of two people is compared, on which levels, and the names of the levels. */

/** The fields and the words for their levels. `exact` is parted by how frequent the value is, so rare agreement weighs more. */
export const levels = {
  number: ['missing', 'same', 'nearly', 'different'],
  given: ['missing', 'same, rare', 'same, usual', 'same, common', 'another form', 'nearly', 'different'],
  middle: ['missing', 'same', 'in part', 'different'],
  family: ['missing', 'same, rare', 'same, usual', 'same, common', 'in part', 'nearly', 'names swapped', 'different'],
  birth: ['missing', 'same', 'day and month swapped', 'one digit off', 'two parts same', 'same year', 'different'],
  grade: ['missing', 'same', 'moved on by one', 'other'],
  school: ['missing', 'as most', 'as some', 'as a sibling', 'as few'],
  class: ['missing', 'as most', 'as some', 'as few'],
  guardian: ['missing', 'same', 'same, used by many', 'nearly', 'different'],
  email: ['missing', 'same', 'nearly', 'different'],
} as const;
export type FieldName = keyof typeof levels;
export const fieldNames = Object.keys(levels) as FieldName[];
export const field = Object.fromEntries(fieldNames.map((name, i) => [name, i])) as Record<FieldName, number>;
export const otherLevels = ['missing', 'same, rare', 'same', 'nearly', 'different'] as const;

export const G = { missing: 0, rare: 1, usual: 2, common: 3, form: 4, near: 5, different: 6 } as const;
export const F = { missing: 0, rare: 1, usual: 2, common: 3, part: 4, near: 5, swapped: 6, different: 7 } as const;
export const B = { missing: 0, same: 1, swapped: 2, digit: 3, parts: 4, year: 5, different: 6 } as const;
