import { thrown } from '#core/messages/expect';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { midway, phaseOf, planSetWork, sameWord, schoolDay, seesAnswers } from './index';

const fields = {
  title: 'Tides',
  opensAt: '2026-09-01T06:00:00.000Z',
  dueAt: null as string | null,
  closesAt: '2026-09-04T12:00:00.000Z',
  minutes: 30,
  entryWord: null,
  paused: 0,
  answers: 'closed' as const,
};
const minter = () => {
  let n = 0;
  return () => `id${String(++n)}`;
};

describe('set work', () => {
  it('is coming, open, shut and closed by its times and its pause, with the answers when they are due', () => {
    const at = (now: string, paused = 0) => phaseOf({ ...fields, paused }, now);
    expect(at('2026-09-01T05:59:59.999Z')).toBe('coming');
    expect(at(fields.opensAt)).toBe('open');
    expect(at(fields.opensAt, 1)).toBe('shut');
    expect(at(fields.closesAt)).toBe('closed');
    expect(phaseOf({ ...fields, closesAt: null }, '2030-01-01T00:00:00.000Z')).toBe('open');
    expect(seesAnswers('done', 'open', true) && seesAnswers('closed', 'closed', false)).toBe(true);
    expect(seesAnswers('done', 'closed', false) || seesAnswers('closed', 'open', true)).toBe(false);
    expect(seesAnswers('never', 'closed', true)).toBe(false);
    expect(sameWord(' Sea Gull', 'seagull')).toBe(true);
    expect(sameWord('gull', 'seagull')).toBe(false);
  });

  it('is for each class one piece, for some of it by name, and for nobody it is refused', () => {
    const target = { classId: 'a', className: '6A', groupId: null, groupName: null, some: null };
    const some = [{ id: 'p', label: 'Ann' }];
    const { plan, ids } = planSetWork('m', fields, [target, { ...target, classId: 'b', some }], minter());
    expect(ids).toHaveLength(2);
    expect(plan.changes.map(({ entity, after }) => [entity, after.classId ?? after.personId, after.whom])).toEqual([
      ['work', 'a', 'class'],
      ['work', 'b', 'some'],
      ['assignee', 'p', undefined],
    ]);
    expect(thrown(() => planSetWork('m', fields, [{ ...target, some: [] }], minter()))).toContain('student in 6A');
    expect(thrown(() => planSetWork('m', { ...fields, closesAt: fields.opensAt }, [target], minter()))).toContain(
      'closes',
    );
    expect(thrown(() => planSetWork('m', fields, [], minter()))).toContain('Choose the classes');
    for (const [dueAt, what] of [
      [fields.opensAt, 'due before it opens'],
      ['2026-09-04T12:00:00.001Z', 'closes before it is due'],
    ] as const)
      expect(thrown(() => planSetWork('m', { ...fields, dueAt }, [target], minter()))).toContain(what);
    expect(planSetWork('m', { ...fields, dueAt: fields.closesAt }, [target], minter()).ids).toHaveLength(1);
  });

  it('is put on a day with school: not on a weekend nor a day off, and never outside the year', () => {
    const year = { begins: '2026-09-01', ends: '2027-06-25' };
    const off = [{ begins: '2026-11-23', ends: '2026-11-27' }];
    for (const [day, found] of [
      ['2026-11-18', '2026-11-18'],
      // A Saturday, with the week after it off.
      ['2026-11-21', '2026-11-30'],
      ['2027-06-25', '2027-06-25'],
    ] as const)
      expect([day, schoolDay(day, year, off)]).toEqual([day, found]);
    // The year ends on a Sunday.
    expect(schoolDay('2027-06-27', { ...year, ends: '2027-06-27' })).toBe('2027-06-25');
  });

  it('midway through the term is within the year, not before today, and as far from both ends of a term', () => {
    expect(midway({ begins: '2026-09-01', ends: '2027-06-30' }, '2026-08-20')).toBe('2026-11-15');
    // 302 days: terms of 151, so midways after 75 and 226, each for as long as it is to come; then the term's own end.
    const year = { begins: '2026-09-01', ends: '2027-06-30' };
    for (const [today, found] of [
      ['2026-11-15', '2026-11-15'],
      ['2026-11-16', '2027-01-30'],
      ['2027-01-29', '2027-01-30'],
      ['2027-01-30', '2027-04-15'],
      ['2027-04-15', '2027-04-15'],
      ['2027-04-16', '2027-06-30'],
    ] as const)
      expect([today, midway(year, today)]).toEqual([today, found]);
    // With terms of its own: 136 days from the first of September, 119 from the first of March.
    const terms = [
      { begins: '2027-03-01', ends: '2027-06-28' },
      { begins: '2026-09-01', ends: '2027-01-15' },
    ];
    for (const [today, found] of [
      ['2026-08-20', '2026-11-08'],
      ['2026-11-09', '2027-01-15'],
      ['2027-01-15', '2027-04-29'],
      ['2027-06-28', '2027-06-28'],
    ] as const)
      expect([today, midway(year, today, terms)]).toEqual([today, found]);
    const day = fc
      .integer({ min: 0, max: 320 })
      .map((n) => new Date(Date.UTC(2026, 7, 1 + n)).toISOString().slice(0, 10));
    fc.assert(
      fc.property(day, fc.integer({ min: 60, max: 400 }), (today, length) => {
        const begins = '2026-08-20';
        const ends = new Date(Date.parse(begins) + length * 86_400_000).toISOString().slice(0, 10);
        fc.pre(today <= ends);
        const found = midway({ begins, ends }, today);
        expect(found >= today && found > begins && found <= ends).toBe(true);
      }),
    );
  });
});
