<script setup lang="ts">
/** What somebody is missing, as a list shows it. */
import type { Lack } from '../../server/contract';

defineProps<{ lacks: readonly Lack[] }>();
const words: Record<Lack, string> = {
  account: 'account',
  class: 'class',
  seats: 'seat',
  device: 'device',
  card: 'card',
  'signed-in': 'first sign-in',
};
</script>

<template>
  <span
    ><span v-for="lack in lacks" :key="lack" class="lack" :class="lack"
      ><i aria-hidden="true" />{{ words[lack] }}</span
    ></span
  >
</template>

<style scoped>
.lack {
  margin-right: 8px;
  color: var(--rust);
  font-size: 13px;
}
.lack i {
  display: inline-block;
  width: 8px;
  height: 8px;
  border: 1.5px solid currentColor;
  border-right-width: 0;
  margin-right: 3px;
}
.lack.signed-in {
  color: var(--quiet);
}
</style>
