/** What a plan's changes are called, and which of their fields say something to a person. */
import type { Declaration } from '#core/entities/declare';
import { declarationOf, fieldLabel, secretFields } from '#core/entities/index';
import { say } from '#core/messages/say';
import type { School } from '#core/entities/index';
import { type Grade, gradeLabel, grades } from '#core/tabular/values';
import { type Change, type Fields, type KindCount, plainly, type Telling, type Value } from '#core/plan/index';

/** As "New classes", "Change people: grade, school". */
export const kindWords = ({ op, entity, fields }: Pick<KindCount, 'op' | 'entity' | 'fields'>): string =>
  say('plan.kind', {
    op,
    what: say('plan.nouns', { entity }),
    n: fields.length,
    fields: fields.map((field) => fieldLabel(entity, field)),
  });

/** The change as people may see it: secrets, sealed as they are, are dots. */
export const withoutSecrets = <T extends Change>(change: T): T => ({
  ...change,
  before: dotted(change.before),
  after: dotted(change.after),
});
const dotted = (fields: Fields): Fields =>
  Object.fromEntries(
    Object.entries(fields).map(([key, value]) => [key, secretFields.has(key) && value !== null ? '•••' : value]),
  );

/** Conflicts, in the words of the register; what is secret is dots there too. */
export const inWords: Telling = {
  noun: (entity) => say('plan.noun', { entity }),
  field: fieldLabel,
  value: (field, value) => (secretFields.has(field) && value !== null ? '•••' : plainly.value(field, value)),
};

export interface ShownField {
  field: string;
  before: string;
  after: string;
  hasBefore: boolean;
  hasAfter: boolean;
  /** Both are dates, yyyy-mm-dd, where they are not empty. */
  isDay: boolean;
}
const isGrade = (text: string): text is Grade => grades.some((grade) => grade === text);
const blank: Pick<Declaration, 'fields' | 'facts'> = { fields: {}, facts: {} };

/** Ids say nothing to a person; what they mean stands in the reason. */
export function shownFields(change: Change, schools: readonly School[]): ShownField[] {
  const { op, entity, before, after } = change;
  const { fields, facts } = declarationOf(entity) ?? blank;
  const isWhole = op === 'create' || op === 'purge';
  const told = (field: string, value: Value | undefined) =>
    value === null || value === undefined || value === ''
      ? say('plan.empty')
      : field === 'schoolId'
        ? (schools.find(({ id }) => id === value)?.name ?? say('plan.aSchool'))
        : /[gG]rade$/.test(field) && isGrade(String(value))
          ? gradeLabel(value as Grade)
          : String(value);
  const says = (field: string) =>
    (field in before || field in after) &&
    (field === 'schoolId' || !fields[field]!.facts.refers) &&
    !fields[field]!.facts.coded;
  const isWorthwhile = (field: string) =>
    (before[field] ?? after[field] ?? null) !== null &&
    (!fields[field]!.facts.untold || (field === 'begins' && facts.tellsBegin));
  return Object.keys(fields)
    .filter((field) => says(field) && (isWhole ? isWorthwhile(field) : field in after))
    .map((field) => ({
      field: fieldLabel(entity, field),
      before: told(field, before[field]),
      after: told(field, after[field]),
      hasBefore: field in before,
      hasAfter: field in after,
      isDay: fields[field]!.kind === 'day',
    }));
}
