<script setup lang="ts">
/** A full square: given; a hollow one: back; a bar: counted; a dot: go on; a rhomb: wrong; dotted: not booked yet. */
import type { Tone } from '#core/devices/index';

defineProps<{ tone: Tone | 'kept' }>();
</script>

<template>
  <i class="flex-none w-14px h-14px [border:2px_solid_var(--quiet)]" :class="tone" aria-hidden="true" />
</template>

<style scoped>
.kept {
  border-style: dotted;
}
:is(.taken, .returned, .counted) {
  border-color: var(--stem);
}
:is(.taken, .counted) {
  background: var(--stem);
}
.counted {
  height: 5px;
}
.noted {
  width: 8px;
  height: 8px;
  border-radius: 50%;
  margin: 0 3px;
}
.wrong {
  background: var(--rust);
  border-color: var(--rust);
  transform: rotate(45deg) scale(0.8);
}
</style>
