<script setup lang="ts">
/** One class out of all that are open: type a part of its name, its school or its subject until only one is meant. */
import { t } from '@/words';
import Suggest from '@/kit/Suggest.vue';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { fold } from '#core/names/index';
import { useLoad } from '@/kit/load';

const props = defineProps<{ school?: string | null; none?: string }>();
const chosen = defineModel<string | null>({ required: true });
const typed = ref('');
const find = refDebounced(typed, 120);
const classes = useLoad(
  t('classes.classes'),
  'GET /api/classes/names',
  () => ({ query: { q: find.value || undefined, school: props.school ?? undefined } }),
  { alone: true },
);
const options = computed(() =>
  (classes.data.value ?? []).map((one) => ({
    id: one.id,
    name: one.name,
    label: [one.name, one.subject, props.school ? null : one.school].filter(Boolean).join(' · '),
  })),
);
/** The one that is meant: by its whole line, by its name where no other has it, or as the last that is left. */
const meant = computed(() => {
  const text = fold(find.value);
  if (text === '') return null;
  const by = (word: (one: { name: string; label: string }) => string) => {
    const found = options.value.filter((one) => fold(word(one)) === text);
    return found.length === 1 ? found[0]! : null;
  };
  return by(({ label }) => label) ?? by(({ name }) => name) ?? (options.value.length === 1 ? options.value[0]! : null);
});
watch(meant, (one) => (chosen.value = one?.id ?? null));
watch(chosen, (id) => {
  if (id === null && meant.value) typed.value = '';
});
</script>

<template>
  <Suggest
    v-model:value="typed"
    class="picker w-200px"
    picks
    :options="options.map(({ label }) => ({ value: label }))"
    :placeholder="none ?? t('classes.partOfName')"
  />
  <span v-if="typed" class="said c-ink" :class="{ rust: !meant && !classes.isFetching.value }" aria-live="polite">{{
    meant
      ? fold(meant.label) === fold(typed)
        ? ''
        : meant.label
      : options.length > 1
        ? t('classes.matches', { options: options.length })
        : t('classes.noMatch')
  }}</span>
</template>
