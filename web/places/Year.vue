<script setup lang="ts">
/** Year: the roll-over, next year's grades split into classes, the archive, and what is purged when. */
import { computed } from 'vue';
import { RouterLink, RouterView, useRoute } from 'vue-router';
import { useSession } from '@/stores/session';

const session = useSession();
const route = useRoute();
const rooms = computed(() => [
  ...(session.may('year') ? [['/year', 'Roll-over'] as const] : []),
  ['/year/sections', 'Sections'] as const,
  ['/year/archive', 'Archive'] as const,
  ...(session.may('retention') ? [['/year/retention', 'Retention'] as const] : []),
]);
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" aria-label="Year">
      <RouterLink
        v-for="[to, label] in rooms"
        :key="to"
        :to="to"
        exact-active-class="here"
        :class="{ here: to !== '/year' && route.path.startsWith(`${to}/`) }"
        >{{ label }}</RouterLink
      >
    </nav>
    <RouterView class="room" />
  </div>
</template>
