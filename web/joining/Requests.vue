<script setup lang="ts">
/** Who asks to be let in: what they say of themselves, and under it those on record who could be meant, field under field. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import Page from '@/kit/Page.vue';
import Figures from '@/kit/Figures.vue';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref, watch } from 'vue';
import type { JoinRequest } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { momentWords } from '@/time';
import { useLoad } from '@/kit/load';

type Candidate = JoinRequest['candidates'][number];
const work = useWork();
const list = useLoad(t('joining.joinRequests2'), 'GET /api/requests');
const rows = computed(() => list.data.value ?? []);
const at = ref(0);
watch(rows, () => (at.value = Math.min(at.value, Math.max(0, rows.value.length - 1))));
const refusing = ref<{ id: string; why: string } | null>(null);
const busy = ref(false);
const change = useChange(() => list.refetch());

async function settle(
  id: string,
  body: { accept: true; personId: string | null } | { accept: false; why: string },
): Promise<void> {
  if (busy.value) return;
  busy.value = true;
  const made = await change(
    () => call('POST /api/requests/:id/settle', { id, body }),
    ({ sentence }) => sentence,
  );
  if (made) refusing.value = null;
  busy.value = false;
}
async function askTransfer(id: string): Promise<void> {
  try {
    work.say((await call('POST /api/requests/:id/transfer', { id })).sentence);
    await list.refetch();
  } catch (error) {
    work.wrong(error);
  }
}
const approve = (one: JoinRequest, who: Candidate | null) =>
  settle(one.id, { accept: true, personId: who?.personId ?? null });
const what: Record<JoinRequest['kind'], string> = {
  student: t('joining.wantsToJoin'),
  missing: t('joining.isMissingFrom'),
  teach: t('joining.wantsToTeach'),
  staff: t('joining.wantsToJoinTheStaff'),
  transfer: t('joining.wouldTransferTo'),
  rename: t('joining.shouldBeTheNameOf'),
};
const columns = [
  ['familyName', t('joining.familyName')],
  ['givenName', t('common.givenName')],
  ['number', t('joining.number')],
  ['birthDate', t('joining.birthDate')],
] as const;
const marks = { same: '=', alike: '≈', differs: '≠', unknown: '' } as const;
const words = {
  same: t('joining.agrees'),
  alike: t('joining.similar'),
  differs: t('joining.differs'),
  unknown: t('joining.notGiven'),
} as const;
</script>

<template>
  <Page class="requests" :title="t('joining.joinRequests')" :count="String(rows.length)" scrolls>
    <p v-if="list.data.value && rows.length === 0" class="quiet">
      {{ t('joining.noJoinRequestsStudentsWhose') }}
    </p>
    <article v-for="(one, i) in rows" :key="one.id" :class="{ here: i === at }" @focusin="at = i">
      <p class="row">
        <b>{{ one.givenName }} {{ one.familyName }}</b>
        <span class="quiet">{{ what[one.kind] }} {{ one.now ?? one.toSchool ?? one.className ?? one.school }}</span>
        <span v-if="one.className" class="quiet">· {{ one.school }}</span>
        <span v-if="one.askedBy && (one.kind === 'missing' || one.kind === 'rename')" class="quiet">{{
          t('joining.requestedBy', { askedBy: one.askedBy })
        }}</span>
        <span v-if="one.note" class="clip">“{{ one.note }}”</span>
        <span v-if="one.email" class="mono">{{ one.email }}</span>
        <span class="grow" />
        <span class="quiet">{{ momentWords(one.at) }}</span>
      </p>
      <Figures
        v-if="one.kind === 'student' || one.kind === 'missing'"
        class="wide w-full"
        :rows="[null, ...one.candidates]"
        :row-key="(_, k) => k"
        :row-class="(c) => ({ said: !c })"
        :columns="[
          { key: 'what', title: t('joining.record'), untitled: true, heading: true },
          ...columns.map(([key, title]) => ({
            key,
            title,
            cellClass: (c: Candidate | null) => (c ? c.fields[key] : { mono: key === 'number' }),
          })),
          { key: 'where', title: t('joining.where') },
          { key: 'act', title: t('joining.actions'), untitled: true },
        ]"
      >
        <template #what="{ row: c }">
          <span :class="{ quiet: c }">{{ c ? t('joining.onRecord') : t('joining.typed') }}</span>
        </template>
        <template v-for="[key] in columns" :key="key" #[key]="{ row: c }">
          <template v-if="c"
            ><i class="[font-style:normal] inline-block w-1em c-quiet" aria-hidden="true">{{ marks[c.fields[key]] }}</i>
            {{ words[c.fields[key]] }}</template
          >
          <template v-else>{{ one[key] ?? '—' }}</template>
        </template>
        <template #where="{ row: c }">
          <template v-if="c">
            {{ [c.school, c.classes].filter(Boolean).join(' · ') }}
            <span v-if="c.note" class="rust">{{ c.note }}</span>
            <span v-if="c.leaves" class="rust">{{
              t('joining.leavesWhoseTeachersAreTold', { leaves: c.leaves })
            }}</span>
          </template>
          <span v-else-if="one.candidates.length === 0" class="quiet">{{ t('joining.noStudentOnRecordIs') }}</span>
        </template>
        <template #act="{ row: c }">
          <Button v-if="c?.may === 'approve'" size="small" @click="approve(one, c)">{{ t('joining.approve') }}</Button>
          <Button v-else-if="c?.may === 'transfer'" size="small" @click="askTransfer(one.id)">
            {{ t('joining.requestTransfer') }}
          </Button>
        </template>
      </Figures>
      <div class="row foot">
        <Button v-if="one.kind !== 'student' && one.kind !== 'missing'" size="small" @click="approve(one, null)">{{
          t('joining.approve')
        }}</Button>
        <form
          v-if="refusing?.id === one.id"
          class="row grow"
          @submit.prevent="settle(one.id, { accept: false, why: refusing.why })"
          @keydown.esc.stop="refusing = null"
        >
          <label class="row grow"
            >{{ t('joining.reason') }} <TextInput v-model:value="refusing.why" class="grow" required maxlength="300"
          /></label>
          <Button html-type="submit" size="small" danger>{{
            t('joining.decline', { givenName: one.givenName })
          }}</Button>
          <Button type="text" size="small" @click="refusing = null">{{ t('common.back') }}</Button>
        </form>
        <Button
          v-else
          danger
          size="small"
          @click="refusing = { id: one.id, why: one.candidates.length === 0 ? t('joining.notOnRegister') : '' }"
        >
          {{ t('joining.decline2') }}
        </Button>
      </div>
    </article>
  </Page>
</template>

<style scoped>
article {
  border: 1px solid var(--rule);
  border-left: 4px solid var(--rule);
  background: var(--sheet);
  padding: 8px 12px;
  max-width: 1180px;
  display: grid;
  gap: 6px;
}
article.here {
  border-left-color: var(--straw);
}
.wide :deep(td) {
  overflow-wrap: anywhere;
}
.wide :deep(.said td) {
  font-weight: 650;
}
.wide :deep(.differs) {
  color: var(--rust);
}
.wide :deep(.alike) {
  color: var(--dusk);
}
</style>
