<script setup lang="ts">
/** Devices: the list, the carts, the scan loop, and what is to be collected and replaced. */
import { RouterLink, RouterView } from 'vue-router';

const rooms = [
  ['/devices', 'List'],
  ['/devices/carts', 'Carts'],
  ['/devices/scan', 'Scan'],
  ['/devices/stock', 'Giving out, collecting, replacing'],
] as const;
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" aria-label="Devices">
      <RouterLink v-for="[to, label] in rooms" :key="to" :to="to" exact-active-class="here">{{ label }}</RouterLink>
    </nav>
    <RouterView class="room" />
  </div>
</template>
