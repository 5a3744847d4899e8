<script setup lang="ts">
/** Classes: the list, the work that is set for them, and how they use what they hold. */
import { t } from '@/words';
import Rooms from '@/kit/Rooms.vue';

const rooms = [
  ['/classes', t('places.list')],
  ['/classes/groups', t('classes.groups2')],
  ['/classes/work', t('places.assignments')],
  ['/classes/use', t('places.usage')],
] as const;
</script>

<template>
  <Rooms :label="t('places.classes')" :rooms="rooms" />
</template>
