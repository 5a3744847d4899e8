/**
 * Which card stands where. Cut through a pile of sheets and there is one stack for each place on the sheet: laid one
 * upon the other, the stacks must be in the order of the cards. So the cards of one place follow each other from
 * sheet to sheet.
 */

/** sheets[s][k]: index of the card at place k of sheet s; null: nothing stands there. `stacked`: for cutting through the pile. */
export function impose(
  count: number,
  places: number,
  { stacked, skip = 0 }: { stacked: boolean; skip?: number },
): (number | null)[][] {
  const sheets = Math.ceil((count + skip) / places);
  return Array.from({ length: sheets }, (_, sheet) =>
    Array.from({ length: places }, (_, place) => {
      const index = (stacked ? place * sheets + sheet : sheet * places + place) - skip;
      return index >= 0 && index < count ? index : null;
    }),
  );
}

/** The edge over which the paper is turned: the long one like a page of a book, the short one like a calendar. */
export type Edge = 'long' | 'short';

/**
 * Where the back of a place stands on the back of an upright sheet, and whether it is upside down there, so that a
 * card that is turned sideways reads upright on both sides.
 */
export function backOf(place: number, columns: number, places: number, edge: Edge): { place: number; turned: boolean } {
  const [row, column] = [Math.floor(place / columns), place % columns];
  const rows = places / columns;
  return edge === 'long'
    ? { place: row * columns + (columns - 1 - column), turned: false }
    : { place: (rows - 1 - row) * columns + column, turned: true };
}
