<script setup lang="ts">
/** How the file is read, in one line in which each guess can be changed. */
import { t } from '@/words';
import NumberInput from '@/kit/NumberInput.vue';
import Choice from '@/kit/Choice.vue';
import { SelectOption } from 'ant-design-vue';
import type { Draft, IntakeHead } from '../../server/contract';
import type { Delimiter, Encoding, DateOrder, Reading } from '#core/tabular/index';
import { sureOrder } from '#core/tabular/values';
import { dayOfWords, timeWords } from '@/time';

defineProps<{ head: IntakeHead; reading: Reading | null; draft: Draft; savedAt: string; failure: string }>();
const emit = defineEmits<{ change: [edit: (draft: Draft) => void] }>();
const encodings: Record<Encoding, string> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16',
  'utf-16be': t('intake.utf16BigEndian'),
  'windows-1252': 'Windows-1252',
};
const delimiterWords: Record<Delimiter, string> = {
  ',': t('intake.comma'),
  ';': t('intake.semicolon'),
  '\t': t('intake.tab'),
  '|': t('intake.verticalBar'),
};
const orders: Record<DateOrder, string> = {
  dmy: t('intake.dayMonthYear'),
  mdy: t('intake.monthDayYear'),
  ymd: t('intake.yearMonthDay'),
  serial: t('intake.daysAsSpreadsheetsCount'),
};
const asLastTime = ({ cells, rows }: { cells: number; rows: number }) =>
  [
    cells > 0 ? t('intake.corrected', { cells: t('intake.countCells', { n: cells }) }) : '',
    rows > 0 ? t('intake.skipped', { rows: t('intake.countRows', { n: rows }) }) : '',
  ]
    .filter(Boolean)
    .join(', ');
/** Another encoding or delimiter makes other columns, so what was said about columns no longer holds. */
const reread = (edit: (draft: Draft) => void) =>
  emit('change', (draft) => {
    edit(draft);
    delete draft.hints.columns;
  });
</script>

<template>
  <div class="reading row">
    <h1 class="clip name text-14px max-w-320px" :title="head.fileName">{{ head.fileName }}</h1>
    <template v-if="reading">
      <span v-if="reading.format === 'bundle'">{{ t('intake.bundleShown') }}</span>
      <Choice
        v-if="reading.sheets.length > 1"
        :aria-label="t('intake.sheet')"
        :value="reading.sheet"
        @update:value="
          (chosen) =>
            reread((d) => {
              d.hints.sheet = chosen ?? undefined;
            })
        "
      >
        <SelectOption v-for="sheet in reading.sheets" :key="sheet" :value="sheet">{{ sheet }}</SelectOption>
      </Choice>
      <Choice
        v-if="reading.encoding !== null && reading.format !== 'bundle'"
        :aria-label="t('intake.encoding')"
        :value="reading.encoding"
        @update:value="
          (chosen) =>
            reread((d) => {
              d.hints.encoding = chosen as Encoding;
            })
        "
      >
        <SelectOption v-for="(label, key) in encodings" :key="key" :value="key">{{ label }}</SelectOption>
      </Choice>
      <Choice
        v-if="reading.delimiter !== null && reading.format !== 'bundle'"
        :aria-label="t('intake.delimiter')"
        :value="reading.delimiter"
        @update:value="
          (chosen) =>
            reread((d) => {
              d.hints.delimiter = chosen as Delimiter;
            })
        "
      >
        <SelectOption v-for="(label, key) in delimiterWords" :key="key" :value="key">{{ label }}</SelectOption>
      </Choice>
      <label v-if="reading.format !== 'bundle'"
        >{{ t('intake.headingsInLine') }}
        <NumberInput
          class="line w-60px"
          lazy
          :min="1"
          :value="reading.headerLine"
          :placeholder="t('common.none')"
          @update:value="
            (line) =>
              reread((d) => {
                d.hints.headerLine = line || null;
              })
          "
      /></label>
      <label
        v-if="reading.format !== 'bundle'"
        :class="{
          unsure: reading.dateOrderConfidence < sureOrder && reading.columns.some((c) => c.field === 'birthDate'),
        }"
        >{{ t('intake.datesAre') }}
        <Choice
          :value="reading.dateOrder"
          @update:value="
            (chosen) =>
              emit('change', (d) => {
                d.hints.dateOrder = chosen as DateOrder;
              })
          "
        >
          <SelectOption v-for="(label, key) in orders" :key="key" :value="key">{{ label }}</SelectOption>
        </Choice></label
      >
    </template>
    <span v-if="draft.readAsOn" class="clip">{{ t('intake.readAsOn', { date: dayOfWords(draft.readAsOn) }) }}</span>
    <span v-if="draft.carried" class="clip">{{ t('intake.asLastTime', { carried: asLastTime(draft.carried) }) }}</span>
    <span class="grow" />
    <span v-if="failure" class="rust clip" role="alert">{{ failure }}</span>
    <span v-else class="quiet">{{ t('intake.saved', { savedAt: timeWords(savedAt) }) }}</span>
  </div>
</template>

<style scoped>
.reading {
  flex: none;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule);
  font-size: 13px;
  white-space: nowrap;
}
.unsure {
  background: var(--straw-wash);
  box-shadow: inset 0 -2px 0 var(--straw);
  padding: 0 4px;
}
</style>
