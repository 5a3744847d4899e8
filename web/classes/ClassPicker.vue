<script setup lang="ts">
/** One class out of all that are open: type a part of its name, its school or its subject. */
import { useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { Select } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { call } from '@/api';

const props = defineProps<{ school?: string | null; none?: string }>();
const chosen = defineModel<string | null>({ required: true });
const typed = ref('');
const find = refDebounced(typed, 120);
const classes = useQuery({
  queryKey: ['class-names', find, computed(() => props.school)],
  queryFn: () =>
    call('GET /api/classes/names', { query: { q: find.value || undefined, school: props.school ?? undefined } }),
  placeholderData: (before) => before,
});
const options = computed(() => [
  ...(props.none ? [{ value: '', label: props.none }] : []),
  ...(classes.data.value ?? []).map((one) => ({
    value: one.id,
    label: [one.name, one.subject, props.school ? null : one.school].filter(Boolean).join(' · '),
  })),
]);
</script>

<template>
  <Select
    :value="chosen ?? (none ? '' : undefined)"
    show-search
    :filter-option="false"
    placeholder="a part of its name"
    :options="options"
    class="classes"
    :dropdown-match-select-width="360"
    placement="topLeft"
    @search="typed = $event"
    @change="chosen = ($event as string) || null"
  />
</template>

<style scoped>
.classes {
  width: 220px;
}
/* The frame around it shows the focus. */
.classes :deep(input:focus-visible) {
  outline: none;
  box-shadow: none;
}
</style>
