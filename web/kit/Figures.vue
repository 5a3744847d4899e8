<script setup lang="ts" generic="Row">
/**
 * A small table: of `rows`, each column by its slot (`#key="{ row, index }"`) or by the row's own value of that key.
 * Long lists, which one moves in, gathers and sorts, are for the worksheet.
 */
import type { ClassValue } from 'vue';
import { inWords } from '@/words';
import type { Column } from './figures';

withDefaults(
  defineProps<{
    columns: readonly Column<Row>[];
    rows: readonly Row[];
    rowKey: (row: Row, index: number) => string | number;
    /** What it shows, for those who don't see what is around it; `labelledby`: the heading that says so. */
    label?: string;
    labelledby?: string;
    rowClass?: (row: Row, index: number) => ClassValue;
  }>(),
  { label: undefined, labelledby: undefined, rowClass: () => undefined },
);
defineEmits<{ choose: [row: Row, index: number] }>();
const own = (row: Row, key: string) => inWords((row as Record<string, unknown>)[key]);
</script>

<template>
  <table
    class="figures [border-collapse:collapse] bg-sheet ruled text-13px"
    :aria-label="label"
    :aria-labelledby="labelledby"
  >
    <thead v-if="columns.some(({ title }) => title)">
      <tr>
        <th
          v-for="c in columns"
          :key="c.key"
          class="py-3px px-10px text-left faint-b"
          scope="col"
          :class="{ n: c.number }"
        >
          <slot :name="`head-${c.key}`"
            ><span :class="{ sr: c.untitled }">{{ c.title }}</span></slot
          >
        </th>
      </tr>
      <slot name="heads" />
    </thead>
    <tbody>
      <tr v-for="(row, i) in rows" :key="rowKey(row, i)" :class="rowClass(row, i)" @click="$emit('choose', row, i)">
        <component
          :is="c.heading ? 'th' : 'td'"
          v-for="c in columns"
          :key="c.key"
          :scope="c.heading ? 'row' : undefined"
          :class="[{ n: c.number, mono: c.mono }, c.cellClass?.(row, i)]"
          ><slot v-if="$slots[c.key]" :name="c.key" :row="row" :index="i" /><template v-else>{{
            own(row, c.key)
          }}</template></component
        >
      </tr>
      <tr v-if="rows.length === 0 && $slots.empty">
        <td :colspan="columns.length" class="quiet py-3px px-10px text-left faint-b"><slot name="empty" /></td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
thead th {
  font-weight: 400;
  color: var(--quiet);
  white-space: nowrap;
}
thead th::first-letter {
  text-transform: uppercase;
}
tbody th {
  font-weight: 400;
}
.n {
  text-align: right;
}
</style>
