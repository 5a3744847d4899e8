<script setup lang="ts">
/** One's own account: the password, second factors, and where one is signed in. */
import { t } from '@/words';
import Page from '@/kit/Page.vue';
import { startRegistration, type PublicKeyCredentialCreationOptionsJSON } from '@simplewebauthn/browser';
import { Alert, Button, Form, FormItem, Input, InputPassword, Result, Skeleton } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { momentWords } from '@/time';
import { useLoad } from '@/kit/load';
import Preferences from './Preferences.vue';
import Sessions from './Sessions.vue';

const session = useSession();
const work = useWork();
const own = useLoad(t('profile.yourProfile'), 'GET /api/profile');
const profile = computed(() => own.data.value ?? null);

const change = reactive({ current: '', next: '' });
const busy = ref('');
const failure = ref('');
async function run(what: string, act: () => Promise<void>): Promise<void> {
  if (busy.value) return;
  busy.value = what;
  failure.value = '';
  try {
    await act();
    await own.refetch();
    await session.renew();
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  } finally {
    busy.value = '';
  }
}
const changePassword = () =>
  run('password', async () => {
    await call('POST /api/profile/password', { body: { ...change } });
    Object.assign(change, { current: '', next: '' });
    work.say(t('profile.yourPasswordIsChangedAll'));
  });

const recovery = ref<string[]>([]);
const app = ref<{ uri: string; secret: string; qr: string } | null>(null);
const code = ref('');
const beginApp = () => run('app', async () => void (app.value = await call('POST /api/profile/app/begin')));
const confirmApp = () =>
  run('app', async () => {
    recovery.value = (await call('POST /api/profile/app', { body: { code: code.value } })).recovery;
    app.value = null;
    code.value = '';
  });
const passkeyName = ref('');
const addPasskey = () =>
  run('passkey', async () => {
    const { options, token } = await call('POST /api/profile/passkeys/begin');
    const response = await startRegistration({ optionsJSON: options as PublicKeyCredentialCreationOptionsJSON });
    const name = passkeyName.value.trim() || 'Passkey';
    const made = await call('POST /api/profile/passkeys', { body: { token, name, response } });
    if (made.recovery) recovery.value = made.recovery;
    passkeyName.value = '';
  });
const remove = (id: string) =>
  run('remove', async () => void (await call('POST /api/profile/factors/remove', { body: { id } })));
const newCodes = () =>
  run('recovery', async () => void (recovery.value = (await call('POST /api/profile/recovery')).recovery));
const linkSignOn = () =>
  run('sign-on', async () => window.location.assign((await call('POST /api/profile/sign-on')).url));
</script>

