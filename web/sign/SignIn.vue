<script setup lang="ts">
/** Signing in, in the ways that are offered here: username with a secret or with pictures, a card scanned, the district's sign-on. */
import { t } from '@/words';
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
  'begun-elsewhere': t('sign.thisSignOnWasBegun'),
  'too-late': t('sign.thisSignOnTookToo'),
  'not-confirmed': t('sign.theDistrictsSignOnDid'),
  'no-account': t('sign.theDistrictsSignOnKnows'),
  'not-verified': t('sign.yourEMailAddressIs'),
  'other-domain': t('sign.yourEMailAddressIs2'),
  'opt-in': t('sign.coordinatorsSignInWithUsername'),
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
const door = useLoad(t('sign.theSignInPage'), 'GET /api/door', () => ({ query: { at: at.value } }), {
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
    failure.value = closed ? t('sign.noPasskeyWasUsedTry') : error instanceof Error ? error.message : String(error);
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
  <Door v-if="factors.length > 0" :title="t('sign.oneMoreStep')">
    <Form layout="vertical" @submit.prevent="byCode">
      <FormItem
        v-if="factors.includes('app') || factors.includes('recovery')"
        :label="factors.includes('app') ? t('sign.codeFromYourAppOr') : t('sign.recoveryCode')"
        html-for="factor-code"
      >
        <Input id="factor-code" v-model:value="code" size="large" autocomplete="one-time-code" autofocus />
      </FormItem>
      <Alert v-if="failure" type="error" :message="failure" role="alert" />
      <Button type="primary" size="large" html-type="submit" :loading="busy" :disabled="code.trim().length < 6">{{
        t('sign.signIn')
      }}</Button>
      <Button v-if="factors.includes('passkey')" size="large" @click="passkey">{{ t('sign.usePasskey') }}</Button>
    </Form>
    <Button type="link" @click="factors = []">{{ t('common.back') }}</Button>
  </Door>
  <Door v-else :title="door.data.value?.school ?? t('sign.signIn')">
    <form @submit.prevent="go">
      <label
        >{{ has('card') ? t('sign.usernameOrScanYourCard') : t('common.username')
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
          >{{ t('sign.password')
          }}<TextInput
            v-model:value="secret"
            class="code"
            :type="shown ? 'text' : 'password'"
            autocomplete="current-password"
            autocapitalize="none"
            spellcheck="false"
            :required="!isCard()"
        /></label>
        <Checkbox v-model:checked="shown" class="show"> {{ t('sign.showPassword') }}</Checkbox>
      </template>
      <p v-if="failure" class="wrong" role="alert">{{ failure }}</p>
      <Button type="primary" size="large" html-type="submit" :loading="busy">{{ t('sign.signIn') }}</Button>
    </form>
    <Button v-if="canPasskey && !at" size="large" @click="passkey">{{ t('sign.signInWithAPasskey') }}</Button>
    <p v-if="door.error.value" class="quiet">{{ door.error.value.message }}</p>
    <Button v-if="has('pictures') && has('secret')" size="small" class="text-16px" @click="byPictures = !byPictures">
      {{ byPictures ? t('sign.useAPasswordOfWords') : t('sign.useAPicturePassword') }}
    </Button>
    <a v-if="has('sign-on')" class="text-16px" href="/api/sign-on">{{ t('sign.signInWithTheDistricts') }}</a>
    <RouterLink class="text-16px" to="/join">{{ t('sign.joinAClassWithA') }}</RouterLink>
    <RouterLink v-if="!at" class="text-16px" to="/password">{{ t('sign.forgotPassword') }}</RouterLink>
  </Door>
</template>
