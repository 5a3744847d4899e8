import { describe, expect, it } from 'vitest';
import { card, cardsPerSheet, cutMarks, type Paper, papers, parts, sheets, slots } from './index';

const each = Object.keys(papers) as Paper[];

describe('a sheet of cards', () => {
  it('holds eight equal cards that meet edge to edge, centered on the paper', () => {
    // Published: ISO 216 and ANSI/ASME Y14.1.
    expect(papers).toEqual({ A4: { widthMm: 210, heightMm: 297 }, Letter: { widthMm: 215.9, heightMm: 279.4 } });
    for (const paper of each) {
      const places = slots(paper);
      expect(places).toHaveLength(8);
      const right = Math.max(...places.map((p) => p.xMm + p.widthMm));
      const bottom = Math.max(...places.map((p) => p.yMm + p.heightMm));
      const [left, top] = [Math.min(...places.map((p) => p.xMm)), Math.min(...places.map((p) => p.yMm))];
      expect(left).toBeCloseTo(papers[paper].widthMm - right, 9);
      expect(top).toBeCloseTo(papers[paper].heightMm - bottom, 9);
      // Printers cannot reach the outer edge: common practice, 5 mm.
      expect(Math.min(left, top)).toBeGreaterThan(5);
      const covered = places.reduce((sum, p) => sum + p.widthMm * p.heightMm, 0);
      expect(covered).toBeCloseTo((right - left) * (bottom - top), 6);
      for (const [i, a] of places.entries()) {
        for (const b of places.slice(i + 1)) {
          const apart =
            a.xMm + a.widthMm <= b.xMm + 1e-9 ||
            b.xMm + b.widthMm <= a.xMm + 1e-9 ||
            a.yMm + a.heightMm <= b.yMm + 1e-9 ||
            b.yMm + b.heightMm <= a.yMm + 1e-9;
          expect(apart).toBe(true);
        }
      }
    }
  });

  it('has a cut mark at both ends of every cut, on the paper and on no card', () => {
    for (const paper of each) {
      const places = slots(paper);
      const marks = cutMarks(paper);
      const cutsX = new Set(places.flatMap((p) => [p.xMm, p.xMm + p.widthMm]).map((x) => x.toFixed(6)));
      const cutsY = new Set(places.flatMap((p) => [p.yMm, p.yMm + p.heightMm]).map((y) => y.toFixed(6)));
      expect(marks).toHaveLength(2 * (cutsX.size + cutsY.size));
      for (const { x1Mm, y1Mm, x2Mm, y2Mm } of marks) {
        const upright = x1Mm === x2Mm;
        expect((upright ? cutsX : cutsY).has((upright ? x1Mm : y1Mm).toFixed(6))).toBe(true);
        for (const [x, y] of [
          [x1Mm, y1Mm],
          [x2Mm, y2Mm],
        ] as const) {
          expect(x >= 0 && y >= 0 && x <= papers[paper].widthMm && y <= papers[paper].heightMm).toBe(true);
          expect(places.some((p) => x > p.xMm && x < p.xMm + p.widthMm && y > p.yMm && y < p.yMm + p.heightMm)).toBe(
            false,
          );
        }
      }
    }
  });

  it('keeps each part on its card, with room for the scissors, and no part over another', () => {
    const boxes = Object.entries(parts);
    for (const [name, { xMm, yMm, widthMm, heightMm }] of boxes) {
      expect([
        name,
        xMm >= 4 && yMm >= 4 && xMm + widthMm <= card.widthMm - 4 && yMm + heightMm <= card.heightMm - 3,
      ]).toEqual([name, true]);
    }
    for (const [i, [a, p]] of boxes.entries()) {
      for (const [b, q] of boxes.slice(i + 1)) {
        const apart =
          p.xMm + p.widthMm <= q.xMm ||
          q.xMm + q.widthMm <= p.xMm ||
          p.yMm + p.heightMm <= q.yMm ||
          q.yMm + q.heightMm <= p.yMm;
        expect([a, b, apart]).toEqual([a, b, true]);
      }
    }
    // Published: ISO/IEC 18004 asks for a quiet zone of four modules; version 4 has 33, so a module is about 1 mm.
    const module = parts.code.widthMm / 33;
    expect(card.widthMm - parts.code.xMm - parts.code.widthMm).toBeGreaterThanOrEqual(4 * module);
    expect(parts.code.xMm - parts.secret.xMm - parts.secret.widthMm + 2).toBeGreaterThanOrEqual(2 * module);
  });

  it('takes every card once, in order, for any number of them', () => {
    for (const count of [0, 1, 7, 8, 9, 24, 2400]) {
      const all = sheets(count);
      expect(all.flat()).toEqual(Array.from({ length: count }, (_, i) => i));
      expect(
        all.every(
          (sheet, i) =>
            sheet.length === (i < all.length - 1 ? cardsPerSheet : count - cardsPerSheet * (all.length - 1)),
        ),
      ).toBe(true);
    }
  });
});
