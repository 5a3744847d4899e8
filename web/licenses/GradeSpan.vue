<script setup lang="ts">
/** From which grade to which, each of them or any. */
import Choice from '@/kit/Choice.vue';
import { SelectOption } from 'ant-design-vue';
import { gradeLabel, grades } from '#core/tabular/values';

const low = defineModel<string | null>('low', { required: true });
const high = defineModel<string | null>('high', { required: true });
</script>

<template>
  <label
    >grades
    <Choice v-model:value="low" aria-label="lowest of its grades">
      <SelectOption :value="null">any</SelectOption>
      <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
    </Choice>
    to
    <Choice v-model:value="high" aria-label="highest of its grades">
      <SelectOption :value="null">any</SelectOption>
      <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
    </Choice></label
  >
</template>
