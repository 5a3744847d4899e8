<script setup lang="ts">
/** What somebody is missing, as a list shows it. */
import { t } from '@/words';
import type { Lack } from '../../server/contract';

defineProps<{ lacks: readonly Lack[] }>();
const words: Record<Lack, string> = {
  account: t('people.account'),
  class: t('people.class'),
  seats: t('people.seat'),
  device: t('people.device'),
  card: t('people.card'),
  'signed-in': t('people.firstSignIn'),
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
