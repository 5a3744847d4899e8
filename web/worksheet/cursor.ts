/**
 * The cursor of a list: it stands on a row whenever there are rows, moves by the keyboard, and gathers what it is on.
 * It has no focus of its own: the list has, and says which row is active.
 */
import { computed, inject, nextTick, type Ref, watch } from 'vue';
import { partKey } from '@/kit/load';

export interface CursorOf<Row> {
  lines: () => Row[];
  /** Id of the row that the cursor is on. */
  focused: Ref<string | null>;
  scroller: Ref<HTMLElement | null>;
  /** Of a row, in px. */
  height: () => number;
  scrollTo: (index: number) => void;
  gatherable: () => boolean;
  isGathered: (row: Row) => boolean;
  moved: (row: Row) => void;
  opened: (row: Row) => void;
  gathered: (rows: Row[], on: boolean) => void;
  gatheredAll: () => void;
  acted: (row: Row) => void;
  removed: (row: Row) => void;
}

export function useCursor<Row extends { id: string }>(of: CursorOf<Row>) {
  const { lines, focused, scroller } = of;
  const at = computed(() => lines().findIndex(({ id }) => id === focused.value));
  /** From where Shift gathers. */
  let anchor = 0;
  /** Whether the place has put its cursor here, and the line where it stood last. */
  let stands = false;
  let place = 0;
  const within = (index: number) => Math.max(0, Math.min(lines().length - 1, index));
  const upTo = (index: number) => lines().slice(Math.min(anchor, index), Math.max(anchor, index) + 1);

  function moveTo(index: number): void {
    const row = lines()[within(index)];
    if (!row) return;
    focused.value = row.id;
    of.moved(row);
    void nextTick(() => of.scrollTo(within(index)));
  }
  // Rows may come after the focus did, when another control has it by then, and a later answer may lack the row that had it.
  watch(
    lines,
    (rows) => {
      if (at.value >= 0) place = at.value;
      else if (rows.length > 0 && (stands || document.activeElement === scroller.value)) moveTo(place);
    },
    { flush: 'post' },
  );
  watch(at, (index) => index >= 0 && (place = index));

  function onKey(event: KeyboardEvent): void {
    if (event.target !== scroller.value) return;
    const page = Math.max(1, Math.floor((scroller.value?.clientHeight ?? 300) / of.height()) - 2);
    const here = at.value;
    const row = lines()[here];
    const moves: Record<string, number> = {
      ArrowDown: here + 1,
      ArrowUp: Math.max(0, here - 1),
      Home: 0,
      End: lines().length - 1,
      PageDown: here + page,
      PageUp: here - page,
    };
    if (event.key in moves && !event.altKey) moveTo(moves[event.key]!);
    else if (event.key === 'Enter' && !event.ctrlKey && row) of.opened(row);
    else if (event.key === ' ' && row && of.gatherable()) {
      if (event.shiftKey) of.gathered(upTo(here), true);
      else {
        of.gathered([row], !of.isGathered(row));
        anchor = here;
      }
    } else if (event.key === ' ' && row) of.acted(row);
    else if (event.key === 'Delete' && row) of.removed(row);
    else if (event.key === 'a' && (event.ctrlKey || event.metaKey) && of.gatherable()) of.gatheredAll();
    else return;
    event.preventDefault();
  }
  function onClick(row: Row, index: number, event: MouseEvent): void {
    focused.value = row.id;
    of.moved(row);
    if (!of.gatherable()) return;
    if (event.shiftKey) of.gathered(upTo(index), true);
    else anchor = index;
  }
  const onFocus = () => {
    stands = true;
    if (at.value < 0) moveTo(place);
    else of.scrollTo(at.value);
  };
  // A window that is not in front takes the focus without an event, and its row should stand all the same.
  const part = inject(partKey, null);
  const focus = () => {
    const go = () => scroller.value?.focus({ preventScroll: true });
    if (part) part.whenShown(go);
    else go();
    onFocus();
  };
  return { at, moveTo, onKey, onClick, onFocus, focus };
}
