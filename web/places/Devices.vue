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
  <div class="devices">
    <nav class="rooms" aria-label="Devices">
      <RouterLink v-for="[to, label] in rooms" :key="to" :to="to" exact-active-class="here">{{ label }}</RouterLink>
    </nav>
    <RouterView class="room" />
  </div>
</template>

<style scoped>
.devices {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.rooms {
  flex: none;
  display: flex;
  gap: 20px;
  padding: 5px 16px;
  font-size: 13px;
  border-bottom: 1px solid var(--rule);
}
.rooms a {
  color: var(--quiet);
  text-decoration: none;
  min-height: 24px;
}
.rooms a:hover {
  text-decoration: underline;
}
.rooms .here {
  color: var(--ink);
  font-weight: 650;
  box-shadow: 0 2px 0 var(--straw);
}
.room {
  flex: 1;
  min-height: 0;
}
</style>
