<script setup lang="ts">
/** Stands at the top while the database is away, over whatever page is there. */
import { t } from '@/words';
import { Alert } from 'ant-design-vue';
import { isAway } from '@/away';
</script>

<template>
  <div v-if="isAway" role="status">
    <Alert banner type="warning" :message="t('frame.sheafCannotReachItsDatabase')" />
  </div>
</template>

<style scoped>
/* Over whatever page is there, also before one is. */
div[role='status'] {
  position: fixed;
  inset: 0 0 auto;
  z-index: 2000;
}
</style>
