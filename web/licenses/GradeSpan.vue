<script setup lang="ts">
/** From which grade to which, each of them or any. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { SelectOption } from 'ant-design-vue';
import { gradeLabel, grades } from '#core/tabular/values';

const low = defineModel<string | null>('low', { required: true });
const high = defineModel<string | null>('high', { required: true });
</script>

<template>
  <label
    >{{ t('licenses.grades') }}
    <Choice v-model:value="low" :aria-label="t('licenses.lowestGrade')">
      <SelectOption :value="null">{{ t('licenses.any') }}</SelectOption>
      <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
    </Choice>
    {{ t('licenses.to') }}
    <Choice v-model:value="high" :aria-label="t('licenses.highestGrade')">
      <SelectOption :value="null">{{ t('licenses.any') }}</SelectOption>
      <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
    </Choice></label
  >
</template>
