<script setup lang="ts">
/** One person: type two letters of the name, a number or a username, until only one is meant. */
import { t } from '@/words';
import Suggest from '@/kit/Suggest.vue';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { useLoad } from '@/kit/load';

const props = defineProps<{ role?: 'student' | 'staff'; none?: string }>();
const chosen = defineModel<string | null>({ required: true });
const typed = ref('');
const find = refDebounced(typed, 120);
const people = useLoad(
  t('people.people'),
  'GET /api/people',
  () => ({ query: { role: props.role, q: find.value.split('·')[0]!.trim(), limit: 30 } }),
  { enabled: () => find.value.trim().length >= 2, alone: true },
);
const options = computed(() =>
  (people.data.value?.rows ?? []).map(({ id, familyName, givenName, number, school }) => ({
    id,
    label: [`${familyName}, ${givenName}`, number, school ?? t('people.noSchool')].filter(Boolean).join(' · '),
  })),
);
const meant = computed(() => {
  if (typed.value.trim().length < 2) return null;
  return (
    options.value.find(({ label }) => label === typed.value) ?? (options.value.length === 1 ? options.value[0]! : null)
  );
});
watch(meant, (one) => (chosen.value = one?.id ?? null));
</script>

<template>
  <Suggest
    v-model:value="typed"
    class="picker w-200px"
    picks
    :options="options.map(({ label }) => ({ value: label }))"
    :placeholder="none ?? t('people.nameNumberOrUsername')"
  />
  <span v-if="typed" :class="{ rust: !meant }" aria-live="polite">{{
    meant ? (meant.label === typed ? '' : meant.label) : t('people.matches', { options: options.length })
  }}</span>
</template>
