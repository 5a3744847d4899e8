/**
 * A sheet of login cards: eight cards of one size in two columns and four rows, centered on the paper, with cut
 * marks in the margin. All lengths are millimetres from the top left corner. The same numbers draw the preview
 * and the print.
 */
export type Paper = 'A4' | 'Letter';

/** Published: ISO 216 (A4), ANSI/ASME Y14.1 (Letter). */
export const papers: Record<Paper, { widthMm: number; heightMm: number }> = {
  A4: { widthMm: 210, heightMm: 297 },
  Letter: { widthMm: 215.9, heightMm: 279.4 },
};

export const card = { widthMm: 90, heightMm: 64, columns: 2, rows: 4 };
export const cardsPerSheet = card.columns * card.rows;

export interface Box {
  xMm: number;
  yMm: number;
  widthMm: number;
  heightMm: number;
}
export interface Line {
  x1Mm: number;
  y1Mm: number;
  x2Mm: number;
  y2Mm: number;
}

/** Where the eight cards stand, row by row. */
export function slots(paper: Paper): Box[] {
  const { widthMm, heightMm } = papers[paper];
  const left = (widthMm - card.columns * card.widthMm) / 2;
  const top = (heightMm - card.rows * card.heightMm) / 2;
  return Array.from({ length: cardsPerSheet }, (_, i) => ({
    xMm: left + (i % card.columns) * card.widthMm,
    yMm: top + Math.floor(i / card.columns) * card.heightMm,
    widthMm: card.widthMm,
    heightMm: card.heightMm,
  }));
}

/** Cut marks: short lines in the margin at every edge, which no card's print touches. */
export function cutMarks(paper: Paper): Line[] {
  const { widthMm, heightMm } = papers[paper];
  const [first] = slots(paper) as [Box];
  const length = 5;
  const gap = 2;
  const marks: Line[] = [];
  for (let column = 0; column <= card.columns; column++) {
    const x = first.xMm + column * card.widthMm;
    for (const [y, direction] of [
      [first.yMm - gap, -1],
      [heightMm - first.yMm + gap, 1],
    ] as const) {
      marks.push({ x1Mm: x, y1Mm: y, x2Mm: x, y2Mm: y + direction * length });
    }
  }
  for (let row = 0; row <= card.rows; row++) {
    const y = first.yMm + row * card.heightMm;
    for (const [x, direction] of [
      [first.xMm - gap, -1],
      [widthMm - first.xMm + gap, 1],
    ] as const) {
      marks.push({ x1Mm: x, y1Mm: y, x2Mm: x + direction * length, y2Mm: y });
    }
  }
  return marks;
}

/** Where things stand on a card, from its own corner. `sizes` are the largest and smallest type sizes in points. */
export const parts = {
  name: { xMm: 5, yMm: 5, widthMm: 80, heightMm: 9, sizes: [16, 8] },
  place: { xMm: 5, yMm: 14.5, widthMm: 80, heightMm: 5, sizes: [9.5, 6.5] },
  username: { xMm: 5, yMm: 28, widthMm: 46, heightMm: 8, sizes: [14, 6.5] },
  secret: { xMm: 5, yMm: 42, widthMm: 46, heightMm: 10, sizes: [14, 6.5] },
  foot: { xMm: 5, yMm: 56, widthMm: 46, heightMm: 4, sizes: [7, 6] },
  code: { xMm: 53, yMm: 25, widthMm: 32, heightMm: 32 },
} as const;

/** Sheets of at most eight, in order: sheets[k][i] is the index of the card in slot i of sheet k. */
export function sheets(count: number): number[][] {
  return Array.from({ length: Math.ceil(count / cardsPerSheet) }, (_, sheet) =>
    Array.from({ length: Math.min(cardsPerSheet, count - sheet * cardsPerSheet) }, (_, i) => sheet * cardsPerSheet + i),
  );
}

export const pointsPerMm = 72 / 25.4;
