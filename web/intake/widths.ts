/** Widths of the sheet's columns, so that heads and rows stand in line. */
import { computed, type Ref } from 'vue';
import type { Field } from '#core/tabular/fields';
import type { Column } from '#core/tabular/index';

/** In pixels, by what the column is. */
const widths: Partial<Record<Field, number>> = {
  number: 92,
  birthDate: 116,
  grade: 76,
  className: 84,
  familyName: 136,
  givenName: 120,
  middleName: 110,
  fullName: 180,
  email: 172,
  guardianEmail: 172,
  schoolName: 140,
};

/** `gutter` and `least` (of all columns together) in pixels; `template` for a grid. */
export function useWidths(columns: Ref<readonly Column[]>, rows: Ref<number>) {
  // As wide as a mark and the last line's number are.
  const gutter = computed(() => Math.max(52, 28 + 8 * String(rows.value + 20).length));
  // No narrower than its heading.
  const each = computed(() =>
    columns.value.map(({ field, header }) => Math.min(200, Math.max(widths[field] ?? 92, header.length * 7 + 58))),
  );
  return {
    gutter,
    least: computed(() => each.value.reduce((sum, width) => sum + width, gutter.value)),
    template: computed(() => `${gutter.value}px ${each.value.map((width) => `minmax(${width}px, 1fr)`).join(' ')}`),
  };
}
