<script setup lang="ts">
/** The ledger: what was applied, the log of passwords and prints, the lists of a past date. */
import { t } from '@/words';
import Rooms from '@/kit/Rooms.vue';

const rooms = [
  ['/ledger', t('places.appliedAndUndone')],
  ['/ledger/log', t('places.passwordAndPrintLog')],
  ['/ledger/past', t('places.onAPastDate')],
] as const;
</script>

<template>
  <Rooms :label="t('places.ledger')" :rooms="rooms" />
</template>
