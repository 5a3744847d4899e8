/**
 * Two people on record who are one: the plan that makes the second part of the first, and the plan that parts them
 * again. Nothing is deleted: the second stays as a record that points to the first, and what was theirs (enrollments,
 * places, the account) is carried over or ended, each by a change that can be taken back by itself.
 */
import { say } from '#core/messages/say';
import { inWords } from './words';
import { ends, updates } from './steps';
import { type Change, type Conflict, conflictOf, type Fields, invertChange, type Plan } from '#core/plan/index';
import {
  type Account,
  type Affiliation,
  type ClassKind,
  type Contact,
  type Ending,
  type Enrollment,
  type Entity,
  fieldLabel,
  type Loan,
  type Membership,
  type Person,
  type PersonField,
  personFields,
  type Seat,
  type Step,
} from '#core/entities/index';
import { ordered, personLabel } from './index';

export interface WithAll {
  person: Person;
  affiliations: Affiliation[];
  /** With the kind of its class. */
  enrollments: (Enrollment & { kind: ClassKind })[];
  memberships: Membership[];
  contacts: Contact[];
  /** With the product of its license. */
  seats: (Seat & { productId: string })[];
  loans: Loan[];
  account: Pick<Account, 'id' | 'status' | 'username'> | null;
}

/** Whose value is kept: that of the record that stays, or of the one that goes. */
export type Choices = Partial<Record<PersonField, 'keep' | 'gone'>>;

/**
 * The better value by rule: what is there over what is not; a name with accents over one without, in full over an
 * initial or a part, in usual case over capitals; else that of the record that stays.
 */
export function betterOf(field: PersonField, keep: string | null, gone: string | null): 'keep' | 'gone' {
  if (gone === null || gone === '') return 'keep';
  if (keep === null || keep === '') return 'gone';
  if (!field.endsWith('Name')) return 'keep';
  const worth = (name: string): number =>
    (/\p{Ll}/u.test(name) ? 4 : 0) + (/[^\x20-\x7e]/.test(name) ? 2 : 0) + Math.min(name.length, 40) / 100;
  return worth(gone) > worth(keep) + (field === 'familyName' ? 0.5 : 0.02) ? 'gone' : 'keep';
}

/** What a merge keeps, field by field: the rule's choice where none was made. */
export const chosen = (keep: Person, gone: Person, choices: Choices): Record<PersonField, 'keep' | 'gone'> =>
  Object.fromEntries(
    personFields.map((field) => [field, choices[field] ?? betterOf(field, keep[field] ?? null, gone[field] ?? null)]),
  ) as Record<PersonField, 'keep' | 'gone'>;

/** Later than any day. */
const never = '9999';

