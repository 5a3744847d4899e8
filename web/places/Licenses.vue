<script setup lang="ts">
/** Licenses: products with their seats, and the materials that they offer. */
import { RouterLink, RouterView } from 'vue-router';

const rooms = [
  ['/licenses', 'Seats'],
  ['/licenses/materials', 'Materials'],
] as const;
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" aria-label="Licenses">
      <RouterLink v-for="[to, label] in rooms" :key="to" :to="to" exact-active-class="here">{{ label }}</RouterLink>
    </nav>
    <RouterView class="room" />
  </div>
</template>
