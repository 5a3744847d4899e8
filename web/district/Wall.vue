<script setup lang="ts">
/** A school's sign-in address for its wall. */
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { call } from '@/api';
import Poster from '@/frame/Poster.vue';

const route = useRoute();
const at = computed(() => String(route.params.door));
const door = useQuery({
  queryKey: ['door', at],
  queryFn: () => call('GET /api/door', { query: { at: at.value } }),
  retry: false,
});
const url = computed(() => `${window.location.origin}/d/${at.value}`);
</script>

<template>
  <Poster v-if="door.data.value" :title="door.data.value.school ?? door.data.value.district" :url="url">
    <p>Sign in here:</p>
    <p class="address">{{ url.replace(/^https?:\/\//, '') }}</p>
    <p v-if="door.data.value.ways.includes('card')">or scan your card.</p>
    <p><a :href="`/api/door-posters/${at}`" target="_blank">A poster to print</a></p>
  </Poster>
  <p v-else-if="door.error.value" role="alert">{{ door.error.value.message }}</p>
</template>
