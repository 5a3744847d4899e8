<script setup lang="ts">
/**
 * The cells of a file, with the habits of a spreadsheet: header pickers, a gutter that marks problem rows, ranges that
 * are copied, pasted and filled, cells that are corrected in place; below it, in words, what is wrong with the focused one.
 */
import { locale, t } from '@/words';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, nextTick, ref, toRef, watch } from 'vue';
import type { Draft, IntakeCell, IntakeRow } from '../../server/contract';
import { splitName, tidy } from '#core/names/index';
import type { Field } from '#core/tabular/fields';
import { replaceIn } from '#core/tabular/cells';
import type { Reading } from '#core/tabular/index';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { useAhead, useCell } from './cell';
import { mostRows, useEdits } from './edits';
import GridHead from './GridHead.vue';
import GridLine from './GridLine.vue';
import GridStatus from './GridStatus.vue';
import { useRange } from './range';
import { type Only, pageSize, useRows } from './rows';
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
const current = computed(() => rowAt(at.row));
const problemHere = computed(
  () => current.value?.problems.find((p) => p.column === at.column) ?? current.value?.problems[0],
);
const nameHere = computed(() => {
  const column = columns.value.find(({ index }) => index === at.column);
  const text = column?.field === 'fullName' && current.value ? tidy(edits.shown(current.value, column.index)) : '';
  return text ? splitName(text) : null;
});
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
function takeProposed(): void {
  const [row, problem] = [current.value, problemHere.value];
  if (row && problem?.repair !== undefined && problem.column !== null)
    edits.put([{ row, column: problem.column, text: problem.repair }]);
}
const leaveOut = () => current.value && edits.toggle('leftOut', current.value.line);

const reach = (index: number, row: IntakeRow) => moveTo(index, row.problems[0]?.column ?? at.column);
/** The nearest problem among the rows at hand; null if rows that are not here could hold a nearer one. */
function problemAtHand(direction: 1 | -1): number | null {
  for (let index = at.row + direction; ; index += direction) {
    const row = rowAt(index);
    if (!row) return null;
    if (row.problems.length > 0 && !isOut(row)) return index;
  }
}
async function toProblem(direction: 1 | -1): Promise<void> {
  const near = problemAtHand(direction);
  if (near !== null) return reach(near, rowAt(near)!);
  await props.settled();
  const query = { line: current.value?.line ?? 0, back: direction < 0, only: props.only ?? undefined };
  const found = await call('GET /api/intakes/:id/problem', { id: props.id, query });
  if (!found) return;
  await load(Math.floor(found.index / pageSize));
  reach(found.index, found.row);
}
const ahead = useAhead((event) => {
  if (!cell.type(event)) onKey(event);
});
const during = (what: () => Promise<void>) => ahead.during(what).catch((error: unknown) => work.wrong(error));
const go = (direction: 1 | -1) => during(() => toProblem(direction));

/** Does something with the cells of the range, if they are not too many. */
const withRange = (what: () => Promise<void>) =>
  range.value.bottom - range.value.top >= mostRows
    ? work.wrong(new Error(t('intake.tooManyRows', { most: mostRows.toLocaleString(locale) })))
    : void during(what);
