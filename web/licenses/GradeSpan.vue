<script setup lang="ts">
/** From which grade to which, each of them or any. */
import { gradeLabel, grades } from '#core/tabular/values';

const low = defineModel<string | null>('low', { required: true });
const high = defineModel<string | null>('high', { required: true });
</script>

<template>
  <label
    >grades
    <select v-model="low" class="pick" aria-label="lowest of its grades">
      <option :value="null">any</option>
      <option v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</option>
    </select>
    to
    <select v-model="high" class="pick" aria-label="highest of its grades">
      <option :value="null">any</option>
      <option v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</option>
    </select></label
  >
</template>
