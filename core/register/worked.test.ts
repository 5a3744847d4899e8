/** Worked examples: what changes are called, what plans say of themselves, and what guards say, told in `worked.txt`. */
import { asRead } from '#core/messages/expect';
import { expect, it } from 'vitest';
import { type Change, conflictOf, type Fields, guard, type Op, summarise } from '#core/plan/index';
import { type GuardFacts, planGuards } from './guards';
import { declarationOf, entities, type Entity, entityNames } from '#core/entities/index';
import { fullName, ordered, personKey, personLabel } from './index';
import { creates, ends, updates } from './steps';
import { tell } from './story';
import { inWords, kindWords, shownFields, withoutSecrets } from './words';
import { sampleOf, sampleSchool } from './samples';

const school = sampleSchool('s1', { name: 'North' });
const change = (entity: string, op: Op, more: Partial<Change> = {}): Change => ({
  ...{ entity, op, id: 'x', before: {}, after: {}, reason: '', label: 'Somebody', subject: 'p1' },
  ...more,
});
const ops: Op[] = ['create', 'update', 'end', 'restore', 'purge'];
const out: string[] = [];
const show = (title: string, lines: string[]) => out.push(`# ${title}`, ...lines, '');

it('changes are called and told as these are', async () => {
  show(
    'kinds of change',
    entityNames.flatMap((entity) =>
      ops.map((op) =>
        kindWords({ entity, op, fields: op === 'update' ? ['familyName', 'birthDate', 'schoolId', 'name'] : [] }),
      ),
    ),
  );
  /** A row in which every field says something. */
  const filled = (entity: Entity): Fields => ({
    ...Object.fromEntries(declarationOf(entity)!.columns.map((field) => [field, `its ${field}`])),
    ...('schoolId' in entities[entity].fields ? { schoolId: 's1' } : {}),
  });
  const shown = (c: Change) =>
    shownFields(withoutSecrets(c), [school]).map(
      (f) => `${c.op} ${c.entity} ${f.field}: ${f.hasBefore ? f.before : '-'} → ${f.hasAfter ? f.after : '-'}`,
    );
  show('fields that are shown', [
    ...entityNames.flatMap((entity) => shown(change(entity, 'create', { after: filled(entity) }))),
    ...shown(change('person', 'purge', { before: filled('person') })),
    ...shown(
      change('device', 'update', { before: { room: null, schoolId: 's9' }, after: { room: '', schoolId: 's1' } }),
    ),
    ...shown(change('person', 'update', { before: { status: 'left' }, after: { status: 'active', unheard: 'of' } })),
    ...shown(change('loan', 'end', { before: { ends: null }, after: { ends: '2026-09-01' } })),
  ]);
  const clash = (entity: Entity, before: Fields, row: Fields | undefined) =>
    conflictOf(change(entity, 'update', { before }), row, inWords)?.message ?? 'nothing is in the way';
  show('what is in the way', [
    clash('person', { guardianEmail: 'g@x.example' }, { guardianEmail: null }),
    clash('account', { secretSealed: 'sealed' }, { secretSealed: 'sealed anew' }),
    clash('account', { passwordHash: null }, { passwordHash: 'hash' }),
    clash('person', { number: '1' }, undefined),
    clash('person', { number: '1' }, { number: '1' }),
  ]);
  show(
    'what one change is',
    entityNames.flatMap((entity) => ops.map((op) => `${op} ${entity}: ${tell([change(entity, op)])}`)),
  );
  const of = (...changes: Change[]) => tell(changes);
  show('what several are', [
    of(),
    of(
      change('person', 'update', { after: { status: 'left' } }),
      change('affiliation', 'end'),
      change('enrollment', 'end'),
    ),
    of(
      change('person', 'update', { before: { status: 'left' }, after: { status: 'active' } }),
      change('affiliation', 'create'),
    ),
    of(change('affiliation', 'end', { before: { grade: '03' } }), change('affiliation', 'create')),
    of(change('affiliation', 'end'), change('affiliation', 'create')),
    of(change('enrollment', 'end'), change('enrollment', 'create')),
    of(change('enrollment', 'end'), change('enrollment', 'restore', { subject: 'p2' })),
    of(change('seat', 'end'), change('seat', 'create')),
    of(change('seat', 'update', { after: { ends: '2026-09-01' } })),
    of(change('seat', 'update', { after: { begins: '2026-09-01' } })),
    of(change('loan', 'end'), change('loan', 'create')),
    of(change('account', 'update', { after: { secretVersion: 2 } })),
    of(change('account', 'create', { after: { secretVersion: 1 } })),
    of(
      change('person', 'create'),
      change('person', 'create', { subject: 'p2' }),
      change('class', 'create'),
      change('school', 'create'),
      change('year', 'create'),
    ),
    of(change('class', 'end'), change('class', 'end'), change('rule', 'update'), change('booking', 'purge')),
    of(...Array.from({ length: 1200 }, (_, i) => change('person', 'create', { subject: `p${i}` }))),
  ]);
  const mixed = ordered([
    ...[
      change('affiliation', 'create'),
      change('person', 'create'),
      change('class', 'end'),
      change('person', 'purge'),
      change('class', 'purge'),
    ],
    ...[
      change('person', 'update', { after: { email: 'a' } }),
      change('person', 'update', { after: { email: 'b' } }),
      change('account', 'restore'),
      change('person', 'create', { id: 'y' }),
    ],
  ]);
  show('their order', [
    ...mixed.changes.map(({ op, entity, id }) => `${op} ${entity} ${id}`),
    ...summarise(mixed.changes).kinds.map((k) => `${k.kind} ${k.count} ${k.fields.join()}`),
  ]);
  const ada = { familyName: 'Moyo', givenName: 'Ada', number: '1001', birthDate: '2017-01-01' };
  show('what people are called', [
    ...[ada, { ...ada, number: null }, { ...ada, number: null, birthDate: null }].map((p) =>
      [fullName(p), personLabel(p), personKey(p)].join(' / '),
    ),
  ]);
  await expect(asRead(out.splice(0).join('\n'))).toMatchFileSnapshot('./worked.txt');
});

