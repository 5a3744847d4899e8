<script setup lang="ts">
/**
 * The cells of a file: header pickers, a gutter that marks problem rows, cells that are mended in place; below it,
 * in words, what is wrong with the focused one.
 */
import { spoken, t } from '@/words';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { Button } from 'ant-design-vue';
import { computed, nextTick, reactive, ref, toRef, watch } from 'vue';
import type { Draft, IntakeRow } from '../../server/contract';
import { fieldLabels, fields, type Field } from '#core/tabular/fields';
import type { Reading } from '#core/tabular/index';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { useAhead, useCell } from './cell';
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
const emit = defineEmits<{ change: [edit: (draft: Draft) => void] }>();
const change = (edit: (draft: Draft) => void) => emit('change', edit);
const { total, load, show, rowAt } = useRows(props.id, toRef(props, 'version'), toRef(props, 'only'));
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
  () => (at.row = 0),
);

/** The focused cell: index of the row among those shown, index of the column in the file. */
const at = reactive({ row: 0, column: 0 });
/** As the file has them; of a bundle, what Sheaf has no use for comes last. */
const columns = computed(() => {
  const { columns: all, format } = props.reading;
  return format === 'bundle' ? [...all].sort((a, b) => +(a.field === 'skip') - +(b.field === 'skip')) : all;
});
const { gutter, least, template } = useWidths(columns, total);
const current = computed(() => rowAt(at.row));
const problemOf = (row: IntakeRow | undefined, column: number) => row?.problems.find((p) => p.column === column);
const problemHere = computed(() => problemOf(current.value, at.column) ?? current.value?.problems[0]);
const shown = (row: IntakeRow, column: number): string =>
  props.draft.repairs[row.line]?.[column] ?? row.cells[column] ?? '';
const isOut = (row: IntakeRow) => props.draft.leftOut.includes(row.line);

function moveTo(row: number, column: number): void {
  at.row = Math.max(0, Math.min(total.value - 1, row));
  at.column = columns.value.some(({ index }) => index === column) ? column : at.column;
  void nextTick(() => {
    virtual.value.scrollToIndex(at.row, { align: 'auto' });
    // Beside the gutter, which stands still.
    document.getElementById(`cell-${at.row}-${at.column}`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  });
}
const sideways = (by: 1 | -1): number => {
  const place = columns.value.findIndex(({ index }) => index === at.column) + by;
  return columns.value[Math.max(0, Math.min(columns.value.length - 1, place))]!.index;
};
const cell = useCell((text, down) => {
  if (current.value) repair(current.value, at.column, text);
  scroller.value?.focus();
  if (down && !props.only) moveTo(at.row + 1, at.column);
});
const edit = (typed?: string): void => {
  if (current.value) cell.begin(shown(current.value, at.column), typed);
};
function repair(row: IntakeRow, column: number, value: string): void {
  change((d) => {
    const cells = { ...d.repairs[row.line] };
    if (value === (row.cells[column] ?? '')) delete cells[column];
    else cells[column] = value;
    if (Object.keys(cells).length > 0) d.repairs[row.line] = cells;
    else delete d.repairs[row.line];
  });
}
function takeProposed(): void {
  const problem = problemHere.value;
  if (current.value && problem?.repair !== undefined && problem.column !== null)
    repair(current.value, problem.column, problem.repair);
}
function leaveOut(): void {
  const line = current.value?.line;
  if (line === undefined) return;
  change((d) => (d.leftOut = d.leftOut.includes(line) ? d.leftOut.filter((l) => l !== line) : [...d.leftOut, line]));
}
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
const go = (direction: 1 | -1) => ahead.during(() => toProblem(direction)).catch((error: unknown) => work.wrong(error));
function onKey(event: KeyboardEvent): void {
  if (event.target !== scroller.value) return;
  const isPlain = event.key !== 'Tab' && !event.ctrlKey && !event.metaKey;
  if (isPlain && (ahead.held(event) || cell.type(event))) return event.preventDefault();
  const page = Math.max(1, Math.floor((scroller.value?.clientHeight ?? 300) / 30) - 3);
  if (event.altKey) {
    if (event.key === 'ArrowDown') void go(1);
    else if (event.key === 'ArrowUp') void go(-1);
    else if (event.key === 'Enter') takeProposed();
    else if (event.key === 'Delete') leaveOut();
    else return;
  } else if (event.ctrlKey || event.metaKey) return;
  else if (event.key === 'ArrowDown') moveTo(at.row + 1, at.column);
  else if (event.key === 'ArrowUp') moveTo(at.row - 1, at.column);
  else if (event.key === 'ArrowLeft') moveTo(at.row, sideways(-1));
  else if (event.key === 'ArrowRight') moveTo(at.row, sideways(1));
  else if (event.key === 'Home') moveTo(0, at.column);
  else if (event.key === 'End') moveTo(total.value - 1, at.column);
  else if (event.key === 'PageDown') moveTo(at.row + page, at.column);
  else if (event.key === 'PageUp') moveTo(at.row - page, at.column);
  else if (event.key === 'Enter' || event.key === 'F2') edit();
  else if (event.key.length === 1) edit(event.key);
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
  at.column = columns.value[0]?.index ?? 0;
  scroller.value?.focus();
  if (props.line !== undefined) toLine(props.line).catch((error: unknown) => work.wrong(error));
});
defineExpose({
  nextProblem: () => {
    void go(1);
    scroller.value?.focus();
  },
});
</script>

