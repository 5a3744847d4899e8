<script setup lang="ts" generic="Row extends { id: string }">
/**
 * Every list of Sheaf: dense rows drawn only where they are seen, moved through and gathered by keyboard. Rows come
 * as far as they are loaded; `total` says how many there are, and `more` asks for the next ones.
 */
import { locale, t } from '@/words';
import { Button } from 'ant-design-vue';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, inject, nextTick, ref, watch } from 'vue';
import { partKey } from '@/kit/load';
import { useSession } from '@/stores/session';
import ColumnsMenu from './ColumnsMenu.vue';
import { type Col, sortsLeft, useColumns } from './columns';
import { type Grade, grades } from '#core/tabular/values';

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

/** Columns that the list sorts by itself, since all of its rows are here: the first one counts first. */
const own = ref<{ key: string; desc: boolean }[]>(sortsLeft.get(props.name ?? props.label) ?? []);
watch(own, (now) => sortsLeft.set(props.name ?? props.label, now));
const collator = new Intl.Collator(locale, { numeric: true });
const compared = (a: string | number, b: string | number): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : collator.compare(String(a), String(b));
const lines = computed(() => {
  const columns = own.value.flatMap(({ key, desc }) => {
    const by = props.columns.find((col) => col.key === key)?.by;
    if (!by) return [];
    const value = (row: Row) => (row as Record<string, unknown>)[key] as string | number | null;
    const rank = (row: Row) => grades.indexOf(value(row) as Grade);
    return { by: by === 'grade' ? rank : (row: Row) => value(row) ?? '', sign: desc ? -1 : 1 };
  });
  if (columns.length === 0) return props.rows;
  return [...props.rows].sort((a, b) => {
    for (const { by, sign } of columns) {
      const order = compared(by(a), by(b));
      if (order !== 0) return order * sign;
    }
    return 0;
  });
});
/** How a column is sorted by: its place among those that are, and its direction. */
function sorted(key: string): { place: number; desc: boolean } | null {
  if (props.sort === key) return { place: 0, desc: props.desc };
  if (props.then === key) return { place: 1, desc: props.desc };
  const place = own.value.findIndex((one) => one.key === key);
  return place < 0 ? null : { place, desc: own.value[place]!.desc };
}
function sortBy(col: Col, more: boolean): void {
  if (!col.by) return emit('sort', col.key, more);
  const known = own.value.find(({ key }) => key === col.key);
  const turned = { key: col.key, desc: known ? !known.desc : false };
  if (!more) own.value = [turned];
  else if (known) own.value = own.value.map((one) => (one === known ? turned : one));
  else own.value = [...own.value, turned];
}

const focused = defineModel<string | null>('focused', { default: null });
const scroller = ref<HTMLElement | null>(null);
const anchor = ref(0);
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
function grip(key: string, event: MouseEvent | TouchEvent): void {
  const cell = (event.target as HTMLElement).closest<HTMLElement>('[role=columnheader]');
  if (cell) cols.resize(key, cell.offsetWidth, event);
}
const at = computed(() => lines.value.findIndex(({ id }) => id === focused.value));
const uid = `ws-${Math.random().toString(36).slice(2, 8)}`;

watch([items, () => lines.value.length], () => {
  const last = items.value.at(-1);
  if (last && last.index >= lines.value.length && lines.value.length < count.value) emit('more');
});

/** Whether the place has put its cursor here, and the line where it stood last. */
let stands = false;
let place = 0;
// The cursor stands on a row whenever there are rows: they may come after the focus did, when another control has it
// by then, and a later answer may lack the row that had it.
watch(
  () => lines.value,
  (rows) => {
    if (at.value >= 0) place = at.value;
    else if (rows.length > 0 && (stands || document.activeElement === scroller.value)) moveTo(place);
  },
  { flush: 'post' },
);
watch(at, (index) => index >= 0 && (place = index));

function moveTo(index: number): void {
  const row = lines.value[Math.max(0, Math.min(lines.value.length - 1, index))];
  if (!row) return;
  focused.value = row.id;
  emit('focus', row);
  void nextTick(() =>
    virtual.value.scrollToIndex(Math.max(0, Math.min(lines.value.length - 1, index)), { align: 'auto' }),
  );
}

