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
  <header class="page-head flex-none flex flex-wrap items-center gap-y-8px gap-x-16px py-8px px-16px ruled-b">
    <div class="grow [min-width:min(200px,100%)]">
      <p v-if="$slots.back" class="back text-13px"><slot name="back" /></p>
      <h1 class="break-anywhere">
        {{ title
        }}<template v-if="count"
          >{{ ' ' }}<span class="quiet count ml-10px text-14px font-400">{{ count }}</span></template
        >
      </h1>
      <p v-if="$slots.about" class="quiet"><slot name="about" /></p>
    </div>
    <div v-if="$slots.narrow" class="page-acts narrow flex flex-wrap items-center gap-8px"><slot name="narrow" /></div>
    <div class="page-acts flex flex-wrap items-center gap-8px"><slot name="actions" /></div>
  </header>
</template>

<style scoped>
.narrow :deep(.ant-input-affix-wrapper),
.narrow > :deep(.ant-input) {
  width: 190px;
}
</style>
