<script setup lang="ts">
/** Finds people, classes, groups, devices, products, plans and actions by a few letters, a number or a scan. */
import { spoken, t } from '@/words';
import { SearchOutlined } from '@ant-design/icons-vue';
import { refDebounced } from '@vueuse/core';
import { computed, nextTick, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import type { Found, FoundKind } from '../../server/contract';
import { useLoad } from '@/kit/load';
import Suggest from '@/kit/Suggest.vue';
import { places } from '@/router';
import { useSession } from '@/stores/session';
import { dayOfWords } from '@/time';
import { useSheaf } from '@/stores/sheaf';

const session = useSession();
const sheaf = useSheaf();
const router = useRouter();
const route = useRoute();
const typed = ref('');
const q = refDebounced(
  computed(() => typed.value.trim()),
  120,
);
const list = useLoad(t('frame.whatWasFound'), 'GET /api/find', () => ({ query: { q: q.value } }), {
  enabled: () => q.value.length >= 2,
  alone: true,
});
const kinds: Record<FoundKind, [title: string, address: (one: Found) => string]> = {
  person: [t('places.people2'), ({ id }) => `/people/${id}`],
  class: [t('classes.classes2'), ({ id }) => `/classes/${id}`],
  group: [t('classes.groups2'), ({ id }) => `/groups/${id}`],
  device: [t('frame.placeDevices'), ({ id }) => `/devices?open=${id}`],
  product: [t('frame.products2'), ({ id }) => `/licenses?open=${id}`],
  plan: [t('frame.plans'), ({ id }) => `/plans/${id}`],
};
/** What can be begun from anywhere, by its name. */
const actions: [label: string, address: string, isOffered: boolean][] = [
  [t('places.openAFile'), '/imports?open=1', session.may('imports')],
  [t('places.newStudents'), '/people?new=students', session.isCoordinator],
  [t('places.newStaff'), '/people?new=staff', session.isCoordinator],
  [t('classes.newClasses'), '/classes?new=1', session.isCoordinator],
  [t('frame.scanDevices'), '/devices/scan', session.may('devices')],
  ...places.map(({ name, path, coordinatorsOnly }): [string, string, boolean] => [
    t(name),
    path,
    session.isCoordinator || !coordinatorsOnly,
  ]),
  [t('frame.settings'), '/settings', session.isCoordinator],
];
/** What can be done with those who are gathered. */
const gatheredActions = computed((): typeof actions => {
  const { count } = sheaf.state;
  const path = route.path === '/sign-in' ? '/people' : route.path;
  return [
    [t('frame.groupThePeople', { n: count }), `${path}?verb=group`, count > 0 && session.may('groups')],
    [t('frame.enrollThePeople', { n: count }), `${path}?verb=enroll`, count > 0 && session.isCoordinator],
    [t('frame.printCardsForThePeople', { n: count }), '/handouts?sheaf=1', count > 0],
  ];
});
interface Line {
  value: string;
  name: string;
  about: string;
  label: string;
}
/** `label`: for assistive technology. */
const line = (value: string, name: string, about = ''): Line => ({ value, name, about, label: `${name} ${about}` });
const options = computed(() => {
  const answer = list.data.value;
  if (q.value.length < 2 || !answer) return [];
  const begins = q.value.toLocaleLowerCase();
  const offered = [...gatheredActions.value, ...actions].filter(
    ([label, , is]) => is && label.toLocaleLowerCase().includes(begins),
  );
  const groups = (Object.keys(kinds) as FoundKind[]).map((kind) => ({
    label: kinds[kind][0],
    options: answer.found
      .filter((one) => one.kind === kind)
      .map((one) => line(kinds[kind][1](one), spoken(one.name), kind === 'plan' ? dayOfWords(one.about) : one.about)),
  }));
  const everyone = line(`/people?q=${encodeURIComponent(q.value)}`, t('frame.allPeopleWhoMatch', { q: q.value }));
  // A match with one person opens that person; with several, the list comes first.
  const all = answer.found.filter(({ kind }) => kind === 'person').length > 1 ? [everyone] : [];
  const actionGroup = {
    label: t('frame.actions'),
    options: offered.map(([label, to]) => line(to, label)),
  };
  const [persons, ...others] = groups;
  // What is begun by its name comes before what was done under it.
  return [...all, ...[persons!, actionGroup, ...others].filter((group) => group.options.length > 0)];
});
const nothing = computed(
  () =>
    q.value.length >= 2 &&
    q.value === typed.value.trim() &&
    list.data.value !== undefined &&
    options.value.length === 0,
);
async function open(to: string): Promise<void> {
  await nextTick();
  typed.value = '';
  (document.activeElement as HTMLElement | null)?.blur();
  const [path, text] = to.split('?q=');
  // A search in the list that is open keeps its other filters, and what is done with people keeps the page.
  if (text !== undefined && route.path === path)
    await router.push({ query: { ...route.query, q: decodeURIComponent(text) } });
  else if (to.startsWith(`${route.path}?verb=`))
    await router.push({ query: { ...route.query, verb: to.split('=')[1] } });
  else await router.push(to);
  // In a list the keys go on.
  if (to.includes('?q=')) document.querySelector<HTMLElement>('.place [role=grid]')?.focus();
}
</script>

<template>
  <div class="find grow relative flex justify-center">
    <Suggest
      id="find"
      v-model:value="typed"
      class="w-full max-w-380px"
      size="middle"
      :options="options"
      :placeholder="t('frame.findAPersonAClass')"
      :aria-label="t('frame.find')"
      @select="open"
      @keydown.esc="typed = ''"
    >
      <template #prefix><SearchOutlined aria-hidden="true" /></template>
      <template #suffix><kbd aria-hidden="true">/</kbd></template>
      <template #option="{ label, name, about }"
        ><template v-if="name"
          >{{ name }} <span class="quiet">{{ about }}</span></template
        ><template v-else>{{ label }}</template></template
      >
    </Suggest>
    <p v-if="nothing" class="absolute top-full z-10 py-6px px-12px bg-sheet ruled" role="status">
      {{ t('frame.nothingFound', { q }) }}
    </p>
  </div>
</template>
