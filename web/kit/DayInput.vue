<script setup lang="ts">
/**
 * A day, or with `at` a moment of it, chosen or typed: as 2026-08-17 or 2026-08-17T08:30; no text where there is none.
 * `at` is the hour of a day that is chosen or typed without one. What cannot be read stays, is marked, and holds the
 * form: it is never lost without a word.
 */
import { today } from '@/place';
import { t } from '@/words';
import { DatePicker } from 'ant-design-vue';
import dayjs from 'dayjs';
import { computed, ref, watch } from 'vue';
import { readTyped } from './typed';

defineOptions({ inheritAttrs: false });
const props = defineProps<{ at?: string }>();
const value = defineModel<string | null>('value', { required: true });
const said = computed(() =>
  props.at ? { value: 'YYYY-MM-DDTHH:mm', shown: 'MMM D, YYYY h:mm A' } : { value: 'YYYY-MM-DD', shown: 'MMM D, YYYY' },
);
const open = ref(false);
/** What is typed and not read yet; null: nothing is. */
const typed = ref<string | null>(null);
const isUnreadable = ref(false);
const box = ref<HTMLElement | null>(null);
const field = () => box.value?.querySelector('input') ?? null;
const hold = (is: boolean) => {
  isUnreadable.value = is;
  field()?.setCustomValidity(is ? t('kit.notADate') : '');
};
watch(value, () => {
  typed.value = null;
  hold(false);
});

/** Takes what was typed. Gives whether there was anything to take. */
function take(): boolean {
  if (typed.value === null) return false;
  const text = typed.value;
  const read = text.trim() === '' ? '' : readTyped(text, props.at);
  if (read === null) {
    hold(true);
    // The component takes it out of the field when that is left, with a timer of its own.
    setTimeout(() => setTimeout(() => put(text)));
  } else {
    typed.value = null;
    hold(false);
    value.value = read;
  }
  open.value = false;
  return true;
}
function put(text: string): void {
  const input = field();
  if (!input || !isUnreadable.value || input.value === text) return;
  input.value = text;
  input.dispatchEvent(new Event('input', { bubbles: true }));
}
function onKeydown(event: KeyboardEvent): void {
  // The component would take Tab as the way into its calendar.
  if ((event.key === 'Enter' || event.key === 'Tab') && take() && !event.ctrlKey) event.stopPropagation();
}
function onInput(event: Event): void {
  typed.value = (event.target as HTMLInputElement).value;
  if (typed.value.trim() === '' || readTyped(typed.value, props.at) !== null) hold(false);
}
const selectAll = (event: FocusEvent) => (event.target as HTMLInputElement).select();
</script>

<template>
  <span ref="box" class="contents" @keydown.capture="onKeydown" @input="onInput" @blur.capture="take">
    <DatePicker
      size="small"
      placeholder=""
      v-bind="$attrs"
      :show-time="at ? { format: 'h:mm A', minuteStep: 5, defaultValue: dayjs(`2026-01-01T${at}`) } : false"
      :default-picker-value="dayjs(today)"
      :show-now="false"
      :show-today="false"
      :format="said.shown"
      :value-format="said.value"
      :value="value || undefined"
      :open="open"
      :status="isUnreadable ? 'error' : ''"
      :title="isUnreadable ? t('kit.notADate') : undefined"
      @open-change="(is: boolean) => (open = is)"
      @focus="selectAll"
      @update:value="(day) => (value = typeof day === 'string' ? day : '')"
    /><span v-if="isUnreadable" class="rust" role="alert">{{ t('kit.notADate') }}</span>
  </span>
</template>
