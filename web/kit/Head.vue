<script setup lang="ts">
/**
 * The head of a place or a page: its title with what counts in it, what narrows it, one primary button and the others
 * beside it. The one first-level heading of the page, whose title it gives as well.
 */
import { watchEffect } from 'vue';

const props = defineProps<{ title: string; count?: string }>();
watchEffect(() => (document.title = `${props.title} · Sheaf`));
</script>

<template>
  <header class="page-head">
    <div class="grow">
      <p v-if="$slots.back" class="back"><slot name="back" /></p>
      <h1>
        {{ title
        }}<template v-if="count"
          >{{ ' ' }}<span class="quiet count">{{ count }}</span></template
        >
      </h1>
      <p v-if="$slots.about" class="quiet"><slot name="about" /></p>
    </div>
    <div v-if="$slots.narrow" class="page-acts narrow"><slot name="narrow" /></div>
    <div class="page-acts"><slot name="actions" /></div>
  </header>
</template>

<style scoped>
.page-head {
  flex: none;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  padding: 8px 16px;
  border-bottom: 1px solid var(--rule);
}
/* The buttons go below the title before it is squeezed. */
.page-head > .grow {
  min-width: min(200px, 100%);
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
  align-items: center;
  gap: 8px;
}
.narrow :deep(.ant-input-affix-wrapper),
.narrow > :deep(.ant-input) {
  width: 190px;
}
</style>
