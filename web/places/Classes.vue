<script setup lang="ts">
/** Classes: the list, the work that is set for them, and how they use what they hold. */
import { t } from '@/words';
import { RouterLink, RouterView } from 'vue-router';

const rooms = [
  ['/classes', t('places.list')],
  ['/classes/work', t('places.assignments')],
  ['/classes/use', t('places.usage')],
] as const;
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" :aria-label="t('places.classes')">
      <RouterLink v-for="[to, label] in rooms" :key="to" :to="to" exact-active-class="here">{{ label }}</RouterLink>
    </nav>
    <RouterView class="room" />
  </div>
</template>
