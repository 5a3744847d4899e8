<script setup lang="ts">
/** Where an invitation leads: the first password, chosen by the person it is for. The token is behind #. */
import { t } from '@/words';
import TextInput from '@/kit/TextInput.vue';
import { Button, Checkbox } from 'ant-design-vue';
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import Door from './Door.vue';
import { useLoad } from '@/kit/load';

const router = useRouter();
const session = useSession();
const token = ref(location.hash.slice(1));
// The token stays out of the history.
onMounted(() => history.replaceState(history.state, '', location.pathname));
const invited = useLoad(t('sign.yourInvitation'), 'POST /api/invited/open', () => ({ body: { token: token.value } }), {
  alone: true,
  retry: false,
});
const password = ref('');
const shown = ref(false);
const failure = ref('');
const busy = ref(false);
async function go(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    const { username } = await call('POST /api/invited', { body: { token: token.value, password: password.value } });
    await call('POST /api/sign-in', { body: { username, secret: password.value } });
    session.me = null;
    await router.push('/');
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <Door
    :title="
      invited.data.value
        ? t('sign.hello', { name: invited.data.value.name })
        : invited.error.value
          ? t('sign.thisInvitationDoesNotWork')
          : t('sign.oneMoment')
    "
  >
    <p v-if="invited.error.value" class="wrong" role="alert">{{ invited.error.value.message }}</p>
    <form v-else-if="invited.data.value" @submit.prevent="go">
      <p>
        {{ t('sign.yourUsernameAtIs', { district: invited.data.value.district }) }}
        <b class="mono">{{ invited.data.value.username }}</b>{{ t('sign.chooseAPasswordThatNo') }}
      </p>
      <TextInput type="hidden" autocomplete="username" :value="invited.data.value.username" />
      <label
        >{{ t('sign.passwordAtLeast8Characters')
        }}<TextInput
          v-model:value="password"
          class="code"
          :type="shown ? 'text' : 'password'"
          autocomplete="new-password"
          required
          minlength="8"
      /></label>
      <Checkbox v-model:checked="shown" class="show"> {{ t('sign.showWhatIType') }}</Checkbox>
      <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
      <Button type="primary" size="large" html-type="submit" :loading="busy">{{ t('sign.saveAndSignIn') }}</Button>
    </form>
  </Door>
</template>
