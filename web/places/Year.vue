<script setup lang="ts">
/** Year: the roll-over, next year's grades split into classes, the archive, and what is purged when. */
import { t } from '@/words';
import { computed } from 'vue';
import Rooms from '@/kit/Rooms.vue';
import { useSession } from '@/stores/session';

const session = useSession();
const rooms = computed(() => [
  ...(session.may('year') ? [['/year', t('places.rollOver')] as const] : []),
  ['/year/sections', t('places.sections')] as const,
  ['/year/archive', t('places.archive')] as const,
  ...(session.may('retention') ? [['/year/retention', t('places.retention')] as const] : []),
]);
</script>

<template>
  <Rooms :label="t('places.year')" :rooms="rooms" />
</template>
