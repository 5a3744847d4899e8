<script setup lang="ts">
/** A page of its own: its title with what counts in it, what leads back, one primary button and the others beside it. */
import { onMounted, ref } from 'vue';

defineProps<{ title: string; count?: string }>();
const heading = ref<HTMLElement | null>(null);
onMounted(() => (document.title = `${heading.value?.innerText ?? ''} · Sheaf`));
</script>

<template>
  <section class="page">
    <header class="page-head">
      <div class="grow">
        <p v-if="$slots.back" class="back"><slot name="back" /></p>
        <h1 ref="heading">
          {{ title }}<span v-if="count" class="quiet count">{{ count }}</span>
        </h1>
        <p v-if="$slots.about" class="quiet"><slot name="about" /></p>
      </div>
      <div class="page-acts"><slot name="actions" /></div>
    </header>
    <div class="page-body"><slot /></div>
  </section>
</template>

<style scoped>
.page {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.page-head {
  flex: none;
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px 16px;
  padding: 10px 16px;
  border-bottom: 1px solid var(--rule);
}
h1 {
  overflow-wrap: anywhere;
}
.count {
  margin-left: 10px;
  font-size: 14px;
  font-weight: 400;
}
.back {
  font-size: 13px;
}
.page-acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.page-body {
  flex: 1;
  min-height: 0;
  display: flex;
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
