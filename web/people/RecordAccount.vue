<script setup lang="ts">
/** The account of one person: its name, its role, its password for who may see it, and its card. */
import { t } from '@/words';
import { Button, SelectOption } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import type { PersonSheet } from '../../server/contract';
import { call } from '@/api';
import { usePassword } from './password';
import { useChange } from '@/kit/change';
import Suggest from '@/kit/Suggest.vue';
import Choice from '@/kit/Choice.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { dayOfWords } from '@/time';
import { pictures, picturesOf } from '#core/accounts/pictures';

/** `page`: new password and card stand at the head of the page. */
const props = defineProps<{ sheet: PersonSheet; page?: boolean }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const work = useWork();
const person = computed(() => props.sheet.person);
const id = computed(() => person.value.id);
const secret = ref<string | null>(null);
watch(id, () => (secret.value = why.value = null));
const drawn = computed(() => (secret.value === null ? null : picturesOf(secret.value)));
const reasonField = ref<{ focus: () => void } | null>(null);
watch(reasonField, (field) => field?.focus());

const change = useChange(() => emit('changed'));
const giveRole = (role: 'teacher' | 'school' | 'district') =>
  change(() => call('POST /api/staff/:id/role', { id: id.value, body: { role } }), t('people.theRoleIsNow', { role }));
async function invite(): Promise<void> {
  try {
    const { jobId } = await call('POST /api/staff/:id/invite', { id: id.value });
    if (jobId) work.say((await work.follow(jobId, t('common.sendingMail'))).sentence ?? '');
    else work.say(t('people.invitationCreatedNoMailServer'));
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
async function resetPassword(): Promise<void> {
  try {
    await call('POST /api/staff/:id/reset', { id: id.value });
    work.say(t('people.theOldPasswordNoLonger'));
  } catch (error) {
    work.wrong(error);
  }
}
const states: Record<string, string> = {
  active: t('people.accountActive'),
  frozen: t('people.accountSuspended'),
};
const { busy, renew, printCard } = usePassword(id, () => {
  secret.value = null;
  emit('changed');
});
/** Why the password is to be shown, as it will stand in the trail; null: nobody asked. */
const why = ref<string | null>(null);
const reasons = [t('people.forgotIt'), t('people.lostTheCard'), t('people.newHereToday'), t('people.parentAsks')].map(
  (value) => ({
    value,
  }),
);
async function reveal(): Promise<void> {
  const reason = why.value?.trim();
  if (!reason) return;
  try {
    secret.value = (await call('POST /api/people/:id/reveal', { id: id.value, body: { why: reason } })).secret;
    why.value = null;
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section>
    <h2>{{ t('people.account2') }}</h2>
    <p v-if="sheet.account">
      <span class="mono">{{ sheet.account.username }}</span>
      <span class="quiet">{{ ` · ${states[sheet.account.status] ?? sheet.account.status}` }}</span>
    </p>
    <p v-if="person.role === 'staff' && sheet.account" class="row">
      <label v-if="session.may('roles.district')" class="row"
        >{{ t('people.role') }}
        <Choice
          :value="sheet.account.role"
          @update:value="(role) => giveRole(role as 'teacher' | 'school' | 'district')"
        >
          <SelectOption value="teacher">{{ t('people.teacher') }}</SelectOption>
          <SelectOption value="school">{{ t('people.schoolCoordinator') }}</SelectOption>
          <SelectOption value="district">{{ t('people.districtCoordinator') }}</SelectOption>
        </Choice></label
      >
      <template v-if="session.isCoordinator">
        <Button v-if="sheet.signedIn" size="small" @click="resetPassword">{{ t('people.resetPassword') }}</Button>
        <Button v-else size="small" @click="invite">{{ t('people.invite') }}</Button>
      </template>
    </p>
    <p v-if="!sheet.account" class="quiet">{{ t('common.none') }}</p>
    <div v-if="person.role === 'student' && sheet.account" class="row flex-wrap">
      <template v-if="secret">
        <svg
          v-for="name in drawn ?? []"
          :key="name"
          class="w-26px h-26px fill-none stroke-ink [stroke-width:2] [stroke-linecap:round] [stroke-linejoin:round]"
          viewBox="0 0 24 24"
          aria-hidden="true"
        >
          <path :d="pictures[name]" />
        </svg>
        <span class="mono">{{ secret }}</span>
      </template>
      <form v-else-if="why !== null" class="row" @submit.prevent="reveal" @keydown.esc.stop="why = null">
        <label class="row"
          >{{ t('people.reason') }}
          <Suggest ref="reasonField" v-model:value="why" :options="reasons" class="why w-150px" :maxlength="300"
        /></label>
        <Button html-type="submit" size="small">{{ t('people.showPassword') }}</Button>
      </form>
      <template v-else>
        <Button size="small" :title="t('people.whoSawItWhenAnd')" @click="why = t('people.forgotIt')">{{
          t('people.showPassword')
        }}</Button>
        <template v-if="!page">
          <Button size="small" :disabled="busy" @click="renew">{{ t('people.newPassword') }}</Button>
          <Button size="small" @click="printCard">{{ t('people.printCard') }}</Button>
        </template>
      </template>
    </div>
    <p v-if="sheet.card" class="quiet">
      {{ t('people.cardPrinted', { printedAt: dayOfWords(sheet.card.printedAt) })
      }}<span v-if="!sheet.card.current" class="rust"> {{ t('people.outOfDate') }}</span>
    </p>
  </section>
</template>
