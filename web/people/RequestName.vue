<script setup lang="ts">
/** A teacher asks the coordinator to correct the name of a student. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, nextTick, ref } from 'vue';
import type { PersonSheet } from '../../server/contract';
import { call } from '@/api';
import TextInput from '@/kit/TextInput.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';

const props = defineProps<{ sheet: PersonSheet; classId?: string }>();
const session = useSession();
const work = useWork();
const form = ref<{ givenName: string; familyName: string; note: string } | null>(null);
const box = ref<HTMLFormElement | null>(null);
/** The class in which the teacher knows the student. */
const classId = computed(
  () => props.classId ?? props.sheet.classes.find(({ ends, role }) => ends === null && role === 'student')?.classId,
);
async function begin(): Promise<void> {
  const { givenName, familyName } = props.sheet.person;
  form.value = { givenName, familyName, note: '' };
  await nextTick();
  box.value?.querySelector('input')?.focus();
}
async function send(): Promise<void> {
  const { value } = form;
  if (!value || !classId.value) return;
  try {
    const body = { kind: 'rename', classId: classId.value, personId: props.sheet.person.id, ...value } as const;
    await call('POST /api/requests', { body });
    work.say(t('people.requestSentYourCoordinatorSees'));
    form.value = null;
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <form
    v-if="form"
    ref="box"
    class="name grid gap-6px text-13px"
    @submit.prevent="send"
    @keydown.esc.stop="form = null"
  >
    <label>{{ t('people.givenName') }} <TextInput v-model:value="form.givenName" required maxlength="100" /></label>
    <label>{{ t('people.familyName') }} <TextInput v-model:value="form.familyName" required maxlength="100" /></label>
    <label>{{ t('people.note') }} <TextInput v-model:value="form.note" maxlength="300" /></label>
    <div class="row">
      <Button html-type="submit" size="small" type="primary">{{ t('people.sendRequest') }}</Button>
      <Button size="small" @click="form = null">{{ t('common.cancel') }}</Button>
    </div>
  </form>
  <p v-else-if="classId && session.may('requests')">
    <Button size="small" @click="begin">{{ t('people.requestANameCorrection') }}</Button>
  </p>
</template>
