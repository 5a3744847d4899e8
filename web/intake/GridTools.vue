<script setup lang="ts">
/** What is done to many cells at once: undo and redo, a text found and replaced, one value for a whole column. */
import { locale, spoken, t } from '@/words';
import { ColumnHeightOutlined, RedoOutlined, SearchOutlined, UndoOutlined } from '@ant-design/icons-vue';
import { Button, Tooltip } from 'ant-design-vue';
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue';
import { fieldLabels } from '#core/tabular/fields';
import type { Column } from '#core/tabular/index';
import type { IntakeCell } from '../../server/contract';
import { call } from '@/api';
import Choice from '@/kit/Choice.vue';
import TextInput from '@/kit/TextInput.vue';
import { useWork } from '@/stores/work';
import type { Only } from './rows';

const props = defineProps<{
  id: string;
  columns: readonly Column[];
  only: Only | null;
  /** Counts up whenever the cells may be others. */
  version: number;
  canUndo: boolean;
  canRedo: boolean;
  /** The column of the focused cell. */
  column: number;
  fills: Readonly<Record<number, string>>;
  settled: () => Promise<void>;
}>();
const emit = defineEmits<{
  undo: [];
  redo: [];
  reach: [cell: IntakeCell];
  replace: [cells: readonly IntakeCell[], find: string, by: string];
  fill: [column: number, text: string | null];
  closed: [];
}>();
const work = useWork();
const mode = ref<'find' | 'fill' | null>(null);
const find = ref('');
const by = ref('');
/** null: in all of them. */
const where = ref<number | null>(null);
const found = ref<{ total: number; cells: IntakeCell[] } | null>(null);
const next = ref(0);
const field = ref<InstanceType<typeof TextInput> | null>(null);
const options = computed(() =>
  props.columns.map(({ index, header, field: is }) => ({
    value: index,
    label: header || spoken(fieldLabels[is]),
  })),
);
const anywhere = computed(() => [{ value: -1, label: t('intake.allColumns') }, ...options.value]);

let asked = 0;
async function look(): Promise<void> {
  const mine = ++asked;
  if (mode.value !== 'find' || find.value === '') {
    found.value = null;
    return;
  }
  await props.settled();
  const query = { find: find.value, column: where.value ?? undefined, only: props.only ?? undefined };
  const got = await call('GET /api/intakes/:id/cells', { id: props.id, query });
  if (mine === asked) found.value = got;
}
let soon: ReturnType<typeof setTimeout> | undefined;
watch([find, where, () => props.version, () => props.only, mode], () => {
  clearTimeout(soon);
  soon = setTimeout(() => look().catch((error: unknown) => work.wrong(error)), 150);
});
onBeforeUnmount(() => clearTimeout(soon));
watch(find, () => (next.value = 0));

async function open(what: 'find' | 'fill'): Promise<void> {
  mode.value = what;
  if (what === 'fill') {
    where.value = props.column;
    by.value = props.fills[props.column] ?? '';
  } else where.value = null;
  await nextTick();
  field.value?.focus();
  field.value?.select();
}
function close(): void {
  mode.value = null;
  emit('closed');
}
function reach(): void {
  const cell = found.value?.cells[next.value % Math.max(1, found.value.cells.length)];
  if (!cell) return;
  next.value++;
  emit('reach', cell);
}
function replaceAll(): void {
  if (found.value) emit('replace', found.value.cells, find.value, by.value);
}
function fill(text: string | null): void {
  if (where.value !== null) emit('fill', where.value, text);
  close();
}
defineExpose({ open });
</script>

<template>
  <span class="inline-flex items-center gap-4px">
    <Tooltip :title="t('intake.undoKey')"
      ><Button size="small" :aria-label="t('intake.undo')" :disabled="!canUndo" @click="emit('undo')"
        ><UndoOutlined /></Button
    ></Tooltip>
    <Tooltip :title="t('intake.redoKey')"
      ><Button size="small" :aria-label="t('intake.redo')" :disabled="!canRedo" @click="emit('redo')"
        ><RedoOutlined /></Button
    ></Tooltip>
    <Button size="small" :aria-pressed="mode === 'find'" @click="mode === 'find' ? close() : open('find')"
      ><SearchOutlined /><span>{{ t('intake.findAndReplace') }}</span></Button
    >
    <Button size="small" :aria-pressed="mode === 'fill'" @click="mode === 'fill' ? close() : open('fill')"
      ><ColumnHeightOutlined /><span>{{ t('intake.fillColumn') }}</span></Button
    >
  </span>
  <form
    v-if="mode === 'find'"
    class="inline-flex items-center basis-full gap-12px"
    :aria-label="t('intake.findAndReplace')"
    @submit.prevent="reach"
    @keydown.esc.stop="close"
  >
    <label
      >{{ t('intake.find') }}
      <TextInput ref="field" v-model:value="find" :maxlength="200" :aria-label="t('intake.find')"
    /></label>
    <label
      >{{ t('intake.replaceWith') }}
      <TextInput v-model:value="by" :maxlength="200" :aria-label="t('intake.replaceWith')"
    /></label>
    <Choice
      :value="where ?? -1"
      :options="anywhere"
      :aria-label="t('intake.columnsSearched')"
      @update:value="(column) => (where = column < 0 ? null : column)"
    />
    <Button size="small" html-type="submit" :disabled="!found?.total">{{ t('intake.findNext') }}</Button>
    <Button size="small" :disabled="!found?.total || found.total > found.cells.length" @click="replaceAll">{{
      t('intake.replaceAll')
    }}</Button>
    <span role="status">{{
      !found
        ? ''
        : found.total > found.cells.length
          ? t('intake.tooManyCells', { n: found.total, most: found.cells.length.toLocaleString(locale) })
          : t('intake.cellsFound', { n: found.total })
    }}</span>
  </form>
  <form
    v-else-if="mode === 'fill'"
    class="inline-flex items-center basis-full gap-12px"
    :aria-label="t('intake.fillColumn')"
    @submit.prevent="fill(by)"
    @keydown.esc.stop="close"
  >
    <label
      >{{ t('intake.everyCellOf') }}
      <Choice
        :value="where ?? columns[0]?.index ?? 0"
        :options="options"
        :aria-label="t('intake.everyCellOf')"
        @update:value="(column) => (where = column)"
    /></label>
    <label
      >{{ t('intake.setTo') }}
      <TextInput ref="field" v-model:value="by" :maxlength="500" :aria-label="t('intake.setTo')"
    /></label>
    <Button size="small" html-type="submit">{{ t('intake.fillColumn') }}</Button>
    <Button v-if="where !== null && fills[where] !== undefined" size="small" @click="fill(null)">{{
      t('intake.asInTheFile')
    }}</Button>
  </form>
</template>
