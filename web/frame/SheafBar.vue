<script setup lang="ts">
/** The sheaf at the foot: how many, by grade and class, and what can be done with all of them at once. */
import { locale, t } from '@/words';
import { Button } from 'ant-design-vue';
import { useElementSize, useMediaQuery } from '@vueuse/core';
import More from '@/kit/More.vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';

/** With all that it can order, only once something is. */
const VerbSheet = defineAsyncComponent(() => import('./VerbSheet.vue'));
const sheaf = useSheaf();
const session = useSession();
const work = useWork();
const router = useRouter();
const most = computed(() => Math.max(1, ...sheaf.state.byGrade.map(({ count }) => count)));

const name = ref<string | null>(null);
const nameIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();
async function keep(): Promise<void> {
  const wanted = name.value?.trim();
  name.value = null;
  if (!wanted) return;
  try {
    const kept = await call('POST /api/sheaves', { body: { name: wanted } });
    work.say(t('frame.peopleAreSavedAsUnder', { count: kept.count, name: kept.name }));
    sheaf.version++;
  } catch (error) {
    work.wrong(error);
  }
}
const verb = ref<'enroll' | 'group' | 'seats' | 'devices' | 'move' | 'hold' | 'leave' | 'ready' | null>(null);
const all = [
  ['ready', t('frame.provision')],
  ['enroll', t('frame.enroll')],
  ['group', t('frame.group')],
  ['seats', t('frame.seats')],
  ['devices', t('frame.devices')],
  ['move', t('frame.transfer')],
  ['hold', t('frame.suspend')],
  ['leave', t('frame.withdraw')],
] as const;
/** Elsewhere an open sheet would still answer to Ctrl+Enter in the place of the page. */
const route = useRoute();
watch(
  () => route.path,
  () => (verb.value = null),
);
/** One that was asked for in Find. */
watch(
  () => route.query.verb,
  (asked) => {
    const [known] = all.find(([key]) => key === asked) ?? [];
    if (!known) return;
    void router.replace({ query: { ...route.query, verb: undefined } }).then(() => (verb.value = known));
  },
);

async function secrets(): Promise<void> {
  try {
    const { jobId } = await call('POST /api/sheaf/secrets');
    const { planId } = await work.follow(jobId, t('frame.makingPasswords'));
    await router.push(`/plans/${planId}`);
  } catch (error) {
    work.wrong(error);
  }
}

interface Act {
  label: string;
  run: () => void;
  /** The sheet that it opens. */
  opens?: NonNullable<typeof verb.value>;
}
const isNarrow = useMediaQuery('(max-width: 700px)');
const acts = computed((): Act[] => [
  { label: t('frame.cards'), run: () => void router.push({ path: '/handouts', query: { sheaf: '1' } }) },
  { label: t('frame.newPasswords'), run: () => void secrets() },
  ...all
    .filter(([key]) => session.isCoordinator || key === 'group')
    .map(([key, label]) => ({ label, run: () => (verb.value = verb.value === key ? null : key), opens: key })),
  ...(session.isCoordinator && sheaf.state.count === 2
    ? [{ label: t('frame.merge'), run: () => void router.push({ path: '/pairs', query: { sheaf: '1' } }) }]
    : []),
  ...(isNarrow.value
    ? [
        { label: t('frame.save'), run: () => void (name.value = '') },
        { label: t('frame.clearTheSheaf'), run: () => void sheaf.letAllGo() },
      ]
    : []),
]);
/** In pixels, at most: a letter, and what a button has around its word. */
const [letter, around] = [8, 40];
const row = ref<HTMLElement | null>(null);
const { width } = useElementSize(row);
/** How many of them stand beside each other; the others are in a menu. */
const widths = computed(() => acts.value.map(({ label }) => label.length * letter + around));
const wanted = computed(() => widths.value.reduce((sum, one) => sum + one, 0));
const fit = computed(() => {
  if (wanted.value <= width.value + 1) return acts.value.length;
  let left = width.value - t('kit.more').length * letter - around - 24;
  const first = widths.value.findIndex((one) => (left -= one) < 0);
  return Math.max(1, first);
});
</script>

<template>
  <VerbSheet v-if="verb" :what="verb" @close="verb = null" />
  <section
    class="sheaf flex-none flex items-center gap-16px h-44px py-0 px-16px bg-straw-wash [border-top:2px_solid_var(--straw)]"
    :aria-label="t('frame.theSheaf')"
  >
    <Button
      type="text"
      size="small"
      class="count flex-none"
      :title="t('frame.showThePeopleYouGathered')"
      @click="router.push({ path: '/people', query: { gathered: '1' } })"
    >
      <span
        ><b>{{ sheaf.state.count.toLocaleString(locale) }}</b> {{ t('frame.gathered') }}
      </span></Button
    >
    <ul class="bars flex gap-10px [flex:0_50_auto] min-w-96px overflow-hidden" :aria-label="t('frame.byGrade')">
      <li class="quiet text-13px flex-none whitespace-nowrap" aria-hidden="true">{{ t('frame.byGrade') }}</li>
      <li
        v-for="g in sheaf.state.byGrade"
        :key="g.value"
        class="flex items-center gap-3px text-13px"
        :title="`${g.label}: ${g.count}`"
      >
        <span>{{ g.label }}</span><i
          class="h-10px bg-straw [border:1px_solid_var(--ink)]"
          :style="{ width: `${4 + (g.count / most) * 28}px` }"
        /><span class="sr">: {{ g.count }}</span>
      </li>
    </ul>
    <span class="quiet clip classes">{{ sheaf.state.byClass.map((c) => `${c.label} ${c.count}`).join(' · ') }}</span>
    <div ref="row" class="verbs flex-auto flex justify-end gap-6px min-w-0" :style="{ flexBasis: `${wanted}px` }">
      <Button
        v-for="act in acts.slice(0, fit)"
        :key="act.label"
        :aria-expanded="act.opens && verb === act.opens"
        :class="{ open: act.opens && verb === act.opens }"
        @click="act.run"
        >{{ act.label }}</Button
      >
      <More v-if="fit < acts.length" :items="acts.slice(fit)" />
    </div>
    <TextInput
      v-if="name !== null"
      :ref="nameIt"
      v-model:value="name"
      class="name w-150px"
      maxlength="80"
      :placeholder="t('frame.nameForThem')"
      :aria-label="t('frame.nameForTheSavedSheaf')"
      @keydown.enter="keep"
      @keydown.esc.stop="name = null"
      @blur="name = null"
    />
    <Button v-else-if="!isNarrow" type="text" size="small" @click="name = ''">{{ t('frame.save') }}</Button>
    <Button v-if="!isNarrow" type="text" size="small" @click="sheaf.letAllGo()">{{ t('frame.clearTheSheaf') }}</Button>
  </section>
</template>

<style scoped>
.classes {
  flex: 0 100 auto;
}
.verbs .open {
  background: var(--ink);
  color: var(--paper);
}
@media (max-width: 700px) {
  .sheaf {
    gap: 8px;
  }
  .bars,
  .classes {
    display: none;
  }
}
</style>