const clear = () => withRange(() => edits.clear(range.value));
function copy(event: ClipboardEvent, cut: boolean): void {
  if (event.target !== scroller.value) return;
  event.preventDefault();
  const { top, bottom } = range.value;
  const here = Array.from({ length: bottom - top + 1 }, (_, i) => rowAt(top + i)).filter((row) => row !== undefined);
  if (here.length > bottom - top) event.clipboardData?.setData('text/plain', edits.copied(here, range.value));
  else
    withRange(async () => {
      // Rows had to be loaded first, so the browser may no longer count this as part of the key press.
      const text = edits.copied(await between(top, bottom), range.value);
      await navigator.clipboard?.writeText(text).catch(() => {
        throw new Error(t('intake.copyNeedsPermission'));
      });
    });
  if (cut) clear();
}
function paste(event: ClipboardEvent): void {
  const text = event.clipboardData?.getData('text/plain');
  if (event.target !== scroller.value || text === undefined) return;
  event.preventDefault();
  withRange(async () => {
    const beyond = await edits.paste(text, range.value);
    if (beyond > 0) work.say(t('intake.notAllPasted', { n: beyond }));
  });
}
/** Keys with Ctrl, as spreadsheets have them. */
const chords: Record<string, () => void> = {
  z: () => emit('undo'),
  y: () => emit('redo'),
  Z: () => emit('redo'),
  d: () => withRange(() => edits.fillDown(range.value)),
  a: () => widen('all'),
  f: () => emit('tool', 'find'),
  h: () => emit('tool', 'find'),
  ' ': () => widen('columns'),
};
function onKey(event: KeyboardEvent): void {
  if (event.target !== scroller.value) return;
  const { key, altKey, shiftKey } = event;
  const isCtrl = event.ctrlKey || event.metaKey;
  const isPlain = key !== 'Tab' && !isCtrl;
  if (isPlain && (ahead.held(event) || cell.type(event))) return event.preventDefault();
  const page = Math.max(1, Math.floor((scroller.value?.clientHeight ?? 300) / 30) - 3);
  const to = altKey ? null : led(event, page);
  if (altKey) {
    if (key === 'ArrowDown') void go(1);
    else if (key === 'ArrowUp') void go(-1);
    else if (key === 'Enter') takeProposed();
    else if (key === 'Delete') leaveOut();
    else return;
  } else if (to) moveTo(...to, shiftKey);
  else if (isCtrl) {
    if (!chords[key]) return;
    chords[key]();
  } else if (key === ' ' && shiftKey) widen('rows');
  else if (key === 'Enter' || key === 'F2') edit();
  else if (key === 'Delete' || key === 'Backspace') clear();
  else if (key.length === 1) edit(key);
  else return;
  event.preventDefault();
}
const setField = (index: number, field: Field) =>
  change((d) => {
    const told = { ...d.hints.columns };
    // A field stands once: the column that had it gives it up.
    if (field !== 'skip')
      for (const c of columns.value) if (c.index !== index && c.field === field) told[c.index] = 'skip';
    told[index] = field;
    d.hints.columns = told;
  });

/** To a line of the file, as a plan or Today names it: rows are in the order of lines, some of which may be missing. */
async function toLine(line: number): Promise<void> {
  for (let [index, tries] = [line, 0]; tries < 20; tries++) {
    index = Math.max(0, Math.min(total.value - 1, index));
    await load(Math.floor(index / pageSize));
    const row = rowAt(index);
    if (!row || row.line === line) return moveTo(index, at.column);
    index += line - row.line;
  }
}
onShown(() => {
  moveTo(0, columns.value[0]?.index ?? 0);
  toGrid();
  if (props.line !== undefined) toLine(props.line).catch((error: unknown) => work.wrong(error));
});
async function replace(cells: readonly IntakeCell[], find: string, by: string): Promise<void> {
  const rows = new Map<number, IntakeRow>();
  for (const { index, line } of cells) rows.set(line, rowAt(index) ?? (await between(index, index))[0]!);
  edits.put(cells.map(({ line, column, text }) => ({ row: rows.get(line)!, column, text: replaceIn(text, find, by) })));
}
defineExpose({
  at,
  toGrid,
  nextProblem: () => {
    void go(1);
    toGrid();
  },
  reach: ({ index, column }: IntakeCell) =>
    during(async () => void (await between(index, index), moveTo(index, column))),
  replace: (...args: Parameters<typeof replace>) => during(() => replace(...args)),
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
        @field="setField"
      />
      <div role="rowgroup" class="rows" :style="{ height: `${virtual.getTotalSize()}px` }">
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
.rows {
  position: relative;
}
</style>
