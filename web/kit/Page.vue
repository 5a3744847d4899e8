<script setup lang="ts">
/** A page of its own: its head, and what it shows below; `scrolls`: as one sheet that is scrolled. */
import Head from './Head.vue';

defineProps<{ title: string; count?: string; scrolls?: boolean }>();
</script>

<template>
  <section class="page flex flex-col min-h-0">
    <Head :title="title" :count="count">
      <template v-if="$slots.back" #back><slot name="back" /></template>
      <template v-if="$slots.about" #about><slot name="about" /></template>
      <template v-if="$slots.narrow" #narrow><slot name="narrow" /></template>
      <template #actions><slot name="actions" /></template>
    </Head>
    <div class="page-body flex-1 min-h-0 flex" :class="{ scrolls }"><slot /></div>
  </section>
</template>

<style scoped>
/* What is placed in it goes with it. */
.page-body.scrolls {
  position: relative;
  flex-direction: column;
  gap: 20px;
  overflow: auto;
  padding: 16px 16px 32px;
}
@media (max-width: 700px) {
  .page {
    overflow: auto;
  }
  .page-body {
    flex: none;
    flex-direction: column;
  }
}
</style>
