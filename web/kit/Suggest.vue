<script setup lang="ts">
/** A line of text with suggestions under it; `select` is what was chosen of them. With an icon it stands in the head line. */
import { AutoComplete, Input, type SelectProps } from 'ant-design-vue';
import { nextTick, ref, useAttrs } from 'vue';
import { useListbox } from './listbox';

defineOptions({ inheritAttrs: false });
const props = defineProps<{
  options: NonNullable<SelectProps['options']>;
  id?: string;
  placeholder?: string;
  maxlength?: number;
  size?: 'small' | 'middle';
  /** Enter takes what is typed, not the first suggestion. */
  loose?: boolean;
  /** Enter that takes a suggestion does not send the form around it. */
  picks?: boolean;
}>();
const emit = defineEmits<{ select: [value: string] }>();
const value = defineModel<string>('value', { required: true });
const attrs = useAttrs();
const box = ref<HTMLElement | null>(null);
const { open, tell } = useListbox(box, () => attrs['aria-label']);
/** Before the list is closed by it. */
function onEnter(event: KeyboardEvent): void {
  if (props.picks && open.value && props.options.length > 0) event.preventDefault();
}
defineExpose({ focus: () => box.value?.querySelector('input')?.focus() });
</script>

<template>
  <div
    ref="box"
    class="suggest inline-block [vertical-align:middle]"
    :class="$attrs.class"
    @keydown.enter.capture="onEnter"
  >
    <AutoComplete
      :id="id"
      :value="value"
      :options="options"
      :default-active-first-option="!loose"
      :dropdown-match-select-width="420"
      @update:value="(typed: unknown) => (value = String(typed ?? ''))"
      @select="(chosen: unknown) => emit('select', String(chosen))"
      @dropdown-visible-change="
        (is: boolean) => {
          open = is;
          void nextTick(tell);
        }
      "
    >
      <Input :size="size ?? 'small'" autocomplete="off" :placeholder="placeholder" :maxlength="maxlength">
        <template v-if="$slots.prefix" #prefix><slot name="prefix" /></template>
        <template v-if="$slots.suffix" #suffix><slot name="suffix" /></template>
      </Input>
      <template v-if="$slots.option" #option="option"><slot name="option" v-bind="option" /></template>
    </AutoComplete>
  </div>
</template>
