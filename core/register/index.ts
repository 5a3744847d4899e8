/**
 * The register: who is where. People are affiliated with schools and enrolled in classes, both with a begin and
 * an end, so that any day can be asked for; an account lets a person sign in. What is kept of each is in core/entities.
 */
import { type Entity, entityNames, type Person } from '#core/entities/index';
import { type Change, kindOf, type Plan } from '#core/plan/index';

export const fullName = (person: { familyName: string; givenName: string }): string =>
  `${person.familyName}, ${person.givenName}`;

/** As one says it: in sentences, and where people are named as those who did something. */
export const spokenName = (person: { familyName: string; givenName: string }): string =>
  `${person.givenName} ${person.familyName}`;

export const personLabel = (person: { familyName: string; givenName: string; number: string | null }): string =>
  person.number ? `${fullName(person)} · ${person.number}` : fullName(person);

/** By what a person is known again when a username was theirs before: the number, else name and birth date. */
export const personKey = (person: Pick<Person, 'number' | 'familyName' | 'givenName' | 'birthDate'>): string =>
  person.number ?? `${person.familyName}|${person.givenName}|${person.birthDate ?? ''}`;

const opRank = { create: 0, update: 1, restore: 2, end: 3, purge: 4 } as const;

/** The changes with each kind in one run, made before they are needed and purged after. Order within a kind stays. */
export function ordered(changes: Change[]): Plan {
  const runs = new Map<string, Change[]>();
  for (const change of changes) {
    const kind = kindOf(change);
    const run = runs.get(kind);
    if (run) run.push(change);
    else runs.set(kind, [change]);
  }
  const rank = ({ op, entity }: Change): number => {
    const place = entityNames.indexOf(entity as Entity);
    return opRank[op] * 100 + (op === 'purge' ? 50 - place : place);
  };
  return { changes: [...runs.values()].sort((a, b) => rank(a[0]!) - rank(b[0]!)).flat() };
}
