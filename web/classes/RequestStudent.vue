<script setup lang="ts">
/** A teacher asks the coordinator for a student who is not on record at the school. */
import { Button } from 'ant-design-vue';
import { reactive, ref } from 'vue';
import type { ClassRow } from '../../server/contract';
import { call } from '@/api';
import TextInput from '@/kit/TextInput.vue';
import { onShown } from '@/kit/load';
import { useWork } from '@/stores/work';

const props = defineProps<{ one: ClassRow }>();
const emit = defineEmits<{ close: [] }>();
const work = useWork();
const missing = reactive({ givenName: '', familyName: '', number: '', note: '' });
const form = ref<HTMLFormElement | null>(null);
onShown(() => form.value?.querySelector('input')?.focus());
async function send(): Promise<void> {
  try {
    await call('POST /api/requests', { body: { kind: 'missing', classId: props.one.id, ...missing } });
    work.say(`Request sent: ${missing.givenName} ${missing.familyName}. Your coordinator sees it on Today.`);
    emit('close');
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <form ref="form" class="ask row" @submit.prevent="send" @keydown.esc.stop="emit('close')">
    <label>Given name <TextInput v-model:value="missing.givenName" required maxlength="100" /></label>
    <label>Family name <TextInput v-model:value="missing.familyName" required maxlength="100" /></label>
    <label>Number <TextInput v-model:value="missing.number" placeholder="if you know it" maxlength="40" /></label>
    <label
      >Note <TextInput v-model:value="missing.note" placeholder="new since when, from where" maxlength="300"
    /></label>
    <Button html-type="submit" type="primary">Send request</Button>
    <Button @click="emit('close')">Cancel</Button>
  </form>
</template>
