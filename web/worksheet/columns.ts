/**
 * The columns of one list as the person wants them: which are shown, in which order, how wide. Kept on the server by
 * the name of the list; a list without a name has its columns as they are.
 */
import {
  columnOrderingFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  tableFeatures,
  useTable,
} from '@tanstack/vue-table';
import { useDebounceFn } from '@vueuse/core';
import { computed, type MaybeRefOrGetter, toValue, watch } from 'vue';
import type { ListColumns } from '#core/preferences/index';
import { useSession } from '@/stores/session';

export interface Col<K extends string = string> {
  key: K;
  label: string;
  /** CSS grid track, until somebody makes it wider or narrower. */
  width: string;
  mono?: boolean;
  align?: 'right';
  /** The place sorts by it when asked. */
  sortable?: boolean;
  /** The list sorts by it itself, all of its rows being here: by what the row has under the key, or by grades from youngest to oldest. */
  by?: 'value' | 'grade';
}

/** By which columns a list was sorted when it was left, by its name. */
export const sortsLeft = new Map<string, { key: string; desc: boolean }[]>();

const features = tableFeatures({
  columnOrderingFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
});
const asIs: ListColumns = { order: [], hidden: [], widths: {} };
const narrowest = 40;
export function useColumns(name: string | undefined, columns: MaybeRefOrGetter<readonly Col[]>) {
  const session = useSession();
  const kept = name === undefined ? undefined : session.preferences.columns[name];
  const { order, hidden, widths } = kept ?? asIs;
  const table = useTable({
    features,
    columns: computed(() => toValue(columns).map(({ key }) => ({ id: key, minSize: narrowest }))),
    data: [] as never[],
    columnResizeMode: 'onChange' as const,
    initialState: {
      columnOrder: order,
      columnVisibility: Object.fromEntries(hidden.map((key) => [key, false])),
      columnSizing: widths,
    },
  });
  const now = computed<ListColumns>(() => ({
    order: table.atoms.columnOrder.get(),
    hidden: Object.entries(table.atoms.columnVisibility.get()).flatMap(([key, is]) => (is ? [] : key)),
    widths: Object.fromEntries(
      Object.entries(table.atoms.columnSizing.get()).map(([key, width]) => [key, Math.round(width)]),
    ),
  }));
  const send = useDebounceFn(async () => {
    if (name !== undefined) await session.prefer({ columns: { [name]: now.value } });
  }, 400);
  // Somebody drags for a while.
  watch(now, () => void send().catch(() => {}));

  const inOrder = computed(() => {
    const all = new Map(toValue(columns).map((col) => [col.key, col]));
    const chosen = now.value.order.flatMap((key) => all.get(key) ?? []);
    return [...chosen, ...[...all.values()].filter((col) => !chosen.includes(col))];
  });
  const shown = computed(() => inOrder.value.filter(({ key }) => !now.value.hidden.includes(key)));
  const trackOf = ({ key, width }: Col): string =>
    now.value.widths[key] === undefined ? width : `${now.value.widths[key]}px`;

  return {
    /** All, and those that are shown, in the order that the person chose. */
    all: inOrder,
    shown,
    trackOf,
    isShown: (key: string) => !now.value.hidden.includes(key),
    show: (key: string, is: boolean) => table.setColumnVisibility((all) => ({ ...all, [key]: is })),
    /** One place to the left or the right. */
    move(key: string, by: -1 | 1): void {
      const keys = inOrder.value.map((col) => col.key);
      const from = keys.indexOf(key);
      const to = from + by;
      if (from < 0 || to < 0 || to >= keys.length) return;
      keys.splice(to, 0, ...keys.splice(from, 1));
      table.setColumnOrder(keys);
    },
    /** Follows the pointer from where a handle was taken; `width`: of the column as it is drawn now, in pixels. */
    resize(key: string, width: number, event: MouseEvent | TouchEvent): void {
      table.setColumnSizing((all) => ({ ...all, [key]: width }));
      table
        .getFlatHeaders()
        .find(({ column }) => column.id === key)
        ?.getResizeHandler()(event);
    },
    /** Wider or narrower by so many pixels. */
    widen: (key: string, width: number, by: number) =>
      table.setColumnSizing((all) => ({ ...all, [key]: Math.max(narrowest, width + by) })),
    reset(): void {
      table.setColumnOrder([]);
      table.setColumnVisibility({});
      table.setColumnSizing({});
    },
    isChanged: computed(() => JSON.stringify(now.value) !== JSON.stringify(asIs)),
  };
}
