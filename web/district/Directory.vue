<script setup lang="ts">
/** The district's directory: how much of it is as it should be, what it refused, sending and comparing. */
import { locale, t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { momentWords } from '@/time';
import { useLoad } from '@/kit/load';

const work = useWork();
const router = useRouter();
const list = useLoad(t('district.theDirectory'), 'GET /api/directory');
const state = computed(() => list.data.value);
const busy = ref(false);
async function run(what: 'send' | 'compare'): Promise<void> {
  busy.value = true;
  try {
    const { jobId } = await call(what === 'send' ? 'POST /api/directory/send' : 'POST /api/directory/compare');
    const result = await work.follow(
      jobId,
      what === 'send' ? t('district.sendingToTheDirectory') : t('district.comparingWithTheDirectory'),
    );
    if (result.planId) await router.push(`/plans/${result.planId}`);
    else work.say(result.sentence ?? t('district.done'));
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  } finally {
    busy.value = false;
    await list.refetch();
  }
}
const n = (count: number) => count.toLocaleString(locale);
</script>

<template>
  <section>
    <h2>{{ t('district.directory') }}</h2>
    <template v-if="state?.url">
      <p class="quiet">
        {{ t('district.putAccountsAndClassesIn') }} <span class="mono">{{ state.url }}</span>{{
          t('district.afterEachAppliedPlan')
        }}
      </p>
      <table>
        <thead>
          <tr>
            <td />
            <th scope="col" class="num">{{ t('district.cleanedUp') }}</th>
            <th scope="col" class="num">{{ t('district.waiting') }}</th>
            <th scope="col" class="num">{{ t('district.failed') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="[label, row] in [
              ['people', state.people],
              ['classes', state.classes],
            ] as const"
            :key="label"
          >
            <th scope="row">{{ label }}</th>
            <td class="num">{{ n(row.done) }}</td>
            <td class="num">{{ n(row.due) }}</td>
            <td class="num" :class="{ rust: row.failed > 0 }">{{ n(row.failed) }}</td>
          </tr>
        </tbody>
      </table>
      <ul v-if="state.failures.length > 0" class="failures">
        <li v-for="f in state.failures" :key="f.label">
          <b>{{ f.label }}</b> <span class="rust">{{ f.message }}</span>
        </li>
      </ul>
      <p class="row">
        <Button :disabled="busy" @click="run('send')">{{
          state.lastSentAt ? t('district.sendPendingChanges') : t('district.sendEveryone')
        }}</Button>
        <Button :disabled="busy || !state.lastSentAt" @click="run('compare')">{{
          t('district.compareWithTheDirectory')
        }}</Button>
        <span v-if="state.lastSentAt" class="quiet">{{
          t('district.lastSent', { lastSentAt: momentWords(state.lastSentAt) })
        }}</span>
      </p>
    </template>
    <p v-else class="quiet">
      {{ t('district.notSetUp') }} <span class="mono">{{ t('district.sheafDirectoryUrl') }}</span>
      {{ t('district.and') }} <span class="mono">{{ t('district.sheafDirectoryToken') }}</span>
      {{ t('district.setOneThatSpeaksScim') }}
    </p>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  align-content: start;
}
table {
  border-collapse: collapse;
  justify-self: start;
}
th,
td {
  font-weight: 400;
  text-align: left;
  padding: 3px 16px 3px 0;
}
thead th {
  color: var(--quiet);
  font-size: 13px;
}
.num {
  text-align: right !important;
}
.failures {
  font-size: 13px;
  max-height: 120px;
  overflow: auto;
}
.mono {
  overflow-wrap: anywhere;
}
</style>