/** `date`: the day from which places and enrollments of the second end where the first has the same. */
export function planMerge(keep: WithAll, gone: WithAll, choices: Choices, date: string): Plan {
  const label = say('plan.and', { name: personLabel(keep.person), other: personLabel(gone.person) });
  const subject = keep.person.id;
  const changes: Change[] = [];
  const update = <E extends Entity>(...step: Parameters<typeof updates<E>>) =>
    changes.push({ ...(updates(...step) as Step), label, subject });
  const end = (entity: Ending, id: string, reason: string) =>
    changes.push({ ...ends(entity, id, date, reason), label, subject });

  const from = chosen(keep.person, gone.person, choices);
  const taken = personFields.filter((f) => from[f] === 'gone' && (keep.person[f] ?? null) !== (gone.person[f] ?? null));
  for (const field of taken)
    update(
      'person',
      keep.person.id,
      { [field]: keep.person[field] ?? null },
      { [field]: gone.person[field] ?? null },
      say('plan.fromTheMergedRecord', { field: fieldLabel('person', field) }),
    );
  if (keep.person.status === 'left' && gone.person.status === 'active')
    update('person', keep.person.id, { status: 'left' }, { status: 'active' }, say('plan.isAlreadyHere'));
  update(
    'person',
    gone.person.id,
    { status: gone.person.status, mergedInto: gone.person.mergedInto },
    { status: 'merged', mergedInto: keep.person.id },
    say('plan.is', { name: personLabel(keep.person) }),
  );

  const places = keep.affiliations.filter((a) => a.ends === null);
  for (const place of gone.affiliations) {
    // A person is at one school at a time: the place of the record that stays holds.
    if (place.ends === null && places.length > 0)
      end('affiliation', place.id, say('plan.theSamePersonsOtherEnrollment'));
    else
      update(
        'affiliation',
        place.id,
        { personId: gone.person.id },
        { personId: keep.person.id },
        say('plan.carriedOverFromTheMerged'),
      );
  }
  const enrolled = keep.enrollments.filter((e) => e.ends === null);
  for (const { id, classId, role, kind, ends } of gone.enrollments) {
    const why =
      ends !== null
        ? null
        : enrolled.some((e) => e.classId === classId)
          ? say('plan.isAlreadyInTheClass')
          : kind === 'homeroom' && role === 'student' && enrolled.some((e) => e.kind === kind && e.role === role)
            ? say('plan.isAlreadyInAnotherHomeroom')
            : null;
    if (why) end('enrollment', id, why);
    else
      update(
        'enrollment',
        id,
        { personId: gone.person.id },
        { personId: keep.person.id },
        say('plan.carriedOverFromTheMerged'),
      );
  }
  for (const { id, groupId, ends } of gone.memberships) {
    if (keep.memberships.some((m) => m.groupId === groupId && m.ends === null && ends === null))
      end('membership', id, say('plan.isAlreadyInTheGroup'));
    else
      update(
        'membership',
        id,
        { personId: gone.person.id },
        { personId: keep.person.id },
        say('plan.carriedOverFromTheMerged'),
      );
  }
  for (const { id, productId, begins, ends } of gone.seats) {
    const twice = keep.seats.some(
      (s) => s.productId === productId && s.begins < (ends ?? never) && begins < (s.ends ?? never),
    );
    if (!twice)
      update(
        'seat',
        id,
        { personId: gone.person.id },
        { personId: keep.person.id },
        say('plan.carriedOverFromTheMerged'),
      );
    // What is over stays with the record that is merged.
    else if (ends === null || ends > date)
      update('seat', id, { ends }, { ends: begins > date ? begins : date }, say('plan.alreadyHasASeat'));
  }
  for (const { id } of gone.loans)
    update(
      'loan',
      id,
      { personId: gone.person.id },
      { personId: keep.person.id },
      say('plan.carriedOverFromTheMerged'),
    );
  for (const { id, email, phone } of gone.contacts) {
    // The same contact twice stays with the record that is merged.
    const twice = keep.contacts.some(
      (c) => (email !== null && c.email === email) || (phone !== null && c.phone === phone),
    );
    if (!twice)
      update(
        'contact',
        id,
        { personId: gone.person.id },
        { personId: keep.person.id },
        say('plan.carriedOverFromTheMerged'),
      );
  }
  const { account } = gone;
  if (account && !keep.account)
    update(
      'account',
      account.id,
      { personId: gone.person.id },
      { personId: keep.person.id },
      say('plan.carriedOverFromTheMerged'),
    );
  else if (account?.status === 'active')
    update(
      'account',
      account.id,
      { status: 'active' },
      { status: 'frozen' },
      say('plan.signsInAs', { username: keep.account!.username }),
    );
  return ordered(joined(changes));
}

/** A plan changes a row with one operation once, so the updates of a row become one. */
function joined(changes: Change[]): Change[] {
  const updates = new Map<string, Change>();
  const rest: Change[] = [];
  for (const change of changes) {
    if (change.op !== 'update') {
      rest.push(change);
      continue;
    }
    const key = `${change.entity}:${change.id}`;
    const known = updates.get(key);
    if (!known) updates.set(key, { ...change });
    else {
      known.before = { ...known.before, ...change.before };
      known.after = { ...known.after, ...change.after };
      known.reason = `${known.reason}, ${change.reason}`;
    }
  }
  return [...updates.values(), ...rest];
}

export interface Unmerge {
  plan: Plan;
  /** What was changed since the merge and stays as it is now. */
  kept: Conflict[];
}

/**
 * The plan that takes a merge back on the rows as they are now: each field that still is what the merge made it
 * returns; what somebody changed since stays and is named. `rowOf` gives a row's fields, undefined if it is gone.
 */
export function planUnmerge(merge: Plan, rowOf: (entity: string, id: string) => Fields | undefined): Unmerge {
  const kept: Conflict[] = [];
  const changes = [...merge.changes].reverse().flatMap((change): Change[] => {
    const inverse = invertChange(change);
    const row = rowOf(inverse.entity, inverse.id);
    if (inverse.op !== 'update' || !row) {
      const conflict = conflictOf(inverse, row, inWords);
      if (conflict) kept.push(conflict);
      return conflict ? [] : [inverse];
    }
    const fields = Object.keys(inverse.before).filter((field) => {
      const one = { ...inverse, before: { [field]: inverse.before[field]! } };
      const conflict = conflictOf(one, row, inWords);
      if (conflict) kept.push(conflict);
      return !conflict;
    });
    if (fields.length === 0) return [];
    const only = (from: Fields): Fields => Object.fromEntries(fields.map((field) => [field, from[field]!]));
    return [
      { ...inverse, before: only(inverse.before), after: only(inverse.after), reason: say('plan.separatedAgain') },
    ];
  });
  return { plan: ordered(changes), kept };
}
