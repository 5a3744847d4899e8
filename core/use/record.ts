/** A record of use, as statements and lists are read into. */
export interface UseRecord {
  /** By username, number or address. */
  who: string;
  /** ISO 8601 in UTC. */
  at: string;
  seconds: number;
  /** The material, by its address. */
  address: string | null;
  finished: boolean;
  /** Share of the points, 0 to 1. */
  share: number | null;
  /** What it tells of skills. */
  levels: { skill: string; band: Band }[];
  /** Words, or other small things that are asked for one by one: missed, or known this time. */
  words: { word: string; known: boolean }[];
}
/** So long names of skills and words are kept; characters. */
export const mostLetters = 120;
/** 1: not yet, 2: nearly, 3: there. */
export type Band = 1 | 2 | 3;
export const bandWords: Record<Band, string> = { 1: 'not yet', 2: 'nearly', 3: 'there' };

/** The level of a share of the points: by thirds. */
export const bandOf = (share: number): Band => (share < 1 / 3 ? 1 : share < 2 / 3 ? 2 : 3);
