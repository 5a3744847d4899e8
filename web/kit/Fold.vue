<script setup lang="ts">
/** What is shown when it is asked for: a line that says what it is, and the rest below it. */
import { Collapse, CollapsePanel } from 'ant-design-vue';
import { ref } from 'vue';

/** `open`: shown from the beginning. */
const props = defineProps<{ label: string; open?: boolean }>();
const shown = ref<string[]>(props.open ? ['it'] : []);
</script>

<template>
  <Collapse
    :active-key="shown"
    ghost
    class="fold"
    @change="(keys: unknown) => (shown = ([] as string[]).concat(keys as string[]))"
  >
    <CollapsePanel key="it" :header="label"><slot /></CollapsePanel>
  </Collapse>
</template>

<style scoped>
.fold :deep(.ant-collapse-item > .ant-collapse-header) {
  padding: 2px 0;
  color: inherit;
}
.fold :deep(.ant-collapse-content > .ant-collapse-content-box) {
  padding: 0 0 4px 24px;
  color: inherit;
}
</style>