function onKey(event: KeyboardEvent): void {
  if (event.target !== scroller.value) return;
  const page = Math.max(1, Math.floor((scroller.value?.clientHeight ?? 300) / height.value) - 2);
  const here = at.value;
  const row = lines.value[here];
  const moves: Record<string, number> = {
    ArrowDown: here + 1,
    ArrowUp: Math.max(0, here - 1),
    Home: 0,
    End: lines.value.length - 1,
    PageDown: here + page,
    PageUp: here - page,
  };
  if (event.key in moves && !event.altKey) moveTo(moves[event.key]!);
  else if (event.key === 'Enter' && !event.ctrlKey && row) emit('open', row);
  else if (event.key === ' ' && row && props.gatherable) {
    if (event.shiftKey)
      emit('gather', lines.value.slice(Math.min(anchor.value, here), Math.max(anchor.value, here) + 1), true);
    else {
      emit('gather', [row], !props.isGathered(row));
      anchor.value = here;
    }
  } else if (event.key === ' ' && row) emit('act', row, ' ');
  else if (event.key === 'Delete' && row) emit('remove', row);
  else if (event.key === 'a' && (event.ctrlKey || event.metaKey) && props.gatherable) emit('gatherAll');
  else return;
  event.preventDefault();
}

function onClick(row: Row, index: number, event: MouseEvent): void {
  focused.value = row.id;
  emit('focus', row);
  if (props.opensAtOnce) emit('open', row);
  if (!props.gatherable) return;
  if (event.shiftKey)
    emit('gather', lines.value.slice(Math.min(anchor.value, index), Math.max(anchor.value, index) + 1), true);
  else anchor.value = index;
}
/** A cell that is cut off says the whole under the pointer. */
function sayWhole({ currentTarget }: MouseEvent): void {
  const cell = currentTarget as HTMLElement;
  if (cell.scrollWidth > cell.clientWidth) cell.title = cell.innerText;
  else cell.removeAttribute('title');
}
const onFocus = () => {
  stands = true;
  if (at.value < 0) moveTo(place);
  else virtual.value.scrollToIndex(at.value, { align: 'auto' });
};
// A window that is not in front takes the focus without an event, and its row should stand all the same.
const part = inject(partKey, null);
const focus = () => {
  const go = () => scroller.value?.focus({ preventScroll: true });
  if (part) part.whenShown(go);
  else go();
  onFocus();
};
defineExpose({ focus, moveTo });
</script>

