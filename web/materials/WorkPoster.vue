<script setup lang="ts">
/** The way to one assignment, for the projector or a sheet of paper: its title, the address, a QR. */
import { t } from '@/words';
import { useRoute } from 'vue-router';
import Poster from '@/frame/Poster.vue';
import { useLoad } from '@/kit/load';

const route = useRoute();
const sheet = useLoad(t('materials.theAssignment'), 'GET /api/work/:id', () => ({ id: String(route.params.id) }), {
  alone: true,
});
</script>

<template>
  <Poster v-if="sheet.data.value" :title="sheet.data.value.work.title" :url="sheet.data.value.url">
    <p>{{ sheet.data.value.work.className }}</p>
    <p>{{ t('materials.scanItOrGoTo') }}</p>
    <p class="address">{{ sheet.data.value.url }}</p>
  </Poster>
</template>