it('guards say why they hold a plan', () => {
  const facts: GuardFacts = {
    schools: new Map([['s1', { name: 'North', size: 100 }]]),
    schoolOfPlace: () => 's1',
    studentsOf: () => [
      { id: 'e1', personId: 'a', label: 'Ada' },
      { id: 'e2', personId: 'b', label: 'Bo' },
    ],
    holdersOf: () => [{ id: 'l1', label: 'Ada' }],
    seatsPast: () => [
      { id: 't1', label: 'Ada' },
      { id: 't2', label: 'Bo' },
    ],
  };
  const limits = { mostLeaving: 0.12, mostJoining: 0.5, yearEnds: '2027-06-20' };
  const on = (subject: string, step: Omit<Change, 'label' | 'subject'>): Change => ({
    ...step,
    label: subject,
    subject,
  });
  const held = (kind: string, ...changes: Change[]) =>
    guard({ changes }, planGuards(kind, facts, limits)).map(({ code, message, names, count }) => [
      code,
      message,
      names.join(),
      count,
    ]);
  const many = (n: number, make: (id: string) => Change) => Array.from({ length: n }, (_, i) => make(`p${i}`));
  expect(
    held('leave', ...many(13, (id) => on(id, ends('affiliation', `a${id}`, '2026-09-01', ''))))[0]!.slice(0, 2),
  ).toEqual([
    'leaving:s1',
    'North: 13 of 100 people would leave the school (13%). The most allowed without a review is 12%',
  ]);
  expect(
    held(
      'import',
      ...many(51, (id) => on(id, creates('affiliation', `a${id}`, sampleOf('affiliation', { schoolId: 's1' }), ''))),
    )[0]!.slice(0, 2),
  ).toEqual([
    'joining:s1',
    'North: 51 people would join a school of 100 (51%). The most allowed without a review is 50%',
  ]);
  expect(held('year', on('6B', ends('class', 'c1', '2027-06-01', '')))).toEqual([
    ['early', 'The school year runs until Jun 20, 2027, but this plan ends its classes on Jun 1, 2027', '', 1],
  ]);
  const loan = on('Ada', ends('loan', 'l1', '2027-01-01', ''));
  expect(held('year', loan, on('6B', updates('class', 'c1', { ends: null }, { ends: '2027-01-01' }, '')))).toEqual([]);
  expect(held('edit', on('6B', ends('class', 'c1', '2026-09-01', '')))).toEqual([
    ['class-ends:c1', '6B ends with 2 students in it', 'Ada,Bo', 2],
  ]);
  expect(held('edit', on('D1', updates('device', 'd1', { condition: 'good' }, { condition: 'retired' }, '')))).toEqual([
    ['device-ends:d1', 'D1 would be retired while 1 person has it', 'Ada', 1],
  ]);
  const cut = on('Maps', updates('license', 'l1', { ends: '2027-06-01' }, { ends: '2027-01-01' }, ''));
  expect(held('edit', cut)).toEqual([
    ['license-ends:l1', 'Maps would end earlier, with seats of 2 people', 'Ada,Bo', 2],
  ]);
  expect(held('edit', on('Ada', ends('seat', 't1', '2026-09-01', '')), cut)).toEqual([
    ['license-ends:l1', 'Maps would end earlier, with a seat of 1 person', 'Bo', 1],
  ]);
  // A seat that is only now made is none that is freed; the day it ends may stay the same.
  expect(held('edit', on('Ada', creates('seat', 't1', sampleOf('seat', {}), '')), cut)).toHaveLength(1);
  expect(
    held('edit', on('Maps', updates('license', 'l1', { ends: '2027-06-01' }, { ends: '2027-06-01' }, ''))),
  ).toEqual([]);
  expect(held('edit', on('Maps', updates('license', 'l1', { ends: '2027-06-01' }, { seats: 3 }, '')))).toEqual([]);
});