<template>
  <div class="worksheet" :class="{ named: name }">
    <div
      ref="scroller"
      class="scroller"
      role="grid"
      tabindex="0"
      :aria-label="label"
      :aria-rowcount="count + 1"
      :aria-multiselectable="gatherable || undefined"
      :aria-activedescendant="at >= 0 && items.some((i) => i.index === at) ? `${uid}-${at}` : undefined"
      @keydown="onKey"
      @focus="onFocus"
    >
      <div class="head" role="row" aria-rowindex="1" :style="{ gridTemplateColumns: template }">
        <span v-if="gatherable" role="columnheader"
          ><span class="sr">{{ t('worksheet.gathered') }}</span></span
        >
        <span
          v-for="col in shown"
          :key="col.key"
          role="columnheader"
          class="clip col"
          :class="col.align"
          :aria-sort="sorted(col.key)?.place === 0 ? (sorted(col.key)!.desc ? 'descending' : 'ascending') : undefined"
        >
          <Button
            v-if="col.sortable || col.by"
            type="text"
            size="small"
            class="flush"
            tabindex="-1"
            :title="t('worksheet.shiftSortsBySeveral')"
            @click="sortBy(col, ($event as MouseEvent).shiftKey)"
          >
            <span
              >{{ col.label
              }}<span v-if="sorted(col.key)" aria-hidden="true"
                >{{ ' ' }}{{ sorted(col.key)!.place > 0 ? sorted(col.key)!.place + 1 : ''
                }}{{ sorted(col.key)!.desc ? '↑' : '↓' }}</span
              ></span
            >
          </Button>
          <template v-else-if="col.label">{{ col.label }}</template>
          <span v-else class="sr">{{ t('worksheet.actions') }}</span>
          <i
            v-if="name"
            class="grip"
            aria-hidden="true"
            @mousedown.stop.prevent="grip(col.key, $event)"
            @touchstart.stop="grip(col.key, $event)"
            @click.stop
          />
        </span>
      </div>
      <div role="rowgroup" class="body" :style="{ height: `${virtual.getTotalSize()}px` }">
        <template v-for="item in items" :key="item.index">
          <div
            v-if="lines[item.index]"
            :id="`${uid}-${item.index}`"
            role="row"
            class="line"
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
            @click="onClick(lines[item.index]!, item.index, $event)"
            @dblclick="emit('open', lines[item.index]!)"
          >
            <span
              v-if="gatherable"
              role="gridcell"
              class="tick"
              @click.stop="emit('gather', [lines[item.index]!], !isGathered(lines[item.index]!))"
            >
              <span class="band" aria-hidden="true" /><span class="sr">{{
                isGathered(lines[item.index]!) ? t('worksheet.gathered') : t('worksheet.notGathered')
              }}</span>
            </span>
            <span
              v-for="col in shown"
              :key="col.key"
              role="gridcell"
              class="clip"
              :class="[col.align, { mono: col.mono }]"
              @mouseenter="sayWhole"
            >
              <slot :name="col.key" :row="lines[item.index]!">{{ lines[item.index]![col.key as keyof Row] }}</slot>
            </span>
          </div>
          <div
            v-else
            class="line waiting"
            role="row"
            :aria-rowindex="item.index + 2"
            :style="{ transform: `translateY(${item.start}px)`, height: `${item.size}px` }"
          >
            <span role="gridcell">…</span>
          </div>
        </template>
        <div v-if="count === 0" role="row" class="none">
          <span role="gridcell" class="quiet">{{ empty }}</span>
        </div>
      </div>
    </div>
    <div v-if="name" class="columns"><ColumnsMenu :cols="cols" :of="label" /></div>
  </div>
</template>

<style scoped>
.worksheet {
  height: 100%;
  min-height: 0;
  display: flex;
  flex-direction: column;
  background: var(--sheet);
}
.scroller {
  flex: 1;
  overflow: auto;
  min-height: 0;
  position: relative;
}
.scroller:focus-visible {
  outline-offset: -2px;
  box-shadow: none;
}
/* The row is outlined, not the whole list. */
.scroller:focus-visible:has(.focused) {
  outline: none;
}
.head,
.line {
  display: grid;
  column-gap: 12px;
  padding: 0 8px;
  align-items: center;
}
.named :is(.head, .line) {
  padding-right: 34px;
}
.head {
  position: sticky;
  top: 0;
  z-index: 2;
  height: 28px;
  background: var(--fog);
  color: var(--quiet);
  font-size: 13px;
  border-bottom: 1px solid var(--rule);
}
.col {
  position: relative;
  align-self: center;
  font-size: 13px;
}
.col .ant-btn {
  color: inherit;
}
.grip {
  position: absolute;
  inset: 0 -2px 0 auto;
  width: 7px;
  cursor: col-resize;
  border-right: 1px solid var(--rule);
}
.worksheet {
  position: relative;
}
.columns {
  position: absolute;
  top: 2px;
  right: 2px;
  z-index: 3;
}
.body {
  position: relative;
  min-height: 40px;
}
.line {
  position: absolute;
  left: 0;
  right: 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
  cursor: default;
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
.right {
  text-align: right;
}
.tick {
  height: 100%;
  display: flex;
  align-items: center;
  cursor: pointer;
}
.band {
  display: block;
  width: 10px;
  height: 14px;
  border: 1px solid var(--rule);
}
.gathered .band {
  background: var(--straw);
  border-color: var(--ink);
}
.none {
  padding: 24px 16px;
}
.waiting {
  color: var(--quiet);
}
</style>
