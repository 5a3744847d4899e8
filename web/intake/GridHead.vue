<script setup lang="ts">
/** The headings of a file's cells: what each column is taken for, which can be changed. */
import { spoken, t } from '@/words';
import type { Column } from '#core/tabular/index';
import { fieldLabels, fields, type Field } from '#core/tabular/fields';
import Choice from '@/kit/Choice.vue';

defineProps<{
  columns: readonly Column[];
  /** A bundle's columns are what the standard says. */
  isBundle: boolean;
  template: string;
  fills: Readonly<Record<number, string>>;
}>();
defineEmits<{ field: [index: number, field: Field] }>();
const sure = ({ confidence }: Column) =>
  confidence < 0.6 ? t('intake.guessed') : confidence < 0.9 ? t('intake.likely') : t('intake.certain');
const choices = fields.map((field) => ({ value: field, label: spoken(fieldLabels[field]) }));
</script>

<template>
  <div
    class="heads grid [min-width:var(--least)] sticky top-0 z-2 bg-fog ruled-b"
    role="row"
    aria-rowindex="1"
    :style="{ gridTemplateColumns: template }"
  >
    <span role="columnheader" class="gutter py-3px px-8px min-w-0 flex flex-col">{{ t('intake.line2') }}</span>
    <span
      v-for="c in columns"
      :key="c.index"
      class="py-3px px-8px min-w-0 flex flex-col"
      role="columnheader"
      :class="{ unsure: c.confidence < 0.6 && c.field !== 'skip', skipped: c.field === 'skip' }"
    >
      <b v-if="isBundle" class="clip">{{ spoken(fieldLabels[c.field]) }}</b>
      <Choice
        v-else
        class="pick w-full"
        :aria-label="t('intake.column', { index: c.index + 1, heading: c.header || t('intake.noHeading') })"
        :value="c.field"
        :options="choices"
        :bordered="false"
        @update:value="(field) => $emit('field', c.index, field)"
      />
      <small v-if="fills[c.index] !== undefined" class="clip c-quiet text-12px">{{
        t('intake.everyCell', { text: fills[c.index] || t('intake.empty') })
      }}</small>
      <small v-else class="clip c-quiet text-12px"
        >{{ c.header || (c.field === 'fullName' ? '' : '—')
        }}<template v-if="c.field === 'fullName'"
          >{{ c.header ? ' · ' : '' }}{{ t('intake.familyNameInBold') }}</template
        ><template v-else-if="c.confidence < 1 && c.field !== 'skip'"> · {{ sure(c) }}</template></small
      >
    </span>
  </div>
</template>

<style scoped>
.heads .unsure {
  background: var(--straw-wash);
  box-shadow: inset 0 -3px 0 var(--straw);
}
.pick :deep(.ant-select-selector) {
  padding-inline: 0;
}
.pick :deep(.ant-select-selection-item) {
  font-size: 13px;
  font-weight: 650;
  padding-inline-end: 12px;
}
.pick :deep(.ant-select-arrow) {
  inset-inline-end: -4px;
}
.heads .skipped .pick :deep(.ant-select-selection-item),
.heads .skipped b {
  font-weight: 400;
  color: var(--quiet);
}
</style>
