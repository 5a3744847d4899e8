<script setup lang="ts">
/** Signing in, in the ways that are offered here: username with a secret or with pictures, a card scanned, the district's sign-on. */
import {
  browserSupportsWebAuthn,
  startAuthentication,
  type PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser';
import { Alert, Button, Checkbox, Form, FormItem, Input } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import type { SecondFactor, Way } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import Door from './Door.vue';
import PicturePad from './PicturePad.vue';
import { onShown, useLoad } from '@/kit/load';

const route = useRoute();
const router = useRouter();
const session = useSession();
const username = ref('');
const secret = ref('');
const tapped = ref<string[]>([]);
const shown = ref(false);
/** What the district's sign-on said, by the word in the address bar; any other word says nothing. */
const reasons: Record<string, string> = {
  'begun-elsewhere': 'This sign-on was begun in another browser. Try again.',
  'too-late': 'This sign-on took too long. Try again.',
  'not-confirmed': 'The district’s sign-on did not confirm who you are. Try again.',
  'no-account': 'The district’s sign-on knows you, but you have no account here. Ask your coordinator.',
  'not-verified': 'Your e-mail address is not confirmed at the district’s sign-on. Confirm it there, then try again.',
  'other-domain': 'Your e-mail address is not one of the district’s. Sign in with your username and password.',
  'opt-in': 'Coordinators sign in with username and password first, then link the district’s sign-on under Profile.',
};
const why = String(route.query.why ?? '');
const failure = ref(Object.hasOwn(reasons, why) ? reasons[why]! : '');
/** The password was right; one of these is asked for now. */
const factors = ref<SecondFactor[]>([]);
const code = ref('');
const busy = ref(false);
const first = ref<HTMLInputElement | null>(null);
onShown(() => first.value?.focus());

const at = computed(() => (route.params.school ? String(route.params.school) : undefined));
const door = useLoad('the sign-in page', 'GET /api/door', () => ({ query: { at: at.value } }), {
  retry: false,
  alone: true,
});
const has = (way: Way) => door.data.value?.ways.includes(way) ?? way === 'secret';
const byPictures = ref(false);
watch(
  () => door.data.value,
  () => {
    // Where pictures are all that is offered, they are there at once.
    if (has('pictures') && !has('secret')) byPictures.value = true;
  },
);
/** A scanner types the card's address and Enter. */
const isCard = () => /\/c[/#][0-9A-Za-z]{26}\/?$/.test(username.value.trim());
async function go(): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    if (isCard()) await call('POST /api/sign-in/card', { body: { code: username.value } });
    else {
      const answer = await call('POST /api/sign-in', {
        body: { username: username.value, secret: byPictures.value ? tapped.value.join('-') : secret.value },
      });
      if ('factors' in answer) {
        factors.value = answer.factors;
        if (answer.factors[0] === 'passkey') void passkey();
        return;
      }
    }
    session.me = null;
    await router.push('/');
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
    tapped.value = [];
  } finally {
    busy.value = false;
  }
}
async function finish(act: () => Promise<unknown>): Promise<void> {
  busy.value = true;
  failure.value = '';
  try {
    await act();
    session.me = null;
    await router.push('/');
  } catch (error) {
    const closed = error instanceof Error && error.name === 'NotAllowedError';
    failure.value = closed
      ? 'No passkey was used. Try again, or sign in with your username and password.'
      : error instanceof Error
        ? error.message
        : String(error);
  } finally {
    busy.value = false;
  }
}
const byCode = () => finish(() => call('POST /api/sign-in/code', { body: { code: code.value } }));
const passkey = () =>
  finish(async () => {
    const { options } = await call('POST /api/sign-in/passkey/begin');
    const response = await startAuthentication({ optionsJSON: options as PublicKeyCredentialRequestOptionsJSON });
    await call('POST /api/sign-in/passkey', { body: { response } });
  });
const canPasskey = browserSupportsWebAuthn();
</script>

<template>
  <Door v-if="factors.length > 0" title="One more step">
    <Form layout="vertical" @submit.prevent="byCode">
      <FormItem
        v-if="factors.includes('app') || factors.includes('recovery')"
        :label="factors.includes('app') ? 'Code from your app, or a recovery code' : 'Recovery code'"
        html-for="factor-code"
      >
        <Input id="factor-code" v-model:value="code" size="large" autocomplete="one-time-code" autofocus />
      </FormItem>
      <Alert v-if="failure" type="error" :message="failure" role="alert" />
      <Button type="primary" size="large" html-type="submit" :loading="busy" :disabled="code.trim().length < 6"
        >Sign in</Button
      >
      <Button v-if="factors.includes('passkey')" size="large" @click="passkey">Use passkey</Button>
    </Form>
    <Button type="link" @click="factors = []">Back</Button>
  </Door>
  <Door v-else :title="door.data.value?.school ?? 'Sign in'">
    <form @submit.prevent="go">
      <label
        >{{ has('card') ? 'Username, or scan your card' : 'Username'
        }}<TextInput
          ref="first"
          v-model:value="username"
          class="code"
          autocomplete="username"
          autocapitalize="none"
          spellcheck="false"
      /></label>
      <PicturePad v-if="byPictures" v-model="tapped" />
      <template v-else>
        <label
          >Password<input
            v-model="secret"
            class="code"
            :type="shown ? 'text' : 'password'"
            autocomplete="current-password"
            autocapitalize="none"
            spellcheck="false"
            :required="!isCard()"
        /></label>
        <Checkbox v-model:checked="shown" class="show"> show password</Checkbox>
      </template>
      <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
      <Button type="primary" size="large" html-type="submit" :loading="busy">Sign in</Button>
    </form>
    <Button v-if="canPasskey && !at" size="large" @click="passkey">Sign in with a passkey</Button>
    <p v-if="door.error.value" class="quiet">{{ door.error.value.message }}</p>
    <Button v-if="has('pictures') && has('secret')" size="small" class="way" @click="byPictures = !byPictures">
      {{ byPictures ? 'Use a password of words' : 'Use a picture password' }}
    </Button>
    <a v-if="has('sign-on')" class="way" href="/api/sign-on">Sign in with the district’s account</a>
    <RouterLink class="way" to="/join">Join a class with a code</RouterLink>
    <RouterLink v-if="!at" class="way" to="/password">Forgot password?</RouterLink>
  </Door>
</template>

<style scoped>
.way {
  font-size: 16px;
}
</style>
