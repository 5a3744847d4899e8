<script setup lang="ts">
/** Below the cells, in words: what is wrong with the focused one or what becomes of its row, and what can be done. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { Problem } from '#core/tabular/index';
import type { IntakeRow } from '../../server/contract';

const props = defineProps<{
  row: IntakeRow;
  problem: Problem | undefined;
  isOut: boolean;
  isApart: boolean;
  /** Where the cell is a whole name: how it is split. */
  name: { familyName: string; givenName: string } | null;
}>();
defineEmits<{ take: []; leaveOut: []; apart: [] }>();
const says = computed(() => {
  const { row, isOut, name } = props;
  if (row.state === 'waits') return row.note;
  if (isOut) return t('intake.skippedNothingHappensToThe');
  if (row.state === 'left-out') return row.note;
  if (name) return t('intake.nameIsSplit', name);
  if (row.state === 'same') return t('intake.unchangedAsOnRecord');
  return row.state === 'new' ? t('intake.rowIsNew') : t('intake.rowIsUpdated', { fields: row.note });
});
</script>

<template>
  <div
    class="why flex-none flex items-center gap-12px min-h-36px py-3px px-16px ruled-t text-13px"
    role="status"
    aria-live="polite"
  >
    <b :class="{ rust: problem }">{{ t('intake.line4', { line: problem?.line ?? row.line }) }}</b>
    <span class="clip grow" :title="problem?.message ?? says">{{ problem?.message ?? says }}</span>
    <Button v-if="problem?.repair !== undefined" size="small" @click="$emit('take')"
      ><span
        >{{ t('intake.use', { repair: problem.repair }) }} <kbd>{{ t('intake.altEnter') }}</kbd></span
      ></Button
    >
    <Button v-if="row.isRepeated || isApart" size="small" @click="$emit('apart')">{{
      isApart ? t('intake.onePersonAfterAll') : t('intake.theyAreTwoPeople')
    }}</Button>
    <Button v-if="problem || row.state === 'waits' || isOut" size="small" @click="$emit('leaveOut')">{{
      isOut ? t('intake.useTheRowAgain') : t('intake.skipThisRow')
    }}</Button>
  </div>
</template>
