<script setup lang="ts">
/** How many students of a class need what; each number opens them. */
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { ClassRow } from '../../server/contract';
import { counted } from '#core/plan/counted';
import { useClassActions } from './actions';

const props = defineProps<{ one: ClassRow }>();
const { missing } = useClassActions(() => props.one);
const needs = computed(() =>
  (
    [
      ['card', props.one.lackCard, ['needs a card', 'need cards']],
      ['seats', props.one.lackSeats, ['needs a seat', 'need seats']],
      ['device', props.one.lackDevice, ['needs a device', 'need devices']],
    ] as const
  ).filter(([, n]) => n > 0),
);
</script>

<template>
  <p v-if="needs.length > 0" class="row needs">
    <Button v-for="[key, n, words] in needs" :key="key" danger size="small" @click="missing(key)">{{
      counted(n, words)
    }}</Button>
  </p>
</template>

<style scoped>
.needs {
  flex-wrap: wrap;
}
</style>
