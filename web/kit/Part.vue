<script setup lang="ts">
/**
 * A part of a page that shows what it loads: hidden until everything is there, replaced by what failed, and marked
 * where it is out of date. It knows of what the components in it load, see load.ts.
 */
import { locale, t } from '@/words';
import { type QueryFilters, useQueryClient } from '@tanstack/vue-query';
import { useTimeoutFn } from '@vueuse/core';
import { Alert, Button } from 'ant-design-vue';
import { computed, inject, nextTick, provide, ref, shallowReactive, watch } from 'vue';
import { CallError } from '@/api';
import { timeWords } from '#core/time/index';
import { zone } from '@/place';
import { giveUpWaiting, type Load, partKey } from './load';
import State from './State.vue';

/** `of`: what is loaded around it and shown in it; `fit`: it takes the room that it needs, as a panel or a form does. */
const props = defineProps<{ of?: readonly Load[]; fit?: boolean }>();
const within = shallowReactive(new Set<Load>());
const loads = computed(() => [...(props.of ?? []), ...within]);
const around = inject(partKey, null);

const failed = computed(() => loads.value.filter((load) => load.error !== null && !load.hasData));
const loading = computed(() => loads.value.filter((load) => load.isLoading && !load.hasData));
const outdated = computed(() => loads.value.filter((load) => load.error !== null && load.hasData));
const kind = computed(() => {
  const [first] = failed.value;
  if (first) {
    const status = first.error instanceof CallError ? first.error.status : 0;
    return status === 403 ? 'refused' : status === 404 ? 'missing' : 'failed';
  }
  return loading.value.length > 0 ? 'loading' : null;
});
const concerned = computed(() => failed.value[0] ?? loading.value[0]);
const client = useQueryClient();
/** What failed or hangs elsewhere on the page, and around it, most likely does for the same reason. */
async function again(some: readonly Load[]): Promise<void> {
  const without: QueryFilters = { type: 'active', predicate: ({ state }) => state.data === undefined };
  // What hangs is given up first, or it would be waited for once more.
  await client.cancelQueries(without);
  giveUpWaiting();
  for (const load of some) if (load.hasData) void load.again();
  await client.refetchQueries(without);
}

/** What is there at once is not announced by a flash. */
const hasBegun = ref(false);
/** What is shown stays while something is added to it that comes at once. */
const wasShown = ref(false);
const isShown = computed(() => kind.value === null || (kind.value === 'loading' && wasShown.value && !hasBegun.value));
const isSlow = ref(false);
const begins = useTimeoutFn(() => (hasBegun.value = true), 200, { immediate: false });
const drags = useTimeoutFn(() => (isSlow.value = true), 8000, { immediate: false });
const waiting: (() => void)[] = [];
/** By then something in it may have begun to load. */
const shown = () => {
  if (kind.value === null) for (const then of waiting.splice(0)) then();
};
watch(
  kind,
  (is) => {
    hasBegun.value = isSlow.value = false;
    wasShown.value = (is === null && loads.value.length > 0) || (is === 'loading' && wasShown.value);
    for (const timer of [begins, drags])
      if (is === 'loading') timer.start();
      else timer.stop();
    // The content is shown at the very end of this update.
    if (is === null) void nextTick(shown);
  },
  { immediate: true, flush: 'post' },
);

provide(partKey, {
  add: (load) => {
    within.add(load);
    return () => void within.delete(load);
  },
  whenShown: (then) => {
    const here = () => (around ? around.whenShown(then) : then());
    if (kind.value === null) here();
    else waiting.push(here);
  },
});
</script>

<template>
  <div class="part min-w-0 min-h-0 flex flex-col" :class="{ fit }">
    <State
      v-if="kind && (kind !== 'loading' || hasBegun)"
      :kind="kind"
      :what="concerned?.what"
      :message="kind === 'failed' || kind === 'refused' ? concerned?.error?.message : undefined"
      :slow="isSlow"
      :is-panel="fit"
      @again="again(kind === 'failed' ? failed : loading)"
    />
    <div v-show="isShown" class="shown min-w-0 min-h-0 flex flex-col">
      <div v-for="load in outdated" :key="load.what" role="status">
        <Alert banner type="warning">
          <template #message>{{
            t('kit.couldntLoadAgainYouSee', {
              what: load.what,
              timeWords: timeWords(zone, new Date(load.loadedAt).toISOString(), locale),
            })
          }}</template>
          <template #action
            ><Button size="small" @click="again([load])">{{ t('kit.tryAgain') }}</Button></template
          >
        </Alert>
      </div>
      <div class="content flex-1 min-h-0 flex"><slot /></div>
    </div>
  </div>
</template>

<style scoped>
.part:not(.fit) {
  height: 100%;
}
.part:not(.fit),
.shown {
  flex: 1;
}
/* The place around it can override this. */
:where(.part.fit) {
  flex: none;
}
.content > :deep(*) {
  flex: 1 1 auto;
  min-width: 0;
}
.part:not(.fit) > .shown > .content > :deep(*) {
  flex-basis: 0;
}
</style>
