/** Texts by key: said in each language wherever they stand, and nothing from outside is taken for one. */
import { expect, it } from 'vitest';
import { inEnglish, keysSaying, speechOf } from './languages';
import { few, readSpoken, say, spoken, unsaid } from './say';

it('says a text in each language, also within another one, in a list, and in an answer', () => {
  const seats = say('plan.count', { entity: 'seat', n: 1200 });
  expect(inEnglish(say('plan.adds', { what: [say('plan.count', { entity: 'person', n: 1 }), seats] }))).toBe(
    'Adds 1 person and 1,200 seats.',
  );
  expect(spoken(`A · ${say('plan.adds', { what: [seats] })}`, speechOf('es-US'))).toBe('A · Agrega 1,200 plazas.');
  const answer = JSON.stringify({ rows: [{ title: say('jobs.importOf', { fileName: 'a “b”.csv' }), n: 2 }] });
  expect(readSpoken(answer, speechOf('en-US'))).toEqual({ rows: [{ title: 'Import of a “b”.csv', n: 2 }] });
});

it('says a day of the calendar as each language writes it, whatever zone the reader is in', () => {
  const until = say('licenses.untilDay', { day: '2027-06-22' });
  expect(inEnglish(until)).toBe('until Jun 22, 2027');
  expect(spoken(until, speechOf('es-US'))).toBe('hasta 22 jun 2027');
});

it('leaves old text as it is, and shows what it cannot say without throwing', () => {
  expect(inEnglish('Moving 5 people to {name}')).toBe('Moving 5 people to {name}');
  const odd = [
    '\u0002no.key\u0003',
    '\u0002plan.adds{"what\u0003',
    '\u0002plan.adds\u0003',
    'half \u0002plan.adds{"wh',
  ];
  for (const text of odd) {
    expect(() => inEnglish(text)).not.toThrow();
    expect(inEnglish(text)).not.toMatch(new RegExp('[\u0002\u0003]'));
  }
});

it('is not taken from outside', () => {
  expect(unsaid(`Ada ${say('plan.changesNothing')}`)).toBe('Ada plan.changesNothing');
  expect(few(['a', 'b', 'c'], 2)).toEqual(['a', 'b', '…']);
});

it('finds keys by what they say in any language', () => {
  expect(keysSaying('roll-over', ['year'], 40)).toContain('year.rollOverTo');
  expect(keysSaying('CAMBIO DE AÑO', ['year'], 40)).toContain('year.rollOverTo');
});
