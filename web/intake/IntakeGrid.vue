<script setup lang="ts">
/**
 * The cells of a file, with the habits of a spreadsheet: header pickers, a gutter that marks problem rows, ranges that
 * are copied, pasted and filled, cells that are corrected in place; below it, in words, what is wrong with the focused one.
 */
import { t } from '@/words';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, nextTick, ref, toRef, watch } from 'vue';
import type { Draft, IntakeCell, IntakeRow } from '../../server/contract';
import type { Reading } from '#core/tabular/index';
import { useWork } from '@/stores/work';
import { useAhead, useCell } from './cell';
import { useClipboard } from './clipboard';
import { useCurrent } from './current';
import { useEdits } from './edits';
import { useFinding } from './finding';
import GridHead from './GridHead.vue';
import GridLine from './GridLine.vue';
import GridStatus from './GridStatus.vue';
import { useKeys } from './keys';
import { useRange } from './range';
import { type Only, useRows } from './rows';
import { useWidths } from './widths';
import { onShown } from '@/kit/load';

const props = defineProps<{
  id: string;
  fileName: string;
  reading: Reading;
  draft: Draft;
  version: number;
  only: Only | null;
  /** Waits until what was changed is saved. */
  settled: () => Promise<void>;
  /** Where to begin. */
  line?: number | undefined;
}>();
const emit = defineEmits<{
  change: [edit: (draft: Draft) => void];
  undo: [];
  redo: [];
  tool: [tool: 'find' | 'fill'];
}>();
const change = (edit: (draft: Draft) => void) => emit('change', edit);
const { total, load, show, rowAt, between } = useRows(props.id, toRef(props, 'version'), toRef(props, 'only'));
const work = useWork();
const scroller = ref<HTMLElement | null>(null);
const virtual = useVirtualizer(
  computed(() => ({
    count: total.value,
    getScrollElement: () => scroller.value,
    estimateSize: () => 30,
    overscan: 10,
    scrollPaddingEnd: 64,
  })),
);
const items = computed(() => virtual.value.getVirtualItems());
watch(items, (now) => show(now.map(({ index }) => index)));
watch(
  () => props.only,
  () => moveTo(0, at.column),
);

