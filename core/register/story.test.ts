import { expect, it } from 'vitest';
import { type Change, type Fields, invert, type Op } from '#core/plan/index';
import { tell } from './story';

let n = 0;
const change = (entity: string, op: Op, subject: string, after: Fields = {}, before: Fields = {}): Change => ({
  entity,
  id: `id${n++}`,
  op,
  before,
  after,
  reason: '',
  label: subject,
  subject,
});
const arrives = (who: string) => [
  change('person', 'create', who),
  change('affiliation', 'create', who),
  change('account', 'create', who),
  change('enrollment', 'create', who),
];
const changesClass = (who: string) => [change('enrollment', 'end', who), change('enrollment', 'create', who)];
const leaves = (who: string) => [
  change('person', 'update', who, { status: 'left' }, { status: 'active' }),
  change('affiliation', 'end', who),
  change('account', 'update', who, { status: 'frozen' }, { status: 'active' }),
  change('enrollment', 'end', who),
];

it('tells each person once, by the most that happens to them, and classes beside', () => {
  expect(tell([])).toEqual('Changes nothing.');
  expect(tell([...arrives('a'), ...arrives('b'), change('class', 'create', 'c')])).toEqual(
    'Adds 2 people and 1 class.',
  );
  expect(
    tell([
      ...arrives('a'),
      change('class', 'create', 'c'),
      change('class', 'create', 'd'),
      change('school', 'create', 's'),
    ]),
  ).toEqual('Adds 1 person, 2 classes, and 1 school.');
  expect(
    tell([
      ...arrives('a'),
      ...changesClass('b'),
      ...changesClass('c'),
      ...leaves('d'),
      change('person', 'update', 'e', { familyName: 'x' }, { familyName: 'y' }),
    ]),
  ).toEqual('Adds 1 person. Withdraws 1 person. Moves 2 people to another class. Changes the record of 1 person.');
  // Somebody who moves to another school is in another class too, and is told once.
  expect(tell([change('affiliation', 'end', 'f'), change('affiliation', 'create', 'f'), ...changesClass('f')])).toEqual(
    'Transfers 1 person to another school.',
  );
  expect(
    tell([change('account', 'update', 'g', { secretSealed: 'x', secretVersion: 2 }, { secretVersion: 1 })]),
  ).toEqual('Gives 1 person a new password.');
});

it('tells an undoing as what it does', () => {
  const undone = (changes: Change[]) => tell(invert({ changes }).changes);
  expect(undone([...arrives('a'), change('class', 'create', 'c'), ...changesClass('b')])).toEqual(
    'Deletes 1 person and 1 class. Moves 1 person to another class.',
  );
  expect(undone(leaves('a'))).toEqual('Enrolls 1 person again.');
  // Up a grade at the same school: nobody changes schools, there or back.
  const promoted = (who: string) => [
    change('affiliation', 'end', who, { ends: '2027-06-22' }, { ends: null, grade: '03' }),
    change('affiliation', 'create', who, { grade: '04' }),
  ];
  expect(tell(promoted('a'))).toEqual('Moves 1 person up a grade.');
  expect(undone(promoted('a'))).toEqual('Moves 1 person back to the grade before.');
});
