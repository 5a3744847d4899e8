<script setup lang="ts">
/** How long what is kept, what is due to be purged, and purging it: the one thing that cannot be undone. */
import { locale, spoken, t } from '@/words';
import Figures from '@/kit/Figures.vue';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { retentionWords } from '#core/retention/index';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { useAgain, useLoad } from '@/kit/load';

const work = useWork();
const reload = useAgain();
const query = useLoad(t('year.retention'), 'GET /api/retention');
const sheet = computed(() => query.data.value);
const due = computed(() => sheet.value?.kinds.reduce((sum, kind) => sum + kind.due, 0) ?? 0);
const typed = ref('');
const matches = computed(() => typed.value.trim() === sheet.value?.district);
async function purge(): Promise<void> {
  if (!matches.value || due.value === 0) return;
  try {
    const { jobId } = await call('POST /api/retention/purge', { body: { typed: typed.value } });
    typed.value = '';
    const { sentence } = await work.follow(jobId, t('year.purgingWhatIsDue'));
    work.say(sentence ?? t('year.purged'));
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
  await reload();
}
const n = (count: number) => count.toLocaleString(locale);
const columns: Col[] = [
  { key: 'name', label: t('year.left'), width: 'minmax(160px, 1.5fr)' },
  { key: 'number', label: t('common.number'), width: '84px', mono: true },
  { key: 'role', label: t('year.sameAs'), width: '70px' },
  { key: 'leftOn', label: t('year.on2'), width: '100px' },
];
</script>

<template>
  <div v-if="sheet" class="retention flex min-h-0">
    <h1 class="sr">{{ t('places.retention') }}</h1>
    <section class="[flex:1_1_56%] min-w-0 overflow-auto py-12px px-16px flex flex-col gap-12px">
      <Figures
        :rows="sheet.kinds"
        :row-key="(k) => k.kind"
        :columns="[
          { key: 'what', title: t('year.what'), heading: true },
          { key: 'months', title: t('year.keepForMonths'), number: true },
          { key: 'due', title: t('year.dueToday'), number: true },
          { key: 'next', title: t('year.next') },
        ]"
      >
        <template #what="{ row: k }">{{ spoken(retentionWords[k.kind]) }}</template>
        <template #months="{ row: k }">
          {{ n(sheet.retention[k.kind]) }}
        </template>
        <template #due="{ row: k }"
          ><b :class="{ rust: k.due }">{{ n(k.due) }}</b></template
        >
        <template #next="{ row: k }">
          <span class="quiet">{{ k.next ? t('year.on', { nextCount: n(k.nextCount), next: k.next }) : '—' }}</span>
        </template>
      </Figures>
      <p class="quiet max-w-640px">
        {{ t('year.studentsWhoLeftAreSuspended') }}
        <RouterLink to="/settings/retention">{{ t('year.changeMonths') }}</RouterLink>
      </p>
      <p v-if="sheet.withDevice > 0" class="max-w-640px">
        {{ t('year.whoLeftStillADevice', { withDevice: sheet.withDevice }) }}
      </p>
      <p v-if="due === 0" class="max-w-640px">{{ t('year.nothingIsDueSoThere') }}</p>
      <form v-else class="act grid gap-8px justify-items-start ruled-t pt-12px" @submit.prevent="purge">
        <label class="grid gap-4px"
          ><span
            >{{ t('year.thisCannotBeUndoneType') }} <b>{{ sheet.district }}</b>
            {{ t('year.toPurgeTheDueRecords', { due: n(due) }) }}</span
          >
          <TextInput v-model:value="typed" autocomplete="off"
        /></label>
        <Button html-type="submit" danger :disabled="!matches">{{ t('year.purgeDueRecords', { due: n(due) }) }}</Button>
        <ExportLine v-if="sheet.leavers.length > 0" list="leavers" />
      </form>
    </section>
    <Worksheet
      class="due"
      :label="t('year.peopleWhoAreDue')"
      :rows="sheet.leavers"
      :columns="columns"
      :empty="t('year.noOneWhoLeftIs')"
    />
  </div>
</template>

<style scoped>
.due {
  flex: 1 1 44%;
  min-width: 0;
  border-left: 1px solid var(--rule);
}
</style>
