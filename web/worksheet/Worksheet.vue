<script setup lang="ts" generic="Row extends { id: string }">
/**
 * Every list of Sheaf: dense rows drawn only where they are seen, moved through and gathered by keyboard. Rows come
 * as far as they are loaded; `total` says how many there are, and `more` asks for the next ones.
 */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, inject, nextTick, ref, watch } from 'vue';
import { partKey } from '@/kit/load';
import { useSession } from '@/stores/session';
import ColumnsMenu from './ColumnsMenu.vue';
import { type Col, useColumns } from './columns';

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
  sort: [key: string];
  act: [row: Row, key: string];
  remove: [row: Row];
}>();

const focused = defineModel<string | null>('focused', { default: null });
const scroller = ref<HTMLElement | null>(null);
const anchor = ref(0);
const count = computed(() => Math.max(props.total ?? 0, props.rows.length));
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
const at = computed(() => props.rows.findIndex(({ id }) => id === focused.value));
const uid = `ws-${Math.random().toString(36).slice(2, 8)}`;

watch([items, () => props.rows.length], () => {
  const last = items.value.at(-1);
  if (last && last.index >= props.rows.length && props.rows.length < count.value) emit('more');
});

/** Whether the place has put its cursor here, and the line where it stood last. */
let stands = false;
let place = 0;
// The cursor stands on a row whenever there are rows: they may come after the focus did, when another control has it
// by then, and a later answer may lack the row that had it.
watch(
  () => props.rows,
  (rows) => {
    if (at.value >= 0) place = at.value;
    else if (rows.length > 0 && (stands || document.activeElement === scroller.value)) moveTo(place);
  },
  { flush: 'post' },
);
watch(at, (index) => index >= 0 && (place = index));

function moveTo(index: number): void {
  const row = props.rows[Math.max(0, Math.min(props.rows.length - 1, index))];
  if (!row) return;
  focused.value = row.id;
  emit('focus', row);
  void nextTick(() =>
    virtual.value.scrollToIndex(Math.max(0, Math.min(props.rows.length - 1, index)), { align: 'auto' }),
  );
}

function onKey(event: KeyboardEvent): void {
  if (event.target !== scroller.value) return;
  const page = Math.max(1, Math.floor((scroller.value?.clientHeight ?? 300) / height.value) - 2);
  const here = at.value;
  const row = props.rows[here];
  const moves: Record<string, number> = {
    ArrowDown: here + 1,
    ArrowUp: Math.max(0, here - 1),
    Home: 0,
    End: props.rows.length - 1,
    PageDown: here + page,
    PageUp: here - page,
  };
  if (event.key in moves && !event.altKey) moveTo(moves[event.key]!);
  else if (event.key === 'Enter' && !event.ctrlKey && row) emit('open', row);
  else if (event.key === ' ' && row && props.gatherable) {
    if (event.shiftKey)
      emit('gather', props.rows.slice(Math.min(anchor.value, here), Math.max(anchor.value, here) + 1), true);
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
    emit('gather', props.rows.slice(Math.min(anchor.value, index), Math.max(anchor.value, index) + 1), true);
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
          :aria-sort="sort === col.key ? (desc ? 'descending' : 'ascending') : undefined"
        >
          <Button
            v-if="col.sortable"
            type="text"
            size="small"
            class="flush"
            tabindex="-1"
            @click="emit('sort', col.key)"
          >
            <span
              >{{ col.label }}<span v-if="sort === col.key" aria-hidden="true">{{ desc ? ' ↑' : ' ↓' }}</span></span
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
            v-if="rows[item.index]"
            :id="`${uid}-${item.index}`"
            role="row"
            class="line"
            :class="{
              focused: item.index === at,
              gathered: isGathered(rows[item.index]!),
              quiet: isQuiet(rows[item.index]!),
            }"
            :aria-rowindex="item.index + 2"
            :aria-selected="gatherable ? isGathered(rows[item.index]!) : undefined"
            :style="{
              transform: `translateY(${item.start}px)`,
              height: `${item.size}px`,
              gridTemplateColumns: template,
            }"
            @click="onClick(rows[item.index]!, item.index, $event)"
            @dblclick="emit('open', rows[item.index]!)"
          >
            <span
              v-if="gatherable"
              role="gridcell"
              class="tick"
              @click.stop="emit('gather', [rows[item.index]!], !isGathered(rows[item.index]!))"
            >
              <span class="band" aria-hidden="true" /><span class="sr">{{
                isGathered(rows[item.index]!) ? t('worksheet.gathered') : t('worksheet.notGathered')
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
              <slot :name="col.key" :row="rows[item.index]!">{{ rows[item.index]![col.key as keyof Row] }}</slot>
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