<template>
  <div class="sheet">
    <div
      ref="scroller"
      class="cells"
      :style="{ '--least': `${least}px`, '--gutter': `${gutter}px` }"
      role="grid"
      tabindex="0"
      :aria-label="t('intake.rowsOf', { fileName })"
      :aria-rowcount="total + 1"
      :aria-colcount="columns.length + 1"
      :aria-activedescendant="
        current && items.some((i) => i.index === at.row) ? `cell-${at.row}-${at.column}` : undefined
      "
      @keydown="onKey"
    >
      <div class="heads" role="row" aria-rowindex="1" :style="{ gridTemplateColumns: template }">
        <span role="columnheader" class="gutter">{{ t('intake.line2') }}</span>
        <span
          v-for="c in columns"
          :key="c.index"
          role="columnheader"
          :class="{ unsure: c.confidence < 0.6 && c.field !== 'skip', skipped: c.field === 'skip' }"
        >
          <!-- A bundle's columns are what the standard says. -->
          <b v-if="reading.format === 'bundle'" class="clip">{{ spoken(fieldLabels[c.field]) }}</b>
          <select
            v-else
            class="pick"
            :aria-label="t('intake.column', { index: c.index + 1, heading: c.header || t('intake.noHeading') })"
            :value="c.field"
            @change="setField(c.index, ($event.target as HTMLSelectElement).value as Field)"
          >
            <option v-for="f in fields" :key="f" :value="f">{{ spoken(fieldLabels[f]) }}</option>
          </select>
          <small class="clip"
            >{{ c.header || '—'
            }}<template v-if="c.confidence < 1 && c.field !== 'skip'">
              ·
              {{
                c.confidence < 0.6 ? t('intake.guessed') : c.confidence < 0.9 ? t('intake.likely') : t('intake.certain')
              }}</template
            ></small
          >
        </span>
      </div>
      <div role="rowgroup" class="rows" :style="{ height: `${virtual.getTotalSize()}px` }">
        <template v-for="item in items" :key="item.index">
          <div
            v-if="rowAt(item.index)"
            role="row"
            class="line"
            :class="[rowAt(item.index)!.state, { here: item.index === at.row, out: isOut(rowAt(item.index)!) }]"
            :aria-rowindex="item.index + 2"
            :style="{ transform: `translateY(${item.start}px)`, gridTemplateColumns: template }"
          >
            <span role="rowheader" class="gutter" :title="rowAt(item.index)!.note">
              <b
                v-if="rowAt(item.index)!.problems.some((p) => p.stops) && !isOut(rowAt(item.index)!)"
                :aria-label="t('intake.problem')"
                >!</b
              >
              <b v-else-if="rowAt(item.index)!.state === 'waits'" :aria-label="t('intake.needsReview')">?</b>
              <i v-else-if="rowAt(item.index)!.state === 'new'" :aria-label="t('intake.new')">+</i>
              <i v-else-if="rowAt(item.index)!.state === 'changed'" :aria-label="t('intake.updated')">±</i>
              {{ rowAt(item.index)!.line }}
            </span>
            <span
              v-for="c in columns"
              :id="`cell-${item.index}-${c.index}`"
              :key="c.index"
              role="gridcell"
              class="clip"
              :class="{
                focus: item.index === at.row && c.index === at.column,
                bad: problemOf(rowAt(item.index), c.index)?.stops,
                note: problemOf(rowAt(item.index), c.index),
                skipped: c.field === 'skip',
                mended: draft.repairs[rowAt(item.index)!.line]?.[c.index] !== undefined,
              }"
              @click="
                moveTo(item.index, c.index);
                scroller?.focus();
              "
              @dblclick="edit()"
            >
              <input
                v-if="cell.text.value !== null && item.index === at.row && c.index === at.column"
                :ref="cell.shown"
                v-model="cell.text.value"
                :aria-label="t('intake.line3', { field: spoken(fieldLabels[c.field]), line: rowAt(item.index)!.line })"
                @keydown.enter.exact.stop.prevent="cell.leave(true)"
                @keydown.esc.stop="
                  cell.giveUp();
                  scroller?.focus();
                "
                @keydown.tab.stop.prevent="cell.leave(false)"
                @blur="cell.leave(false)"
              />
              <template v-else>{{
                shown(rowAt(item.index)!, c.index) || (problemOf(rowAt(item.index), c.index) ? t('intake.empty') : '')
              }}</template>
            </span>
          </div>
          <div
            v-else
            role="row"
            class="line"
            :aria-rowindex="item.index + 2"
            :style="{ transform: `translateY(${item.start}px)` }"
          >
            <span role="gridcell" class="quiet">…</span>
          </div>
        </template>
      </div>
    </div>
    <div class="why" role="status" aria-live="polite">
      <template v-if="problemHere">
        <b class="rust">{{ t('intake.line4', { line: problemHere.line }) }}</b><span
          class="clip grow"
          :title="problemHere.message"
          >{{ problemHere.message }}</span
        >
        <Button v-if="problemHere.repair !== undefined" size="small" @click="takeProposed"
          ><span
            >{{ t('intake.use', { repair: problemHere.repair }) }} <kbd>{{ t('intake.altEnter') }}</kbd></span
          ></Button
        >
        <Button size="small" @click="leaveOut">{{
          current && isOut(current) ? t('intake.useTheRowAgain') : t('intake.skipThisRow')
        }}</Button>
      </template>
      <template v-else-if="current"
        ><b>{{ t('intake.line4', { line: current.line }) }}</b
        ><span class="clip grow">{{
          current.state === 'same'
            ? t('intake.unchangedAsOnRecord')
            : current.state === 'waits'
              ? current.note
              : isOut(current)
                ? t('intake.skippedNothingHappensToThe')
                : current.state === 'left-out'
                  ? current.note
                  : `${current.state}${current.note ? `: ${current.note}` : ''}`
        }}</span
        ><Button v-if="current.state === 'waits' || isOut(current)" size="small" @click="leaveOut">{{
          isOut(current) ? t('intake.useTheRowAgain') : t('intake.skipThisRow')
        }}</Button></template
      >
    </div>
  </div>
