<script setup lang="ts" generic="Row extends { id: string }">
/**
 * Every list of Sheaf: dense rows drawn only where they are seen, moved through and gathered by keyboard. Rows come
 * as far as they are loaded; `total` says how many there are, and `more` asks for the next ones.
 */
import { inWords, t } from '@/words';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, ref, watch } from 'vue';
import { useSession } from '@/stores/session';
import ColumnsMenu from './ColumnsMenu.vue';
import { type Col, useColumns } from './columns';
import { sayWhole } from './clipped';
import { useCursor } from './cursor';
import HeadRow from './HeadRow.vue';
import { type Sorted, useSorting } from './sorting';

export type { Col };
export interface WorksheetHandle {
  focus: () => void;
  moveTo: (index: number) => void;
}
const props = withDefaults(
  defineProps<{
    rows: Row[];
    total?: number;
    columns: Col[];
    label: string;
    /** Under which the person's own columns are kept; without it they are as they are. */
    name?: string;
    rowHeight?: number;
    gatherable?: boolean;
    isGathered?: (row: Row) => boolean;
    isQuiet?: (row: Row) => boolean;
    sort?: string;
    /** The second column by which rows are sorted, chosen with Shift. */
    then?: string;
    desc?: boolean;
    empty?: string;
    /** A click opens the row; elsewhere it only moves there. */
    opensAtOnce?: boolean;
  }>(),
  {
    rowHeight: 30,
    total: undefined,
    name: undefined,
    gatherable: false,
    isGathered: () => false,
    isQuiet: () => false,
    sort: undefined,
    then: undefined,
    desc: false,
    empty: t('worksheet.nothingHere'),
    opensAtOnce: false,
  },
);
const emit = defineEmits<{
  focus: [row: Row];
  open: [row: Row];
  gather: [rows: Row[], on: boolean];
  gatherAll: [];
  more: [];
  sort: [key: string, second: boolean];
  act: [row: Row, key: string];
  remove: [row: Row];
}>();

// Columns that say how are sorted by here, the others by whoever has all the rows.
const own = useSorting(
  props.name ?? props.label,
  () => props.rows,
  () => props.columns,
);
const { lines } = own;
function sorted(key: string): Sorted | null {
  if (props.sort === key) return { place: 0, desc: props.desc };
  if (props.then === key) return { place: 1, desc: props.desc };
  return own.sorted(key);
}
const sortBy = (col: Col, more: boolean) => (col.by ? own.sortBy(col.key, more) : emit('sort', col.key, more));

const focused = defineModel<string | null>('focused', { default: null });
const scroller = ref<HTMLElement | null>(null);
const count = computed(() => Math.max(props.total ?? 0, lines.value.length));
const session = useSession();
const height = computed(() => props.rowHeight + (session.preferences.density === 'roomy' ? 8 : 0));
const virtual = useVirtualizer(
  computed(() => ({
    count: count.value,
    getScrollElement: () => scroller.value,
    estimateSize: () => height.value,
    overscan: 12,
    scrollPaddingEnd: 30,
  })),
);
const items = computed(() => virtual.value.getVirtualItems());
const cols = useColumns(props.name, () => props.columns);
const shown = computed(() => cols.shown.value);
const template = computed(() => `${props.gatherable ? '20px ' : ''}${shown.value.map(cols.trackOf).join(' ')}`);
const uid = `ws-${Math.random().toString(36).slice(2, 8)}`;

watch([items, () => lines.value.length], () => {
  const last = items.value.at(-1);
  if (last && last.index >= lines.value.length && lines.value.length < count.value) emit('more');
});

const { at, moveTo, onKey, onClick, onFocus, focus } = useCursor<Row>({
  lines: () => lines.value,
  focused,
  scroller,
  height: () => height.value,
  scrollTo: (index) => virtual.value.scrollToIndex(index, { align: 'auto' }),
  gatherable: () => props.gatherable,
  isGathered: (row) => props.isGathered(row),
  moved: (row) => emit('focus', row),
  opened: (row) => emit('open', row),
  gathered: (rows, on) => emit('gather', rows, on),
  gatheredAll: () => emit('gatherAll'),
  acted: (row) => emit('act', row, ' '),
  removed: (row) => emit('remove', row),
});
function clicked(row: Row, index: number, event: MouseEvent): void {
  onClick(row, index, event);
  if (props.opensAtOnce) emit('open', row);
}
defineExpose({ focus, moveTo });
</script>

