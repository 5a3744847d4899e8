<script setup lang="ts">
/** One of the staff: type two letters of the name. */
import { useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref, useId, watch } from 'vue';
import { call } from '@/api';

const chosen = defineModel<string | null>({ required: true });
const typed = ref('');
const find = refDebounced(typed, 120);
const list = useId();
const staff = useQuery({
  queryKey: ['staff', find],
  queryFn: () => call('GET /api/people', { query: { role: 'staff', q: find.value.split('·')[0]!.trim(), limit: 30 } }),
  enabled: computed(() => find.value.trim().length >= 2),
  placeholderData: (before) => before,
});
const options = computed(() =>
  (staff.data.value?.rows ?? []).map(({ id, familyName, givenName, school }) => ({
    id,
    label: `${familyName}, ${givenName} · ${school ?? 'no school'}`,
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
  <label
    >Classes of a teacher go to
    <input v-model="typed" class="box" autocomplete="off" :list="list" placeholder="nobody for now" /><datalist
      :id="list"
    >
      <option v-for="one in options" :key="one.id" :value="one.label" />
    </datalist>
    <span v-if="typed" :class="{ rust: !meant }">{{
      meant ? (meant.label === typed ? '' : meant.label) : `${options.length} fit`
    }}</span>
  </label>
</template>
