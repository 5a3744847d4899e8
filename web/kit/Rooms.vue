<script setup lang="ts">
/** A place that has several rooms: their names in a row, the one that is open below. */
import { computed } from 'vue';
import { RouterLink, RouterView, useRoute } from 'vue-router';

const props = defineProps<{ label: string; rooms: readonly (readonly [address: string, name: string])[] }>();
const route = useRoute();
const here = computed(() =>
  props.rooms
    .map(([address]) => address)
    .filter((address) => route.path === address || route.path.startsWith(`${address}/`))
    .reduce((longest, address) => (address.length > longest.length ? address : longest), ''),
);
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" :aria-label="label">
      <RouterLink
        v-for="[to, name] in rooms"
        :key="to"
        :to="to"
        :class="{ here: to === here }"
        :aria-current="to === here ? 'page' : undefined"
        >{{ name }}</RouterLink
      >
    </nav>
    <RouterView class="room" />
  </div>
</template>
