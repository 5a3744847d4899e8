/** Rows of the register for tests: usual ones, of which a test says what matters to it. */
import {
  type Columns,
  declarationOf,
  type Entity,
  personFields,
  type RecordRow,
  type School,
} from '#core/entities/index';

export const sampleSchool = (id: string, more: Partial<School> = {}): School => ({
  ...{ id, name: id, code: id.toUpperCase(), kind: 'k8', lowGrade: 'KG', highGrade: '08' },
  ...{ door: null, ways: null, cardText: null },
  ...more,
});

/** What a new row of any entity could say, and what of it matters to a test. */
export function sampleOf<E extends Entity>(entity: E, more: Partial<Columns<E>> = {}): Columns<E> {
  const blank = Object.entries(declarationOf(entity)!.fields).map(([field, { kind, values, canBeNull }]) => [
    field,
    canBeNull ? null : (values?.[0] ?? (kind === 'count' || kind === 'small' ? 0 : kind === 'day' ? '2026-08-17' : '')),
  ]);
  return { ...(Object.fromEntries(blank) as Columns<E>), ...more };
}

/** A row of a file that says nothing of a person. */
export const sampleRow = Object.fromEntries(
  personFields.map((field) => [field, field === 'birthDate' ? null : '']),
) as RecordRow;