<template>
  <Page class="profile" :title="t('profile.profile')" scrolls>
    <Alert
      v-if="session.me?.mustAddFactor"
      type="warning"
      show-icon
      :message="t('profile.yourDistrictAsksCoordinatorsFor')"
    />
    <Result v-if="own.error.value && !profile" status="warning" :title="t('profile.couldntLoadYourProfile')">
      <template #extra
        ><Button @click="own.refetch()">{{ t('profile.tryAgain') }}</Button></template
      >
    </Result>
    <Skeleton v-else-if="!profile" active :title="false" />
    <template v-else>
      <p>
        {{ t('common.username') }} <b class="mono">{{ profile.username }}</b><span v-if="profile.email" class="quiet">
          · {{ profile.email }}</span
        >
      </p>
      <Alert v-if="failure" type="error" :message="failure" role="alert" />
      <Alert v-if="recovery.length > 0" type="info" :message="t('profile.yourRecoveryCodes')" class="codes">
        <template #description>
          <p>
            {{ t('profile.printTheseOrWriteThem') }}
          </p>
          <p class="mono break-anywhere [user-select:all]">{{ recovery.join('   ') }}</p>
          <Button size="small" @click="recovery = []">{{ t('profile.iSavedThem') }}</Button>
        </template>
      </Alert>

      <Preferences />
      <section class="grid gap-8px" aria-labelledby="password">
        <h2 id="password">{{ t('profile.password') }}</h2>
        <Form layout="vertical" class="narrow max-w-420px" @submit.prevent="changePassword">
          <FormItem v-if="profile.hasPassword" :label="t('profile.currentPassword')" html-for="current">
            <InputPassword id="current" v-model:value="change.current" autocomplete="current-password" />
          </FormItem>
          <FormItem :label="t('profile.newPassword')" html-for="next" :extra="t('sign.passwordHint')">
            <InputPassword id="next" v-model:value="change.next" autocomplete="new-password" />
          </FormItem>
          <Button html-type="submit" :loading="busy === 'password'" :disabled="change.next.length < 8">{{
            t('profile.changePassword')
          }}</Button>
        </Form>
      </section>

      <section class="grid gap-8px" aria-labelledby="factors">
        <h2 id="factors">{{ t('profile.secondFactor') }}</h2>
        <p class="quiet">
          {{ t('profile.besidesYourPasswordSigningIn') }}
        </p>
        <ul>
          <li v-for="key in profile.factors.passkeys" :key="key.id" class="row py-4px px-0">
            <span class="grow">{{ t('profile.passkey', { name: key.name }) }}</span>
            <span class="quiet">{{
              key.lastAt
                ? t('profile.lastUsed', { lastAt: momentWords(key.lastAt) })
                : t('profile.added', { createdAt: momentWords(key.createdAt) })
            }}</span>
            <Button size="small" @click="remove(key.id)">{{ t('common.remove') }}</Button>
          </li>
          <li v-if="profile.factors.app" class="row py-4px px-0">
            <span class="grow">{{ t('profile.authenticatorApp') }}</span>
            <Button size="small" @click="remove('app')">{{ t('common.remove') }}</Button>
          </li>
          <li v-if="profile.factors.app || profile.factors.passkeys.length > 0" class="row py-4px px-0">
            <span class="grow">{{
              t('profile.recoveryCodesLeft', { recoveryLeft: profile.factors.recoveryLeft })
            }}</span>
            <Button size="small" @click="newCodes">{{ t('profile.makeNewCodes') }}</Button>
          </li>
        </ul>
        <div class="row flex-wrap">
          <Input
            v-model:value="passkeyName"
            :aria-label="t('profile.nameOfThePasskey')"
            :placeholder="t('profile.nameSuchAsOfficeLaptop')"
            :maxlength="60"
          />
          <Button :loading="busy === 'passkey'" @click="addPasskey">{{ t('profile.addPasskey') }}</Button>
          <Button v-if="!profile.factors.app && !app" :loading="busy === 'app'" @click="beginApp">{{
            t('profile.setUpApp')
          }}</Button>
        </div>
        <Form v-if="app" layout="vertical" class="narrow max-w-420px" @submit.prevent="confirmApp">
          <p>{{ t('profile.scanThisWithAnAuthenticator') }}</p>
          <img :src="app.qr" :alt="t('profile.qrCodeForTheAuthenticator')" width="200" height="200" />
          <p class="mono break-anywhere [user-select:all]">{{ app.secret }}</p>
          <FormItem :label="t('profile.code')" html-for="app-code">
            <Input
              id="app-code"
              v-model:value="code"
              inputmode="numeric"
              autocomplete="one-time-code"
              :maxlength="10"
            />
          </FormItem>
          <Button html-type="submit" :loading="busy === 'app'" :disabled="code.trim().length < 6">{{
            t('profile.confirmApp')
          }}</Button>
        </Form>
      </section>

      <section v-if="profile.signOn !== 'none'" class="grid gap-8px" aria-labelledby="sign-on">
        <h2 id="sign-on">{{ t('profile.districtSignOn') }}</h2>
        <p v-if="profile.signOn === 'linked'">{{ t('profile.yourAccountIsLinkedTo') }}</p>
        <p v-else>
          <Button :loading="busy === 'sign-on'" @click="linkSignOn">{{ t('profile.linkToTheDistrictsSign') }}</Button>
        </p>
      </section>

      <Sessions :sessions="profile.sessions" :run="run" :is-busy="busy === 'sessions'" />
    </template>
  </Page>
</template>

<style scoped>
.profile :deep(.page-body > *) {
  max-width: 900px;
  min-width: 0;
}
.flex-wrap :deep(input) {
  max-width: 260px;
}
</style>
