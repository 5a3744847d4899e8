/** What the form of a verb orders. */
import { expect, it } from 'vitest';
import { emptyForm, orderOf, type VerbKind } from './verb';

it('orders nothing until what the verb needs is chosen', () => {
  for (const what of ['enroll', 'move', 'group', 'seats'] as VerbKind[]) expect(orderOf(what, emptyForm())).toBeNull();
});

it('keeps a teacher’s or student’s other class only where it is said', () => {
  const form = { ...emptyForm(), classId: 'c' };
  expect(orderOf('enroll', form)).toEqual({ verb: 'enroll', classId: 'c', instead: true });
  expect(orderOf('enroll', { ...form, way: 'besides' })).toEqual({ verb: 'enroll', classId: 'c', instead: false });
  expect(orderOf('enroll', { ...form, way: 'out' })).toEqual({ verb: 'unenroll', classId: 'c' });
});

it('moves by a school, a grade or a class alone', () => {
  for (const one of [{ schoolId: 's' }, { grade: '02' }, { classId: 'c' }])
    expect(orderOf('move', { ...emptyForm(), ...one })).toEqual({
      ...{ verb: 'move', schoolId: null, grade: null, classId: null },
      ...one,
    });
});

it('lends until a day, and takes back without one', () => {
  const form = { ...emptyForm(), due: '2026-12-18' };
  expect(orderOf('devices', form)).toEqual({ verb: 'devices', take: false, due: '2026-12-18' });
  expect(orderOf('devices', { ...form, take: true })).toEqual({ verb: 'devices', take: true, due: null });
  expect(orderOf('devices', emptyForm())).toEqual({ verb: 'devices', take: false, due: null });
});
