<script setup lang="ts">
/** The first run: who this is for, the school year, and the first coordinator, on one page. Schools come with the roster. */
import { t } from '@/words';
import { Alert, Button, Form, FormItem, Input, InputPassword, RangePicker } from 'ant-design-vue';
import { computed, reactive, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '@/api';
import { zones } from '@/settings/zones';
import Choice from '@/kit/Choice.vue';
import Door from './Door.vue';

const router = useRouter();
const form = reactive({
  code: '',
  district: '',
  givenName: '',
  familyName: '',
  username: '',
  password: '',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  yearBegins: '',
  yearEnds: '',
});
const year = computed({
  get: () => (form.yearBegins ? [form.yearBegins, form.yearEnds] : undefined) as [string, string] | undefined,
  set: (days) => ([form.yearBegins, form.yearEnds] = days ?? ['', '']),
});
const lacksYear = ref(false);
const failure = ref('');
async function go(): Promise<void> {
  failure.value = '';
  lacksYear.value = !form.yearBegins;
  if (lacksYear.value) return;
  try {
    await call('POST /api/setup', { body: form });
    await call('POST /api/sign-in', { body: { username: form.username, secret: form.password } });
    await router.push('/');
  } catch (error) {
    failure.value = error instanceof Error ? error.message : String(error);
  }
}
</script>

<template>
  <Door :title="t('sign.setUpSheaf')" wide>
    <p>
      {{ t('sign.nameYourDistrictAndIts') }}
    </p>
    <Form layout="vertical" :model="form" :required-mark="false" class="set-up" @submit.prevent="go">
      <div class="grid [grid-template-columns:repeat(auto-fit,minmax(min(100%,220px),1fr))] gap-y-0 gap-x-12px">
        <FormItem :label="t('sign.setUpCode')" html-for="code" :extra="t('sign.setUpCodeHint')">
          <Input
            id="code"
            v-model:value="form.code"
            class="mono"
            required
            autofocus
            autocomplete="off"
            autocapitalize="characters"
            :spellcheck="false"
          />
        </FormItem>
        <FormItem :label="t('sign.district')" html-for="district" :extra="t('sign.districtHint')">
          <Input id="district" v-model:value="form.district" required :maxlength="200" />
        </FormItem>
      </div>
      <div class="grid [grid-template-columns:repeat(auto-fit,minmax(min(100%,220px),1fr))] gap-y-0 gap-x-12px">
        <FormItem :label="t('sign.timeZone')" html-for="zone">
          <Choice id="zone" v-model:value="form.zone" :options="zones(form.zone)" />
        </FormItem>
        <FormItem
          :label="t('sign.firstAndLastDayOf')"
          html-for="year"
          :validate-status="lacksYear ? 'error' : ''"
          :help="lacksYear ? t('sign.chooseTheFirstAndThe') : undefined"
        >
          <RangePicker id="year" v-model:value="year" value-format="YYYY-MM-DD" format="MMM D, YYYY" />
        </FormItem>
      </div>
      <div class="grid [grid-template-columns:repeat(auto-fit,minmax(min(100%,220px),1fr))] gap-y-0 gap-x-12px">
        <FormItem :label="t('sign.yourGivenName')" html-for="given">
          <Input id="given" v-model:value="form.givenName" required />
        </FormItem>
        <FormItem :label="t('sign.yourFamilyName')" html-for="family">
          <Input id="family" v-model:value="form.familyName" required />
        </FormItem>
      </div>
      <div class="grid [grid-template-columns:repeat(auto-fit,minmax(min(100%,220px),1fr))] gap-y-0 gap-x-12px">
        <FormItem :label="t('common.username')" html-for="username">
          <Input
            id="username"
            v-model:value="form.username"
            class="mono"
            required
            autocapitalize="none"
            :spellcheck="false"
            autocomplete="username"
          />
        </FormItem>
        <FormItem :label="t('sign.password')" html-for="password" :extra="t('sign.atLeast8')">
          <InputPassword
            id="password"
            v-model:value="form.password"
            class="mono"
            required
            autocomplete="new-password"
          />
        </FormItem>
      </div>
      <Alert v-if="failure" type="error" role="alert" :message="failure" />
      <Button type="primary" size="large" html-type="submit">{{ t('sign.setUpAndSignIn') }}</Button>
    </Form>
  </Door>
</template>

<style scoped>
.set-up :deep(.ant-form-item) {
  margin-bottom: 12px;
}
.set-up :deep(.ant-picker) {
  width: 100%;
}
</style>
