<script setup lang="ts">
/** Licenses: products with their seats, and the materials that they offer. */
import { t } from '@/words';
import { RouterLink, RouterView } from 'vue-router';

const rooms = [
  ['/licenses', t('places.seats')],
  ['/licenses/materials', t('places.materials')],
] as const;
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" :aria-label="t('places.licenses2')">
      <RouterLink v-for="[to, label] in rooms" :key="to" :to="to" exact-active-class="here">{{ label }}</RouterLink>
    </nav>
    <RouterView class="room" />
  </div>
</template>
