/**
 * Somebody says who they are (a name, and a number or a birth date): which person on record is that? One claim is too
 * little to weigh likelihoods by, so the rules are plain: sure is only who says a number or a birth date that is
 * theirs together with both names, contradicts nothing, and is the only one. Everyone else is shown, field by field.
 */
import { fold } from '#core/names/index';
import { areForms } from '#core/names/nicknames';
import { bareNumber } from './people';
import { jaroWinkler, oneEditApart } from './similarity';

export interface Claim {
  familyName: string;
  givenName: string;
  /** null: not said. */
  number: string | null;
  birthDate: string | null;
}
export type Likeness = 'same' | 'alike' | 'differs' | 'unknown';
export type ClaimField = keyof Claim;

export interface Resemblance<P> {
  person: P;
  fields: Record<ClaimField, Likeness>;
  isSure: boolean;
}

const names = (a: string, b: string): Likeness => {
  const [x, y] = [fold(a), fold(b)];
  if (x === y) return 'same';
  return x.split(' ').some((word) => y.split(' ').some((other) => areForms(word, other))) || jaroWinkler(x, y) > 0.88
    ? 'alike'
    : 'differs';
};

function numbers(a: string | null, b: string | null): Likeness {
  if (a === null || b === null) return 'unknown';
  const [x, y] = [bareNumber(a), bareNumber(b)];
  return x === y ? 'same' : x.length > 3 && oneEditApart(x, y) ? 'alike' : 'differs';
}

function dates(a: string | null, b: string | null): Likeness {
  if (a === null || b === null) return 'unknown';
  if (a === b) return 'same';
  const [y, m, d] = a.split('-');
  return b === `${y}-${d}-${m}` || [...a].filter((letter, i) => letter !== b[i]).length === 1 ? 'alike' : 'differs';
}

const points: Record<Likeness, number> = { same: 2, alike: 1, unknown: 0, differs: -2 };

/** Those who resemble the claim in at least two fields and more than they differ, most alike first. */
export function resembling<P extends Claim>(claim: Claim, people: readonly P[]): Resemblance<P>[] {
  const found = people.map((person) => ({
    person,
    fields: {
      familyName: names(claim.familyName, person.familyName),
      givenName: names(claim.givenName, person.givenName),
      number: numbers(claim.number, person.number),
      birthDate: dates(claim.birthDate, person.birthDate),
    },
  }));
  const could = found.filter(({ fields: f }) => {
    const all = Object.values(f);
    return (
      f.familyName === 'same' &&
      f.givenName !== 'differs' &&
      (f.number === 'same' || f.birthDate === 'same') &&
      !all.includes('differs')
    );
  });
  const sure = could.length === 1 ? could[0]! : null;
  const score = (fields: Record<ClaimField, Likeness>) =>
    Object.values(fields).reduce((sum, likeness) => sum + points[likeness], 0);
  return found
    .filter(
      ({ fields }) =>
        Object.values(fields).filter((l) => l === 'same' || l === 'alike').length >= 2 && score(fields) > 0,
    )
    .sort((a, b) => score(b.fields) - score(a.fields))
    .map((one) => ({ ...one, isSure: one === sure }));
}
