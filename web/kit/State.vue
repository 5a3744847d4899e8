<script setup lang="ts">
/** What stands where content would be: loading, failed, refused, missing, empty. Each looks different and says how to go on. */
import { Button, Empty, Result, Skeleton } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';

const props = defineProps<{
  kind: 'loading' | 'failed' | 'refused' | 'missing' | 'empty';
  /** As in "Couldn’t load classes". */
  what?: string;
  message?: string;
  /** It loads for longer than usual. */
  slow?: boolean;
  /** It stands in the place of a part of a page that has a heading of its own. */
  isPanel?: boolean;
}>();
defineEmits<{ again: [] }>();

const title = computed(
  () =>
    ({
      failed: `Couldn’t load ${props.what ?? 'this page'}`,
      refused: 'Your role does not allow this',
      missing: 'There is nothing at this address',
    })[props.kind as 'failed' | 'refused' | 'missing'],
);
const words = computed(
  () =>
    props.message ??
    {
      refused: 'Coordinators can open this page. If you need it, ask your coordinator.',
      missing: 'It may have been removed, or the link may be wrong.',
    }[props.kind as 'refused' | 'missing'],
);
</script>

<template>
  <div v-if="kind === 'loading'" class="state loading" role="status">
    <span class="sr">Loading {{ what ?? 'this page' }}</span>
    <Skeleton active :title="false" :paragraph="{ rows: 8 }" />
    <p v-if="slow" class="slow">
      Loading {{ what ?? 'this page' }} is taking longer than usual.
      <Button @click="$emit('again')">Try again</Button>
    </p>
  </div>
  <Empty v-else-if="kind === 'empty'" class="state" :image="Empty.PRESENTED_IMAGE_SIMPLE" :description="message">
    <slot />
  </Empty>
  <Result v-else class="state" role="alert" :status="kind === 'failed' ? 'error' : 'info'">
    <template #title
      ><component :is="isPanel ? 'h2' : 'h1'">{{ title }}</component></template
    >
    <template #subTitle
      ><p>{{ words }}</p></template
    >
    <template #extra>
      <Button v-if="kind === 'failed'" type="primary" @click="$emit('again')">Try again</Button>
      <RouterLink v-else-if="!isPanel" to="/">Go to Today</RouterLink>
    </template>
  </Result>
</template>

<style scoped>
.state {
  flex: 1;
  align-self: center;
  max-width: 640px;
  margin: 0 auto;
}
.loading {
  align-self: stretch;
  width: 100%;
  max-width: none;
  padding: 16px;
}
.state :deep(.ant-result-icon > .anticon) {
  font-size: 32px;
}
.slow {
  margin-top: 12px;
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
