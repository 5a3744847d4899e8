<script setup lang="ts">
/** Several of all classes that are open, found by name, school or subject. `known`: those that were chosen before. */
import { t } from '@/words';
import Several from '@/kit/Several.vue';
import { useLoad } from '@/kit/load';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';

const props = defineProps<{ school: string | null; known: { id: string; name: string }[] }>();
const value = defineModel<string[]>('value', { required: true });
const typed = ref('');
const find = refDebounced(typed, 120);
const found = useLoad(
  t('classes.classes'),
  'GET /api/classes/names',
  () => ({ query: { q: find.value || undefined, school: props.school ?? undefined } }),
  { alone: true },
);
const labels = ref(new Map(props.known.map(({ id, name }) => [id, name])));
watch(found.data, (list) => {
  for (const { id, name, subject, school } of list ?? [])
    labels.value.set(id, [name, subject, props.school ? null : school].filter(Boolean).join(' · '));
});
const options = computed(() =>
  [...new Set([...value.value, ...(found.data.value ?? []).map(({ id }) => id)])].map((id) => ({
    value: id,
    label: labels.value.get(id) ?? id,
  })),
);
</script>

<template>
  <Several v-model:value="value" :options="options" is-found @search="(text) => (typed = text)" />
</template>
