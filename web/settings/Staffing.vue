<script setup lang="ts">
/** Who was invited and who came; links for those who get no mail; and codes with which staff of a school ask to be let in. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { RouterLink } from 'vue-router';
import type { DistrictState, Invitation } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ state: DistrictState }>();
const work = useWork();
const reload = useAgain();
const invited = useLoad(t('district.invitations'), 'GET /api/invitations');
const codes = useLoad(t('district.joinCodes'), 'GET /api/codes', () => ({ query: {} }));
const staffCodes = computed(() =>
  (codes.data.value?.codes ?? []).filter(({ kind, state }) => kind === 'staff' && state !== 'closed'),
);
const link = ref<{ id: string; url: string } | null>(null);
const schoolId = ref(props.state.schools[0]?.id ?? '');
const words: Record<Invitation['state'], string> = {
  waits: t('district.notSent'),
  sent: t('district.sent'),
  failed: t('district.couldNotBeSent'),
  expired: t('district.expired'),
  used: t('district.willBeIn'),
};
async function show({ id }: Invitation): Promise<void> {
  try {
    link.value = { id, ...(await call('POST /api/invitations/:id/link', { id })) };
  } catch (error) {
    work.wrong(error);
  }
}
async function again({ personId, email }: Invitation): Promise<void> {
  try {
    const { jobId } = await call('POST /api/staff/:id/invite', { id: personId });
    if (jobId) work.say((await work.follow(jobId, t('common.sendingMail'))).sentence ?? '');
    else work.say(t('district.newInvitationForCopyIts', { email }));
    await invited.refetch();
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
async function newCode(): Promise<void> {
  try {
    await call('POST /api/codes', { body: { classId: null, schoolId: schoolId.value, days: 7, usesMost: 50 } });
    await reload('GET /api/codes');
  } catch (error) {
    work.wrong(error);
  }
}
async function endCode(id: string): Promise<void> {
  await call('POST /api/codes/:id/end', { id });
  await reload('GET /api/codes');
}
</script>

<template>
  <section class="grid gap-8px content-start">
    <h1>{{ t('district.staff') }}</h1>
    <p class="quiet">
      {{
        t('district.addNewStaffUnderPeople', {
          over: state.mail ? t('district.invitationsAreSentByEmail') : t('district.noMailServerIsSet'),
        })
      }}
    </p>
    <ul class="max-h-260px overflow-auto">
      <li v-for="one in invited.data.value?.slice(0, 60)" :key="one.id" class="py-2px px-0 faint-b">
        <p class="row">
          <span class="grow clip">{{ one.name }}</span>
          <span class="quiet clip">{{ one.email }}</span>
          <span :class="{ rust: one.state === 'failed' || one.state === 'expired', stem: one.state === 'used' }">{{
            words[one.state]
          }}</span>
          <template v-if="one.state !== 'used'">
            <Button size="small" :aria-label="t('district.linkFor', { name: one.name })" @click="show(one)">
              {{ t('district.link') }}
            </Button>
            <Button size="small" :aria-label="t('district.inviteAgain', { name: one.name })" @click="again(one)">
              {{ t('district.inviteAgain2') }}
            </Button>
          </template>
        </p>
        <p v-if="link?.id === one.id" class="mono break-anywhere [user-select:all]">{{ link.url }}</p>
        <p v-if="one.lastError" class="rust text-12px">{{ one.lastError }}</p>
      </li>
    </ul>
    <p v-if="invited.data.value?.length === 0" class="quiet">{{ t('district.noOneHasBeenInvited') }}</p>
    <p class="row">
      <label class="row"
        >{{ t('district.codeForStaffOf') }}
        <Choice v-model:value="schoolId">
          <SelectOption v-for="s in state.schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <Button size="small" @click="newCode">{{ t('district.createCode') }}</Button>
    </p>
    <ul class="max-h-260px overflow-auto">
      <li v-for="c in staffCodes" :key="c.id" class="row py-2px px-0 faint-b">
        <b class="mono">{{ c.code }}</b>
        <span class="quiet grow">{{
          t('district.of2', { school: c.school, uses: c.uses, usesMost: c.usesMost })
        }}</span>
        <RouterLink :to="`/board/${c.id}`">{{ t('district.showCode') }}</RouterLink>
        <Button
          type="text"
          size="small"
          :aria-label="t('district.endTheCode', { code: c.code })"
          @click="endCode(c.id)"
        >
          {{ t('common.end') }}
        </Button>
      </li>
    </ul>
  </section>
</template>
