<script setup lang="ts">
/** A teacher asks the coordinator for a student who is not on record at the school. */
import { t } from '@/words';
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
    work.say(
      t('classes.requestSentYourCoordinatorSees', { givenName: missing.givenName, familyName: missing.familyName }),
    );
    emit('close');
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <form ref="form" class="ask row" @submit.prevent="send" @keydown.esc.stop="emit('close')">
    <label>{{ t('classes.givenName') }} <TextInput v-model:value="missing.givenName" required maxlength="100" /></label>
    <label
      >{{ t('classes.familyName') }} <TextInput v-model:value="missing.familyName" required maxlength="100"
    /></label>
    <label
      >{{ t('common.number') }}
      <TextInput v-model:value="missing.number" :placeholder="t('classes.ifYouKnowIt')" maxlength="40"
    /></label>
    <label
      >{{ t('classes.note') }}
      <TextInput v-model:value="missing.note" :placeholder="t('classes.newSinceWhenFromWhere')" maxlength="300"
    /></label>
    <Button html-type="submit" type="primary">{{ t('classes.sendRequest') }}</Button>
    <Button @click="emit('close')">{{ t('common.cancel') }}</Button>
  </form>
</template>