<template>
  <div class="relative h-full min-h-0 flex flex-col bg-sheet" :class="{ named: name }">
    <div
      ref="scroller"
      class="scroller flex-1 overflow-auto min-h-0 relative"
      role="grid"
      tabindex="0"
      :aria-label="label"
      :aria-rowcount="count + 1"
      :aria-multiselectable="gatherable || undefined"
      :aria-activedescendant="at >= 0 && items.some((i) => i.index === at) ? `${uid}-${at}` : undefined"
      @keydown="onKey"
      @focus="onFocus"
    >
      <HeadRow
        class="headings grid gap-x-12px py-0 px-8px items-center"
        :columns="shown"
        :sorted="sorted"
        :gatherable="gatherable"
        :resizable="name !== undefined"
        :style="{ gridTemplateColumns: template }"
        @sort="sortBy"
        @resize="(key, event, width) => cols.resize(key, width, event)"
      />
      <div role="rowgroup" class="body relative min-h-40px" :style="{ height: `${virtual.getTotalSize()}px` }">
        <template v-for="item in items" :key="item.index">
          <div
            v-if="lines[item.index]"
            :id="`${uid}-${item.index}`"
            role="row"
            class="line grid gap-x-12px py-0 px-8px items-center absolute left-0 right-0 faint-b cursor-default"
            :class="{
              focused: item.index === at,
              gathered: isGathered(lines[item.index]!),
              quiet: isQuiet(lines[item.index]!),
            }"
            :aria-rowindex="item.index + 2"
            :aria-selected="gatherable ? isGathered(lines[item.index]!) : undefined"
            :style="{
              transform: `translateY(${item.start}px)`,
              height: `${item.size}px`,
              gridTemplateColumns: template,
            }"
            @click="clicked(lines[item.index]!, item.index, $event)"
            @dblclick="emit('open', lines[item.index]!)"
          >
            <span
              v-if="gatherable"
              role="gridcell"
              class="h-full flex items-center cursor-pointer"
              @click.stop="emit('gather', [lines[item.index]!], !isGathered(lines[item.index]!))"
            >
              <span class="band block w-10px h-14px ruled" aria-hidden="true" /><span class="sr">{{
                isGathered(lines[item.index]!) ? t('worksheet.gathered') : t('worksheet.notGathered')
              }}</span>
            </span>
            <span
              v-for="col in shown"
              :key="col.key"
              role="gridcell"
              class="clip"
              :class="{ 'text-right': col.align, mono: col.mono }"
              @mouseenter="sayWhole"
            >
              <slot :name="col.key" :row="lines[item.index]!">{{
                inWords(lines[item.index]![col.key as keyof Row])
              }}</slot>
            </span>
          </div>
          <div
            v-else
            class="line waiting grid gap-x-12px py-0 px-8px items-center absolute left-0 right-0 faint-b cursor-default c-quiet"
            role="row"
            :aria-rowindex="item.index + 2"
            :style="{ transform: `translateY(${item.start}px)`, height: `${item.size}px` }"
          >
            <span role="gridcell">…</span>
          </div>
        </template>
        <div v-if="count === 0" role="row" class="py-24px px-16px">
          <span role="gridcell" class="quiet">{{ empty }}</span>
        </div>
      </div>
    </div>
    <div v-if="name" class="columns absolute top-2px right-2px z-3"><ColumnsMenu :cols="cols" :of="label" /></div>
  </div>
</template>

<style scoped>
.scroller:focus-visible {
  outline-offset: -2px;
  box-shadow: none;
}
/* The row is outlined, not the whole list. */
.scroller:focus-visible:has(.focused) {
  outline: none;
}
.named :is(.headings, .line) {
  padding-right: 34px;
}
.line:hover {
  background: var(--fog);
}
.line.gathered {
  background: var(--straw-wash);
}
.scroller .line.focused {
  box-shadow: inset 3px 0 0 var(--ink);
  background: var(--fog);
}
.scroller .line.focused.gathered {
  background: var(--straw-wash);
}
.scroller:focus .line.focused {
  box-shadow: inset 0 0 0 2px var(--straw);
}
.line.quiet > * {
  color: var(--quiet);
  text-decoration: line-through;
}
.gathered .band {
  background: var(--straw);
  border-color: var(--ink);
}
</style>
