/** Where one is in a file's cells: the focused one, and the range from where it was begun to it. */
import { computed, reactive, type Ref } from 'vue';
import type { Column, Range } from '#core/tabular/index';

export type Place = { row: number; column: number };

/** Rows are indices among those shown, columns the file's; `isShown` brings a cell into view. */
export function useRange(total: Ref<number>, columns: Ref<readonly Column[]>, isShown: (at: Place) => void) {
  const at = reactive<Place>({ row: 0, column: 0 });
  const from = reactive<Place>({ row: 0, column: 0 });
  const placeOf = (index: number) => columns.value.findIndex((column) => column.index === index);
  /** Rows, and places of columns as they stand. */
  const range = computed<Range>(() => {
    const places = [placeOf(from.column), placeOf(at.column)];
    return {
      top: Math.min(from.row, at.row),
      bottom: Math.max(from.row, at.row),
      left: Math.max(0, Math.min(...places)),
      right: Math.max(0, ...places),
    };
  });
  const isRange = computed(() => from.row !== at.row || from.column !== at.column);
  const isIn = (row: number, place: number) =>
    isRange.value &&
    row >= range.value.top &&
    row <= range.value.bottom &&
    place >= range.value.left &&
    place <= range.value.right;

  function moveTo(row: number, column: number, extend = false): void {
    at.row = Math.max(0, Math.min(total.value - 1, row));
    at.column = placeOf(column) >= 0 ? column : at.column;
    if (!extend) Object.assign(from, at);
    isShown(at);
  }
  const sideways = (by: number): number =>
    columns.value[Math.max(0, Math.min(columns.value.length - 1, placeOf(at.column) + by))]!.index;
  const corner = (end: boolean) => columns.value.at(end ? -1 : 0)!.index;
  /** To where an arrow or its like leads; null: the key leads nowhere. `page` is in rows. */
  function led({ key, ctrlKey, metaKey }: KeyboardEvent, page: number): [number, number] | null {
    const far = ctrlKey || metaKey;
    if (key === 'ArrowDown') return [far ? total.value - 1 : at.row + 1, at.column];
    if (key === 'ArrowUp') return [far ? 0 : at.row - 1, at.column];
    if (key === 'ArrowLeft') return [at.row, far ? corner(false) : sideways(-1)];
    if (key === 'ArrowRight') return [at.row, far ? corner(true) : sideways(1)];
    if (key === 'Home') return [0, far ? corner(false) : at.column];
    if (key === 'End') return [total.value - 1, far ? corner(true) : at.column];
    if (key === 'PageDown') return [at.row + page, at.column];
    if (key === 'PageUp') return [at.row - page, at.column];
    return null;
  }
  /** All cells of the rows, or of the columns, that the range has part in. */
  function widen(to: 'rows' | 'columns' | 'all'): void {
    if (to !== 'rows') {
      from.row = 0;
      at.row = Math.max(0, total.value - 1);
    }
    if (to !== 'columns') {
      from.column = corner(false);
      at.column = corner(true);
    }
  }
  return { at, range, isRange, isIn, moveTo, led, widen };
}
