<script setup lang="ts">
/** Splitting a class, or combining it with another: what each needs to know. Both end in a plan. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { ref } from 'vue';
import type { ClassRow } from '../../server/contract';
import TextInput from '@/kit/TextInput.vue';
import { onShown } from '@/kit/load';
import ClassPicker from './ClassPicker.vue';
import { useClassActions } from './actions';

const props = defineProps<{ one: ClassRow; how: 'split' | 'combine' }>();
defineEmits<{ close: [] }>();
const { split, combine } = useClassActions(() => props.one);
const names = ref('');
const other = ref<string | null>(null);
const form = ref<HTMLFormElement | null>(null);
onShown(() => form.value?.querySelector('input')?.focus());
function plan(): void {
  if (props.how === 'split') void split(names.value);
  else if (other.value) void combine(other.value);
}
</script>

<template>
  <form ref="form" class="ordering" @submit.prevent="plan" @keydown.esc.stop="$emit('close')">
    <div class="ask row">
      <label v-if="how === 'split'"
        >{{ t('classes.newClasses') }} <TextInput v-model:value="names" :placeholder="`${one.name} 2`" required
      /></label>
      <label v-else>{{ t('classes.combineWith') }} <ClassPicker v-model="other" :school="one.schoolId" /></label>
      <Button html-type="submit" type="primary" :disabled="how === 'combine' && !other">{{
        how === 'split' ? t('classes.previewSplit') : t('classes.previewCombinedClass')
      }}</Button>
      <Button @click="$emit('close')">{{ t('common.cancel') }}</Button>
    </div>
  </form>
</template>
