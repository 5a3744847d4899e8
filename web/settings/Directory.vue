<script setup lang="ts">
/** The district's directory: how much of it is as it should be, what it refused, sending and comparing. */
import { locale, t } from '@/words';
import Figures from '@/kit/Figures.vue';
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
  <section class="grid gap-8px content-start">
    <h1>{{ t('district.directory') }}</h1>
    <template v-if="state?.url">
      <p class="quiet">
        {{ t('district.putAccountsAndClassesIn') }} <span class="mono break-anywhere">{{ state.url }}</span>{{
          t('district.afterEachAppliedPlan')
        }}
      </p>
      <Figures
        class="justify-self-start"
        :rows="[
          { key: 'people', label: t('common.people'), ...state.people },
          { key: 'classes', label: t('common.classes'), ...state.classes },
        ]"
        :row-key="(row) => row.key"
        :columns="[
          { key: 'label', title: t('district.what'), untitled: true, heading: true },
          { key: 'done', title: t('district.cleanedUp'), number: true },
          { key: 'due', title: t('district.waiting'), number: true },
          { key: 'failed', title: t('district.failed'), number: true, cellClass: (row) => ({ rust: row.failed > 0 }) },
        ]"
      >
        <template v-for="key in ['done', 'due', 'failed'] as const" :key="key" #[key]="{ row }">{{
          n(row[key])
        }}</template>
      </Figures>
      <ul v-if="state.failures.length > 0" class="text-13px max-h-120px overflow-auto">
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
      {{ t('district.notSetUp') }} <span class="mono break-anywhere">{{ t('district.sheafDirectoryUrl') }}</span>
      {{ t('district.and') }} <span class="mono break-anywhere">{{ t('district.sheafDirectoryToken') }}</span>
      {{ t('district.setOneThatSpeaksScim') }}
    </p>
  </section>
</template>
