<script setup lang="ts">
/** The password once more, before what a session left open must not do. */
import { t } from '@/words';
import { Alert, Form, FormItem, InputPassword, Modal } from 'ant-design-vue';
import { nextTick, ref, watch } from 'vue';
import { asked } from '@/confirm';
import { call } from '@/api';

const password = ref('');
const failure = ref('');
const busy = ref(false);
watch(
  asked,
  async (now) => {
    password.value = '';
    failure.value = '';
    if (!now) return;
    await nextTick();
    // The dialog takes the focus for itself when it opens.
    setTimeout(() => document.getElementById('confirm-password')?.focus(), 50);
  },
  { immediate: true },
);
async function go(): Promise<void> {
  if (busy.value || !password.value) return;
  busy.value = true;
  failure.value = '';
  try {
    await call('POST /api/profile/confirm', { body: { password: password.value } });
    asked.value?.done(true);
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <Modal
    :open="asked !== null"
    :title="t('profile.typeYourPasswordAgain')"
    :ok-text="t('profile.continue')"
    :confirm-loading="busy"
    :ok-button-props="{ disabled: !password }"
    @ok="go"
    @cancel="asked?.done(false)"
  >
    <Form layout="vertical" @submit.prevent="go">
      <p>{{ t('profile.thisStepNeedsYourPassword') }}</p>
      <FormItem :label="t('profile.password')" html-for="confirm-password">
        <InputPassword
          id="confirm-password"
          v-model:value="password"
          autocomplete="current-password"
          @press-enter="go"
        />
      </FormItem>
      <Alert v-if="failure" type="error" :message="failure" role="alert" />
    </Form>
  </Modal>
</template>
