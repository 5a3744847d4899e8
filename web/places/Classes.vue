<script setup lang="ts">
/** Classes: the list, the work that is set for them, and how they use what they hold. */
import { RouterLink, RouterView } from 'vue-router';

const rooms = [
  ['/classes', 'List'],
  ['/classes/work', 'Set work'],
  ['/classes/use', 'Use'],
] as const;
</script>

<template>
  <div class="place-with-rooms">
    <nav class="rooms" aria-label="Classes">
      <RouterLink v-for="[to, label] in rooms" :key="to" :to="to" exact-active-class="here">{{ label }}</RouterLink>
    </nav>
    <RouterView class="room" />
  </div>
</template>