</template>

<style scoped>
.sheet {
  flex: 1;
  min-height: 0;
  display: flex;
  flex-direction: column;
}
.cells {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  min-height: 0;
  /* The headings and the gutter stand over it. */
  scroll-padding: 44px 0 0 var(--gutter);
}
.cells:focus-visible {
  outline: none;
  box-shadow: none;
}
.heads,
.line {
  display: grid;
  min-width: var(--least);
}
.heads {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--fog);
  border-bottom: 1px solid var(--rule);
}
.heads > span {
  padding: 3px 8px;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.heads .pick {
  font-weight: 650;
  width: 100%;
}
.heads small {
  color: var(--quiet);
  font-size: 12px;
}
.heads .unsure {
  background: var(--straw-wash);
  box-shadow: inset 0 -3px 0 var(--straw);
}
.heads .skipped .pick,
.heads .skipped b {
  font-weight: 400;
  color: var(--quiet);
}
.rows {
  position: relative;
}
.line {
  position: absolute;
  left: 0;
  right: 0;
  height: 30px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
.line > span {
  padding: 4px 8px;
  border-right: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
  height: 30px;
}
.line .gutter,
.heads .gutter {
  text-align: right;
  color: var(--quiet);
  background: var(--fog);
  font-size: 13px;
  position: sticky;
  left: 0;
}
.gutter b {
  float: left;
  color: var(--rust);
  font-size: 14px;
}
.gutter i {
  float: left;
  color: var(--stem);
  font-style: normal;
  font-weight: 650;
}
.line.here > span {
  background: var(--fog);
}
.line .skipped {
  color: var(--quiet);
}
.line .note {
  box-shadow: inset 0 -2px 0 var(--straw);
}
.line .bad {
  background: var(--rust-wash);
  box-shadow: inset 0 -2px 0 var(--rust);
}
.line .mended {
  color: var(--dusk);
  font-weight: 650;
}
.line.out > span {
  text-decoration: line-through;
  color: var(--quiet);
}
.line > .focus {
  box-shadow: inset 0 0 0 2px var(--quiet);
}
.cells:focus .focus,
.cells:focus-within .focus {
  box-shadow:
    inset 0 0 0 2px var(--straw),
    inset 0 0 0 3px var(--ink);
}
.line input {
  font: inherit;
  color: inherit;
  width: calc(100% + 8px);
  margin: -2px -4px;
  border: 0;
  padding: 2px 4px;
  background: var(--sheet);
}
.line input:focus-visible {
  outline: none;
  box-shadow: none;
}
.why {
  flex: none;
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 36px;
  padding: 3px 16px;
  border-top: 1px solid var(--rule);
  font-size: 13px;
}
</style>
