<script setup lang="ts">
/** A school's sign-in address for its wall. */
import { t } from '@/words';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import Poster from '@/frame/Poster.vue';
import { useLoad } from '@/kit/load';

const route = useRoute();
const at = computed(() => String(route.params.door));
const door = useLoad(t('district.theSignInPage'), 'GET /api/door', () => ({ query: { at: at.value } }), {
  retry: false,
  alone: true,
});
const url = computed(() => `${window.location.origin}/d/${at.value}`);
</script>

<template>
  <Poster v-if="door.data.value" :title="door.data.value.school ?? door.data.value.district" :url="url">
    <p>{{ t('district.signInHere') }}</p>
    <p class="address">{{ url.replace(/^https?:\/\//, '') }}</p>
    <p v-if="door.data.value.ways.includes('card')">{{ t('district.orScanYourCard') }}</p>
    <p>
      <a :href="`/api/door-posters/${at}`" target="_blank">{{ t('district.posterToPrint') }}</a>
    </p>
  </Poster>
  <p v-else-if="door.error.value" role="alert">{{ door.error.value.message }}</p>
</template>
