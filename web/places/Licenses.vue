<script setup lang="ts">
/** Licenses: products with their seats, and the materials that they offer. */
import { t } from '@/words';
import Rooms from '@/kit/Rooms.vue';

const rooms = [
  ['/licenses', t('places.seats')],
  ['/licenses/materials', t('places.materials')],
] as const;
</script>

<template>
  <Rooms :label="t('places.licenses2')" :rooms="rooms" />
</template>
