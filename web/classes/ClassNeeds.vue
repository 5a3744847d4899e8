<script setup lang="ts">
/** How many students of a class need what; each number opens them. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { ClassRow } from '../../server/contract';
import { useClassActions } from './actions';

const props = defineProps<{ one: ClassRow }>();
const { missing } = useClassActions(() => props.one);
const needs = computed(() =>
  (
    [
      ['card', props.one.lackCard, t('classes.countNeedCards', { n: props.one.lackCard })],
      ['seats', props.one.lackSeats, t('classes.countNeedSeats', { n: props.one.lackSeats })],
      ['device', props.one.lackDevice, t('classes.countNeedDevices', { n: props.one.lackDevice })],
    ] as const
  ).filter(([, n]) => n > 0),
);
</script>

<template>
  <p v-if="needs.length > 0" class="row flex-wrap">
    <Button v-for="[key, , words] in needs" :key="key" danger size="small" @click="missing(key)">{{ words }}</Button>
  </p>
</template>
