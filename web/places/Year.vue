<script setup lang="ts">
/** Year: the roll-over, next year's grades split into classes, the archive, and what is purged when. */
import { t } from '@/words';
import { computed } from 'vue';
import { RouterLink, RouterView, useRoute } from 'vue-router';
import { useSession } from '@/stores/session';

const session = useSession();
const route = useRoute();
const rooms = computed(() => [
  ...(session.may('year') ? [['/year', t('places.rollOver')] as const] : []),
  ['/year/sections', t('places.sections')] as const,
  ['/year/archive', t('places.archive')] as const,
  ...(session.may('retention') ? [['/year/retention', t('places.retention')] as const] : []),
]);
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" :aria-label="t('places.year')">
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
