/** Papers and the grids into which they are cut: how large a piece is, how many stand in a row, where each stands. */
export type Paper = 'A4' | 'Letter';

/** Published: ISO 216 (A4), ANSI/ASME Y14.1 (Letter). */
export const papers: Record<Paper, { widthMm: number; heightMm: number }> = {
  A4: { widthMm: 210, heightMm: 297 },
  Letter: { widthMm: 215.9, heightMm: 279.4 },
};
export const pointsPerMm = 72 / 25.4;

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

export const layouts = ['cards', 'badges', 'strips', 'letters', 'labels', 'list'] as const;
export type Layout = (typeof layouts)[number];
/** Those that sign somebody in: printing them makes codes and is remembered as a card. */
export const isCard = (layout: Layout): boolean => layout !== 'labels' && layout !== 'list';
/** Those of many pieces to a sheet. */
export type PieceLayout = Exclude<Layout, 'list' | 'letters'>;
export const hasPieces = (layout: Layout): layout is PieceLayout => layout !== 'list' && layout !== 'letters';

export interface Piece {
  widthMm: number;
  heightMm: number;
  columns: number;
  /** Between two pieces; 0: one cut parts them. */
  gapMm: number;
}
/** Badges: published, ISO/IEC 7810 ID-1. */
export const pieces: Record<PieceLayout, Piece> = {
  cards: { widthMm: 90, heightMm: 64, columns: 2, gapMm: 0 },
  badges: { widthMm: 85.6, heightMm: 53.98, columns: 2, gapMm: 0 },
  strips: { widthMm: 190, heightMm: 26, columns: 1, gapMm: 0 },
  labels: { widthMm: 63, heightMm: 33, columns: 3, gapMm: 2 },
};

/** Printers do not reach the outer edge of the paper; common practice. */
const edgeMm = 5;

export function rowsOf({ heightMm, gapMm }: Piece, paper: Paper): number {
  return Math.floor((papers[paper].heightMm - 2 * edgeMm + gapMm) / (heightMm + gapMm));
}

/** Where the pieces of a sheet stand, row by row, in the middle of the paper. */
export function slots(piece: Piece, paper: Paper): Box[] {
  const { widthMm, heightMm, columns, gapMm } = piece;
  const rows = rowsOf(piece, paper);
  const left = (papers[paper].widthMm - columns * widthMm - (columns - 1) * gapMm) / 2;
  const top = (papers[paper].heightMm - rows * heightMm - (rows - 1) * gapMm) / 2;
  return Array.from({ length: columns * rows }, (_, i) => ({
    xMm: left + (i % columns) * (widthMm + gapMm),
    yMm: top + Math.floor(i / columns) * (heightMm + gapMm),
    widthMm,
    heightMm,
  }));
}

/** Short lines in the margin at both ends of every cut, which no piece's print touches. Labels are cut already. */
export function cutMarks(piece: Piece, paper: Paper): Line[] {
  if (piece.gapMm > 0) return [];
  const { widthMm, heightMm } = papers[paper];
  const [first] = slots(piece, paper) as [Box];
  const rows = rowsOf(piece, paper);
  const gap = 1.5;
  const long = (margin: number) => Math.min(5, margin - gap - 1);
  const marks: Line[] = [];
  for (let column = 0; column <= piece.columns; column++) {
    const x = first.xMm + column * piece.widthMm;
    const length = long(first.yMm);
    for (const [y, way] of [
      [first.yMm - gap, -1],
      [heightMm - first.yMm + gap, 1],
    ] as const)
      marks.push({ x1Mm: x, y1Mm: y, x2Mm: x, y2Mm: y + way * length });
  }
  for (let row = 0; row <= rows; row++) {
    const y = first.yMm + row * piece.heightMm;
    const length = long(first.xMm);
    for (const [x, way] of [
      [first.xMm - gap, -1],
      [widthMm - first.xMm + gap, 1],
    ] as const)
      marks.push({ x1Mm: x, y1Mm: y, x2Mm: x + way * length, y2Mm: y });
  }
  return marks;
}
