<script setup lang="ts">
/** What stays around every place: head line, year ribbon, places, the place itself, work in progress, the sheaf. */
import { t } from '@/words';
import { useEventListener } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { RouterView, useRoute, useRouter } from 'vue-router';
import Part from '@/kit/Part.vue';
import State from '@/kit/State.vue';
import { places } from '@/router';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import HeadLine from './HeadLine.vue';
import { addressOf } from './last';
import HelpSheet from './HelpSheet.vue';
import PlacesRow from './PlacesRow.vue';
import SheafBar from './SheafBar.vue';
import WorkLine from './WorkLine.vue';
import YearRibbon from './YearRibbon.vue';

const router = useRouter();
const route = useRoute();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const help = ref(false);
/** Places of coordinators say so to others, who would see empty lists. */
const isTheirs = computed(() => session.isCoordinator || !route.matched.some(({ meta }) => meta.coordinators));
onMounted(() => sheaf.load());
// What was said in one place is not said in the next one. At once, since who leads there may say more on arriving.
watch(
  () => route.path,
  () => (work.notice = null),
  { flush: 'sync' },
);
/** Past the frame, to where the keys of the place work. */
const skip = () =>
  (document.querySelector<HTMLElement>('.place [role=grid]') ?? document.getElementById('place'))?.focus();

useEventListener(window, 'keydown', (event) => {
  // A worksheet took it: typed into a cell, "/" is a slash.
  if (event.defaultPrevented) return;
  const typing =
    event.target instanceof HTMLElement && event.target.matches('input, textarea, select, [contenteditable]');
  if (event.altKey && /^[1-9]$/.test(event.key)) {
    const place = places.find(({ key }) => String(key) === event.key);
    if (place && (session.isCoordinator || !place.coordinatorsOnly))
      void router.push(addressOf(place.path, route.path));
  } else if (event.key === '/' && !typing) document.querySelector<HTMLInputElement>('#find')?.focus();
  else if (event.key === '?' && !typing) help.value = !help.value;
  else return;
  event.preventDefault();
});
</script>

<template>
  <div v-if="session.me" class="frame h-full flex flex-col">
    <a href="#place" class="skip absolute z-30 py-8px px-16px bg-sheet" @click.prevent="skip">{{
      t('frame.skipToContent')
    }}</a>
    <HeadLine @help="help = true" />
    <YearRibbon />
    <PlacesRow />
    <main id="place" class="place" tabindex="-1">
      <State v-if="!isTheirs" kind="refused" />
      <Part v-else><RouterView :key="String($route.params.id ?? '')" /></Part>
    </main>
    <WorkLine />
    <SheafBar v-if="sheaf.state.count > 0" />
    <HelpSheet v-model:open="help" />
  </div>
</template>

<style scoped>
.place {
  flex: 1;
  min-height: 0;
  display: flex;
  outline: none;
}
.skip:not(:focus) {
  position: absolute;
  clip-path: inset(50%);
}
@media (max-width: 700px) {
  .frame > :deep(.ribbon) {
    display: none;
  }
  .frame > :deep(.places) {
    order: 1;
    border-bottom: 0;
    border-top: 1px solid var(--rule);
    overflow-x: auto;
  }
}
.place > :deep(*) {
  flex: 1;
  min-width: 0;
}
</style>
