/** Sorting of a list whose rows are all here: by any column that says how, by several with Shift. */
import { computed, type ComputedRef, ref, watch } from 'vue';
import { type Grade, grades } from '#core/tabular/values';
import { locale } from '@/words';
import { type Col, sortsLeft } from './columns';

/** How a column is sorted by: its place among those that are, and its direction. */
export interface Sorted {
  place: number;
  desc: boolean;
}

const collator = new Intl.Collator(locale, { numeric: true });
const compared = (a: string | number, b: string | number): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : collator.compare(String(a), String(b));

/** `name`: under which the sorting stays while the application is open, so that coming back finds it. */
export function useSorting<Row>(name: string, rows: () => Row[], columns: () => Col[]) {
  /** The first one counts first. */
  const by = ref<{ key: string; desc: boolean }[]>(sortsLeft.get(name) ?? []);
  watch(by, (now) => sortsLeft.set(name, now));
  const lines: ComputedRef<Row[]> = computed(() => {
    const ranks = by.value.flatMap(({ key, desc }) => {
      const how = columns().find((col) => col.key === key)?.by;
      if (!how) return [];
      const value = (row: Row) => (row as Record<string, unknown>)[key] as string | number | null;
      const rank = (row: Row) => grades.indexOf(value(row) as Grade);
      return { of: how === 'grade' ? rank : (row: Row) => value(row) ?? '', sign: desc ? -1 : 1 };
    });
    if (ranks.length === 0) return rows();
    return [...rows()].sort((a, b) => {
      for (const { of, sign } of ranks) {
        const order = compared(of(a), of(b));
        if (order !== 0) return order * sign;
      }
      return 0;
    });
  });
  const sorted = (key: string): Sorted | null => {
    const place = by.value.findIndex((one) => one.key === key);
    return place < 0 ? null : { place, desc: by.value[place]!.desc };
  };
  /** `more`: besides the columns that it is sorted by already. */
  function sortBy(key: string, more: boolean): void {
    const known = by.value.find((one) => one.key === key);
    const turned = { key, desc: known ? !known.desc : false };
    if (!more) by.value = [turned];
    else if (known) by.value = by.value.map((one) => (one === known ? turned : one));
    else by.value = [...by.value, turned];
  }
  return { lines, sorted, sortBy };
}
