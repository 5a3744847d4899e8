/** The keys of a sheet, as spreadsheets have them. */
import type { Ref } from 'vue';

interface Sheet {
  scroller: Ref<HTMLElement | null>;
  /** Where an arrow or page key leads to; null: it is another key. */
  led: (event: KeyboardEvent, page: number) => [row: number, column: number] | null;
  moveTo: (row: number, column: number, extend?: boolean) => void;
  /** Whether the key was kept for later or typed into the cell. */
  taken: (event: KeyboardEvent) => boolean;
  /** By key, with Ctrl and with Alt. */
  chords: Record<string, () => void>;
  alts: Record<string, () => void>;
  /** All cells of the rows that the range is in. */
  widenRows: () => void;
  /** Opens the cell, with what was typed into it. */
  edit: (typed?: string) => void;
  clear: () => void;
}

const rowPx = 30;

export function useKeys({ scroller, led, moveTo, taken, chords, alts, widenRows, edit, clear }: Sheet) {
  return (event: KeyboardEvent): void => {
    if (event.target !== scroller.value) return;
    const { key, altKey, shiftKey } = event;
    const isCtrl = event.ctrlKey || event.metaKey;
    if (key !== 'Tab' && !isCtrl && taken(event)) return event.preventDefault();
    const page = Math.max(1, Math.floor((scroller.value?.clientHeight ?? 300) / rowPx) - 3);
    const to = altKey ? null : led(event, page);
    const act = altKey ? alts[key] : isCtrl ? chords[key] : undefined;
    if (to) moveTo(...to, shiftKey);
    else if (act) act();
    else if (altKey || isCtrl) return;
    else if (key === ' ' && shiftKey) widenRows();
    else if (key === 'Enter' || key === 'F2') edit();
    else if (key === 'Delete' || key === 'Backspace') clear();
    else if (key.length === 1) edit(key);
    else return;
    event.preventDefault();
  };
}
