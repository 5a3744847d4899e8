<script setup lang="ts">
/** One row of a file: a mark of what becomes of it, its line, its cells; the one that is edited is a field. */
import { spoken, t } from '@/words';
import { Input } from 'ant-design-vue';
import { computed } from 'vue';
import { splitName, tidy } from '#core/names/index';
import { fieldLabels } from '#core/tabular/fields';
import type { Column } from '#core/tabular/index';
import type { IntakeRow } from '../../server/contract';
import type { useCell } from './cell';

const props = defineProps<{
  row: IntakeRow;
  index: number;
  columns: readonly Column[];
  isOut: boolean;
  /** The focused column, where the row is the focused one. */
  focus: number | null;
  isIn: (row: number, place: number) => boolean;
  shown: (row: IntakeRow, column: number) => string;
  former: (row: IntakeRow, column: number) => string | null;
  cell: ReturnType<typeof useCell>;
}>();
const emit = defineEmits<{ point: [column: number, extend: boolean]; edit: []; type: [text: string]; back: [] }>();

const problemOf = (column: number) => props.row.problems.find((problem) => problem.column === column);
const mark = computed(() => {
  const { problems, state } = props.row;
  if (problems.some(({ stops }) => stops) && !props.isOut) return { sign: '!', says: t('intake.problem') };
  if (state === 'waits') return { sign: '?', says: t('intake.needsReview') };
  if (state === 'new') return { sign: '+', says: t('intake.new') };
  return state === 'changed' ? { sign: '±', says: t('intake.updated') } : null;
});
/** A cell; of a whole name the family name is told apart. */
function parts({ field, index }: Column): { text: string; isFamily: boolean }[] {
  const text = props.shown(props.row, index);
  if (text === '' && problemOf(index)) return [{ text: t('intake.empty'), isFamily: false }];
  const family = field === 'fullName' ? splitName(tidy(text)).familyName : '';
  const at = family ? text.indexOf(family) : -1;
  if (at < 0) return [{ text, isFamily: false }];
  return [
    { text: text.slice(0, at), isFamily: false },
    { text: family, isFamily: true },
    { text: text.slice(at + family.length), isFamily: false },
  ];
}
const title = (index: number): string | undefined => {
  const was = props.former(props.row, index);
  if (was !== null) return was === '' ? t('intake.wasEmpty') : t('intake.before2', { text: was });
  return problemOf(index)?.message;
};
function point(event: MouseEvent, column: number): void {
  if (event.button === 0 && !(event.target instanceof HTMLInputElement)) emit('point', column, event.shiftKey);
}
</script>

<template>
  <div
    role="row"
    class="line grid [min-width:var(--least)] absolute left-0 right-0 h-30px faint-b [user-select:none]"
    :class="[row.state, { here: focus !== null, out: isOut }]"
    :aria-rowindex="index + 2"
  >
    <span
      role="rowheader"
      class="gutter py-4px px-8px [border-right:1px_solid_color-mix(in_srgb,var(--rule)_45%,transparent)] h-30px"
      :title="row.note"
    >
      <b
        v-if="mark"
        class="[float:left] c-rust text-14px"
        :class="{ good: mark.sign === '+' || mark.sign === '±' }"
        :aria-label="mark.says"
        >{{ mark.sign }}</b
      >
      {{ row.line }}
    </span>
    <span
      v-for="(c, place) in columns"
      :id="`cell-${index}-${c.index}`"
      :key="c.index"
      role="gridcell"
      class="clip py-4px px-8px [border-right:1px_solid_color-mix(in_srgb,var(--rule)_45%,transparent)] h-30px"
      :class="{
        focus: focus === c.index,
        ranged: isIn(index, place),
        bad: problemOf(c.index)?.stops,
        note: problemOf(c.index),
        skipped: c.field === 'skip',
        mended: former(row, c.index) !== null,
      }"
      :aria-selected="isIn(index, place) || focus === c.index"
      :title="title(c.index)"
      @mousedown="point($event, c.index)"
      @mouseenter="$event.buttons === 1 && emit('point', c.index, true)"
      @dblclick="emit('edit')"
    >
      <Input
        v-if="cell.text.value !== null && focus === c.index"
        :ref="cell.shown"
        size="small"
        :bordered="false"
        :value="cell.text.value"
        :aria-label="t('intake.line3', { field: spoken(fieldLabels[c.field]), line: row.line })"
        @update:value="(text) => emit('type', text)"
        @keydown.enter.exact.stop.prevent="cell.leave(true)"
        @keydown.esc.stop="
          cell.giveUp();
          emit('back');
        "
        @keydown.tab.stop.prevent="cell.leave(false)"
        @blur="cell.leave(false)"
      />
      <template v-for="(part, i) in parts(c)" v-else :key="i"
        ><b v-if="part.isFamily" class="family">{{ part.text }}</b
        ><template v-else>{{ part.text }}</template></template
      >
    </span>
  </div>
</template>

<style scoped>
.gutter .good {
  color: var(--stem);
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
.line > .ranged {
  background: var(--straw-wash);
}
.line > .focus {
  box-shadow: inset 0 0 0 2px var(--quiet);
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
</style>
