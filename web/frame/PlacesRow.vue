<script setup lang="ts">
import { t } from '@/words';
import { computed } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import { places } from '@/router';
import { useSession } from '@/stores/session';
import { addressOf } from './last';

const session = useSession();
const route = useRoute();
const shown = computed(() => places.filter((place) => session.isCoordinator || !place.coordinatorsOnly));
/** A plan is looked at from where it came. */
const isHere = (path: string) =>
  path === '/'
    ? route.path === '/'
    : route.path.startsWith(path) ||
      (path === '/ledger' && route.path.startsWith('/plans')) ||
      (path === '/classes' && route.path.startsWith('/groups'));
</script>

<template>
  <nav class="places flex-none flex gap-20px py-0 px-16px h-34px ruled-b items-center" :aria-label="t('frame.places2')">
    <RouterLink
      v-for="place in shown"
      :key="place.path"
      :to="addressOf(place.path, route.path)"
      :class="{ here: isHere(place.path) }"
      :aria-current="isHere(place.path) ? 'page' : undefined"
      :title="t('frame.alt', { key: place.key })"
      >{{ t(place.name) }}</RouterLink
    >
  </nav>
</template>

<style scoped>
.places a {
  color: var(--ink);
  text-decoration: none;
  height: 100%;
  display: flex;
  align-items: center;
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
}
.places a:hover {
  border-bottom-color: var(--rule);
}
.places a.here {
  font-weight: 650;
  border-bottom-color: var(--stem);
}
</style>
