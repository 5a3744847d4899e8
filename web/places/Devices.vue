<script setup lang="ts">
/** Devices: the list, the carts, the scan loop, and what is to be collected and replaced. */
import { t } from '@/words';
import Rooms from '@/kit/Rooms.vue';

const rooms = [
  ['/devices', t('places.list')],
  ['/devices/carts', t('places.carts')],
  ['/devices/scan', t('places.scan')],
  ['/devices/stock', t('places.distribution')],
] as const;
</script>

<template>
  <Rooms :label="t('places.devices')" :rooms="rooms" />
</template>
