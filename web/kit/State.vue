<script setup lang="ts">
/** What stands where content would be: loading, failed, refused, missing, empty. Each looks different and says how to go on. */
import { t } from '@/words';
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
      failed: t('kit.couldntLoad', { page: props.what ?? t('kit.thisPage') }),
      refused: t('kit.yourRoleDoesNotAllow'),
      missing: t('kit.thereIsNothingAtThis'),
    })[props.kind as 'failed' | 'refused' | 'missing'],
);
const words = computed(
  () =>
    props.message ??
    {
      refused: t('kit.coordinatorsCanOpenThisPage'),
      missing: t('kit.itMayHaveBeenRemoved'),
    }[props.kind as 'refused' | 'missing'],
);
</script>

<template>
  <div v-if="kind === 'loading'" class="state loading flex-1 self-center max-w-640px my-0 mx-auto" role="status">
    <span class="sr">{{ t('kit.loading', { page: what ?? t('kit.thisPage') }) }}</span>
    <Skeleton active :title="false" :paragraph="{ rows: 8 }" />
    <p v-if="slow" class="mt-12px flex gap-12px items-center">
      {{ t('kit.loadingIsTakingLongerThan', { page: what ?? t('kit.thisPage') }) }}
      <Button @click="$emit('again')">{{ t('kit.tryAgain') }}</Button>
    </p>
  </div>
  <Empty
    v-else-if="kind === 'empty'"
    class="state flex-1 self-center max-w-640px my-0 mx-auto"
    :image="Empty.PRESENTED_IMAGE_SIMPLE"
    :description="message"
  >
    <slot />
  </Empty>
  <Result
    v-else
    class="state flex-1 self-center max-w-640px my-0 mx-auto"
    role="alert"
    :status="kind === 'failed' ? 'error' : 'info'"
  >
    <template #title
      ><component :is="isPanel ? 'h2' : 'h1'">{{ title }}</component></template
    >
    <template #subTitle
      ><p>{{ words }}</p></template
    >
    <template #extra>
      <Button v-if="kind === 'failed'" type="primary" @click="$emit('again')">{{ t('kit.tryAgain') }}</Button>
      <RouterLink v-else-if="!isPanel" to="/">{{ t('kit.goToToday') }}</RouterLink>
    </template>
  </Result>
</template>

<style scoped>
.loading {
  align-self: stretch;
  width: 100%;
  max-width: none;
  padding: 16px;
}
.state :deep(.ant-result-icon > .anticon) {
  font-size: 32px;
}
</style>
