<script setup lang="ts">
/** Devices: the list, the carts, the scan loop, and what is to be collected and replaced. */
import { t } from '@/words';
import { RouterLink, RouterView } from 'vue-router';

const rooms = [
  ['/devices', t('places.list')],
  ['/devices/carts', t('places.carts')],
  ['/devices/scan', t('places.scan')],
  ['/devices/stock', t('places.distribution')],
] as const;
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" :aria-label="t('places.devices')">
      <RouterLink v-for="[to, label] in rooms" :key="to" :to="to" exact-active-class="here">{{ label }}</RouterLink>
    </nav>
    <RouterView class="room" />
  </div>
</template>
