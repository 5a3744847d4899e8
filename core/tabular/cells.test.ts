/** Cells copied between spreadsheets, and readings known again by a file's shape. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cellsToText, replaceIn, spread, textToCells } from './cells';
import { open } from './reading';
import { recognize, remember, type Remembered } from './remember';

describe('cells on the clipboard', () => {
  it('come back as they went, whatever is in them', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', 'é', '"', '\t', '\n', ',', ' ', '0') });
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 4 }), fc.nat(), (wide, seed) => {
        const [rows] = fc.sample(
          fc.array(fc.array(cell, { minLength: wide, maxLength: wide }), { minLength: 1, maxLength: 5 }),
          { numRuns: 1, seed },
        );
        expect(textToCells(cellsToText(rows!))).toEqual(rows);
      }),
    );
  });

  it('are read as spreadsheets write them: a line break at the end, of either kind, begins no row', () => {
    // Common practice: what spreadsheets put on the clipboard as text/plain.
    expect(textToCells('3B\t03\r\n3A\t\r\n')).toEqual([
      ['3B', '03'],
      ['3A', ''],
    ]);
    expect(textToCells('one')).toEqual([['one']]);
    expect(textToCells('"two\nlines"\tx\n')).toEqual([['two\nlines', 'x']]);
  });

  it('fill a range with one cell, repeat a block that fits into it, and otherwise begin at its corner', () => {
    const sheet = { rows: 5, columns: 3 };
    const at = (block: string[][], range: Parameters<typeof spread>[1]) => {
      const { cells, beyond } = spread(block, range, sheet);
      return [cells.map(({ row, column, text }) => `${row}${column}${text}`).join(' '), beyond];
    };
    expect(at([['x']], { top: 1, bottom: 3, left: 0, right: 0 })).toEqual(['10x 20x 30x', 0]);
    expect(at([['a'], ['b']], { top: 0, bottom: 3, left: 1, right: 1 })).toEqual(['01a 11b 21a 31b', 0]);
    expect(at([['a'], ['b']], { top: 0, bottom: 2, left: 1, right: 1 })).toEqual(['01a 11b', 0]);
    expect(at([['a', 'b'], ['c']], { top: 4, bottom: 4, left: 2, right: 2 })).toEqual(['42a', 3]);
  });

  it('have a text replaced as it is typed, not as a pattern', () => {
    expect(replaceIn('Gr. 3 gr. 3', 'GR. ', '$&')).toBe('$&3 $&3');
    expect(replaceIn('a+b', '+', ' plus ')).toBe('a plus b');
  });
});

describe('a file of a shape that is known', () => {
  const bytes = (text: string) => new TextEncoder().encode(text);
  const kept = (text: string, hints: Parameters<typeof open>[1]): Remembered => remember(open(bytes(text), hints));
  const titled = (day: string, ref: string) =>
    `Marrow Bay School\nList of ${day}\nRef;Called;Home\n${ref};Tomi Abara;3B\n7;Deniz Moyo;3A\n`;

  it('is known by the headings in the line that a person named', () => {
    const list = kept(titled('2026-08-17', '4117'), { headerLine: 3, columns: { 1: 'fullName', 2: 'className' } });
    const other = kept('A;B;C\n1;2;3', { headerLine: 1 });
    expect(recognize([other, list], open(bytes(titled('2026-09-01', '12'))))).toBe(list);
    expect(recognize([list], open(bytes(`\n${titled('2026-09-01', '12')}`)))).toBeNull();
    expect(recognize([list], open(bytes(titled('2026-09-01', '12').replace('Home', 'Bus'))))).toBeNull();
    expect(recognize([list], open(bytes(titled('2026-09-01', '12').replace('Home', 'Home;Bus'))))).toBeNull();
  });

  it('is known, without headings, by its columns and what they hold', () => {
    const list = kept('Abara,Tomi,03/04/2016,104117\nMoyo,Deniz,05/06/2015,104118\n', { headerLine: null });
    expect(recognize([list], open(bytes('Ode,Kai,01/02/2017,104300\nFox,Ida,09/12/2016,104301\n')))).toBe(list);
    expect(recognize([list], open(bytes('104300,Ode,Kai,01/02/2017\n104301,Fox,Ida,09/12/2016\n')))).toBeNull();
    expect(recognize([list], open(bytes('Ode,Kai,01/02/2017\nFox,Ida,09/12/2016\n')))).toBeNull();
  });
});
