<script setup lang="ts">
/** Where a person is signed in; each session can be ended. */
import { Button, Table, type TableColumnType, Tag } from 'ant-design-vue';
import { computed } from 'vue';
import type { Profile } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { momentWords } from '@/time';
import { t } from '@/words';

const props = defineProps<{
  sessions: Profile['sessions'];
  isBusy: boolean;
  run: (what: string, act: () => Promise<void>) => Promise<void>;
}>();
const work = useWork();
const end = (id: string | null) =>
  props.run('sessions', async () => {
    const { ended } = await call('POST /api/profile/sessions/end', { body: { id } });
    work.say(t('profile.sessionsEnded', { ended }));
  });

type Row = Profile['sessions'][number];
/** The browser by name, as far as its own description gives it away. */
const browserName = (agent: string) =>
  /Edg\//.test(agent)
    ? 'Edge'
    : /Firefox\//.test(agent)
      ? 'Firefox'
      : /Chrome\//.test(agent)
        ? 'Chrome'
        : /Safari\//.test(agent)
          ? 'Safari'
          : t('profile.anotherBrowser');
const ways: Record<string, string> = {
  password: t('profile.byPassword'),
  passkey: t('profile.byPasskey'),
  'sign-on': t('profile.districtSignOn2'),
  card: t('profile.byCard'),
};
const columns: TableColumnType<Row>[] = [
  { title: t('profile.browser'), dataIndex: 'browser', key: 'browser' },
  { title: t('profile.address'), dataIndex: 'address', key: 'address' },
  { title: t('profile.signedIn'), dataIndex: 'createdAt', key: 'createdAt' },
  { title: t('profile.lastUsed2'), dataIndex: 'lastAt', key: 'lastAt' },
  { title: t('worksheet.actions'), key: 'act', align: 'right' },
];
const others = computed(() => props.sessions.filter(({ isThis }) => !isThis).length);
</script>

<template>
  <section class="grid gap-8px" aria-labelledby="sessions">
    <h2 id="sessions">{{ t('profile.whereYouAreSignedIn') }}</h2>
    <Table
      :columns="columns"
      :data-source="sessions"
      row-key="id"
      size="small"
      :pagination="false"
      :scroll="{ x: true }"
    >
      <template #bodyCell="{ column, record }">
        <template v-if="column.key === 'browser'"
          >{{ browserName(record.browser) }}
          <span class="quiet">{{
            t('profile.by', { password: ways[record.way] ?? t('profile.password2') })
          }}</span></template
        >
        <template v-else-if="column.key === 'createdAt' || column.key === 'lastAt'">{{
          momentWords(record[column.key])
        }}</template>
        <template v-else-if="column.key === 'act'">
          <Tag v-if="record.isThis">{{ t('profile.thisSession') }}</Tag>
          <Button
            v-else
            size="small"
            :aria-label="t('profile.endTheSessionAt', { address: record.address })"
            @click="end(record.id)"
            >{{ t('common.end') }}</Button
          >
        </template>
      </template>
    </Table>
    <p>
      <Button :disabled="others === 0" :loading="isBusy" @click="end(null)">{{
        t('profile.signOutEverywhereElse')
      }}</Button>
    </p>
  </section>
</template>
