<script setup lang="ts">
/** A forgotten password: asks for a link; and where the link leads, a new one is chosen. The link's token is behind #. */
import { t } from '@/words';
import { Alert, Button, Form, FormItem, Input, InputPassword } from 'ant-design-vue';
import { onMounted, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import Door from './Door.vue';

const router = useRouter();
const session = useSession();
const route = useRoute();
const token = ref('');
const who = ref('');
const asked = ref(false);
const own = ref<{ name: string; username: string } | null>(null);
const password = ref('');
const failure = ref('');
const busy = ref(false);
async function run(act: () => Promise<void>): Promise<void> {
  if (busy.value) return;
  busy.value = true;
  failure.value = '';
  try {
    await act();
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  } finally {
    busy.value = false;
  }
}
function open(): void {
  if (!location.hash) return;
  token.value = location.hash.slice(1);
  asked.value = false;
  // The token stays out of the history.
  history.replaceState(history.state, '', location.pathname);
  void run(async () => void (own.value = await call('POST /api/password/open', { body: { token: token.value } })));
}
onMounted(open);
// The link may be opened where the page is already.
watch(() => route.hash, open);
const request = () =>
  run(async () => {
    await call('POST /api/password/forgot', { body: { who: who.value } });
    asked.value = true;
  });
const choose = () =>
  run(async () => {
    const { username } = await call('POST /api/password', { body: { token: token.value, password: password.value } });
    const answer = await call('POST /api/sign-in', { body: { username, secret: password.value } });
    session.me = null;
    await router.push('factors' in answer ? '/sign-in' : '/');
  });
</script>

<template>
  <Door :title="own ? t('sign.chooseANewPassword') : t('sign.forgotYourPassword')">
    <template v-if="asked">
      <p>
        {{ t('sign.ifThereIsAnAccount') }}
      </p>
    </template>
    <Form v-else-if="own" layout="vertical" @submit.prevent="choose">
      <p>
        {{ t('sign.yourUsernameIs', { name: own.name }) }} <b class="mono">{{ own.username }}</b>.
      </p>
      <FormItem :label="t('sign.newPassword')" html-for="new-password" :extra="t('sign.passwordHint')">
        <InputPassword id="new-password" v-model:value="password" size="large" autocomplete="new-password" />
      </FormItem>
      <Button type="primary" size="large" html-type="submit" :loading="busy" :disabled="password.length < 8">{{
        t('sign.savePassword')
      }}</Button>
    </Form>
    <Form v-else layout="vertical" @submit.prevent="request">
      <p>{{ t('sign.forStaffStudentsAskYour') }}</p>
      <FormItem :label="t('sign.usernameOrEMailAddress')" html-for="forgot-who">
        <Input id="forgot-who" v-model:value="who" size="large" autocomplete="username" autocapitalize="none" />
      </FormItem>
      <Button type="primary" size="large" html-type="submit" :loading="busy" :disabled="!who.trim()">{{
        t('sign.sendMeALink')
      }}</Button>
    </Form>
    <Alert v-if="failure" type="error" :message="failure" role="alert" />
    <RouterLink to="/sign-in">{{ t('sign.backToSignIn') }}</RouterLink>
  </Door>
</template>
