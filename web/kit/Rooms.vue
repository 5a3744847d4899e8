<script setup lang="ts">
/** A place that has several rooms: their names in a row, or beside where they are many, and the one that is open. */
import { computed, nextTick, ref, watch } from 'vue';
import { RouterLink, RouterView, useRoute } from 'vue-router';

const props = defineProps<{
  label: string;
  rooms: readonly (readonly [address: string, name: string])[];
  beside?: boolean;
}>();
const route = useRoute();
const here = computed(() =>
  props.rooms
    .map(([address]) => address)
    .filter((address) => route.path === address || route.path.startsWith(`${address}/`))
    .reduce((longest, address) => (address.length > longest.length ? address : longest), ''),
);
const list = ref<HTMLElement | null>(null);
// Where the row is longer than the page, the open one is in it.
watch(
  here,
  async () => {
    await nextTick();
    list.value?.querySelector('.here')?.scrollIntoView({ block: 'nearest', inline: 'center' });
  },
  { immediate: true },
);
</script>

<template>
  <div class="place-with-rooms" :class="{ 'with-column': beside }">
    <nav ref="list" class="rooms" :aria-label="label">
      <RouterLink
        v-for="[to, name] in rooms"
        :key="to"
        :to="to"
        :class="{ here: to === here }"
        :aria-current="to === here ? 'page' : undefined"
        >{{ name }}</RouterLink
      >
    </nav>
    <RouterView v-if="!$slots.default" class="room" />
    <RouterView v-else v-slot="slot"><slot v-bind="slot" /></RouterView>
  </div>
</template>