/** As the file has them; of a bundle, what Sheaf has no use for comes last. */
const columns = computed(() => {
  const { columns: all, format } = props.reading;
  return format === 'bundle' ? [...all].sort((a, b) => +(a.field === 'skip') - +(b.field === 'skip')) : all;
});
const { gutter, least, template } = useWidths(columns, total);
const { at, range, isIn, moveTo, led, widen } = useRange(total, columns, ({ row, column }) => {
  void nextTick(() => {
    virtual.value.scrollToIndex(row, { align: 'auto' });
    // Beside the gutter, which stands still.
    document.getElementById(`cell-${row}-${column}`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  });
});
const edits = useEdits({ draft: toRef(props, 'draft'), change, total, columns, between });
const { current, problemHere, nameHere, takeProposed, leaveOut } = useCurrent({ at, rowAt, columns, edits });
const isOut = (row: IntakeRow) => props.draft.leftOut.includes(row.line);
const toGrid = () => scroller.value?.focus();

const cell = useCell((text, down) => {
  if (current.value) edits.put([{ row: current.value, column: at.column, text }]);
  toGrid();
  if (down && !props.only) moveTo(at.row + 1, at.column);
});
const edit = (typed?: string): void => {
  if (current.value) cell.begin(edits.shown(current.value, at.column), typed);
};

const reach = (index: number, row?: IntakeRow) => moveTo(index, row?.problems[0]?.column ?? at.column);
const { toProblem, toLine } = useFinding({
  id: props.id,
  total,
  only: () => props.only,
  here: () => at.row,
  rowAt,
  load,
  settled: () => props.settled(),
  isOut,
  reach,
});
const ahead = useAhead((event) => {
  if (!cell.type(event)) onKey(event);
});
const during = (what: () => Promise<void>) => ahead.during(what).catch((error: unknown) => work.wrong(error));
const go = (direction: 1 | -1) => during(() => toProblem(direction));

const { clear, fillDown, copy, paste } = useClipboard({ scroller, range, edits, rowAt, between, during });
const onKey = useKeys({
  scroller,
  led,
  moveTo,
  taken: (event) => ahead.held(event) || cell.type(event),
  chords: {
    z: () => emit('undo'),
    y: () => emit('redo'),
    Z: () => emit('redo'),
    d: fillDown,
    a: () => widen('all'),
    f: () => emit('tool', 'find'),
    h: () => emit('tool', 'find'),
    ' ': () => widen('columns'),
  },
  alts: {
    ArrowDown: () => void go(1),
    ArrowUp: () => void go(-1),
    Enter: takeProposed,
    Delete: leaveOut,
  },
  widenRows: () => widen('rows'),
  edit,
  clear,
});
onShown(() => {
  moveTo(0, columns.value[0]?.index ?? 0);
  toGrid();
  if (props.line !== undefined) toLine(props.line).catch((error: unknown) => work.wrong(error));
});
defineExpose({
  at,
  toGrid,
  nextProblem: () => {
    void go(1);
    toGrid();
  },
  reach: ({ index, column }: IntakeCell) =>
    during(async () => void (await between(index, index), moveTo(index, column))),
  replace: (...args: Parameters<typeof edits.replace>) => during(() => edits.replace(...args)),
  fillColumn: edits.fillColumn,
});
</script>

<template>
  <div class="flex-1 min-h-0 flex flex-col">
    <div
      ref="scroller"
      class="cells flex-1 overflow-auto bg-sheet min-h-0 [scroll-padding:44px_0_0_var(--gutter)]"
      :style="{ '--least': `${least}px`, '--gutter': `${gutter}px` }"
      role="grid"
      tabindex="0"
      aria-multiselectable="true"
      :aria-label="t('intake.rowsOf', { fileName })"
      :aria-rowcount="total + 1"
      :aria-colcount="columns.length + 1"
      :aria-activedescendant="
        current && items.some((i) => i.index === at.row) ? `cell-${at.row}-${at.column}` : undefined
      "
      @keydown="onKey"
      @copy="copy($event, false)"
      @cut="copy($event, true)"
      @paste="paste"
    >
      <GridHead
        :columns="columns"
        :is-bundle="reading.format === 'bundle'"
        :template="template"
        :fills="draft.fills ?? {}"
        @field="edits.setField"
      />
      <div role="rowgroup" class="relative" :style="{ height: `${virtual.getTotalSize()}px` }">
        <template v-for="item in items" :key="item.index">
          <GridLine
            v-if="rowAt(item.index)"
            :row="rowAt(item.index)!"
            :index="item.index"
            :columns="columns"
            :is-out="isOut(rowAt(item.index)!)"
            :focus="item.index === at.row ? at.column : null"
            :is-in="isIn"
            :shown="edits.shown"
            :former="edits.former"
            :cell="cell"
            :style="{ transform: `translateY(${item.start}px)`, gridTemplateColumns: template }"
            @point="
              (column, extend) => {
                moveTo(item.index, column, extend);
                toGrid();
              }
            "
            @edit="edit()"
            @type="(text) => (cell.text.value = text)"
            @back="toGrid()"
          />
          <div
            v-else
            role="row"
            class="quiet absolute h-30px py-4px px-8px"
            :aria-rowindex="item.index + 2"
            :style="{ transform: `translateY(${item.start}px)` }"
          >
            <span role="gridcell">…</span>
          </div>
        </template>
      </div>
    </div>
    <GridStatus
      v-if="current"
      :row="current"
      :problem="problemHere"
      :is-out="isOut(current)"
      :is-apart="draft.apart?.includes(current.line) ?? false"
      :name="nameHere"
      @take="takeProposed"
      @leave-out="leaveOut"
      @apart="edits.toggle('apart', current.line)"
    />
  </div>
</template>

<style scoped>
.cells:focus-visible {
  outline: none;
  box-shadow: none;
}
.cells:focus :deep(.focus),
.cells:focus-within :deep(.focus) {
  box-shadow:
    inset 0 0 0 2px var(--straw),
    inset 0 0 0 3px var(--ink);
}
.cells :deep(.gutter) {
  position: sticky;
  left: 0;
  background: var(--fog);
  color: var(--quiet);
  font-size: 13px;
  text-align: right;
}
</style>
