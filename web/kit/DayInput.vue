<script setup lang="ts">
/** A day, or with `time` a moment of it, chosen or typed: as 2026-08-17 or 2026-08-17T08:30; no text where there is none. */
import { t } from '@/words';
import { DatePicker } from 'ant-design-vue';
import { computed, ref } from 'vue';

const props = defineProps<{ time?: boolean }>();
const value = defineModel<string | null>('value', { required: true });
const said = computed(() =>
  props.time ? { value: 'YYYY-MM-DDTHH:mm', time: ' h:mm A' } : { value: 'YYYY-MM-DD', time: '' },
);
/** The first is how it is shown; the others are read as well. */
const formats = computed(() => ['MMM D, YYYY', t('kit.yyyyMmDd'), 'M/D/YYYY'].map((day) => day + said.value.time));
/** What is typed is read while the calendar is open. */
const open = ref(false);
const openToType = ({ key }: KeyboardEvent) => {
  if (key.length === 1) open.value = true;
};
const selectAll = (event: FocusEvent) => (event.target as HTMLInputElement).select();
</script>

<template>
  <DatePicker
    size="small"
    placeholder=""
    :show-time="time ? { format: 'h:mm A', minuteStep: 5 } : false"
    :format="formats"
    :value-format="said.value"
    :value="value || undefined"
    :open="open"
    @open-change="(is: boolean) => (open = is)"
    @keydown="openToType"
    @focus="selectAll"
    @update:value="(day) => (value = typeof day === 'string' ? day : '')"
  />
</template>
