<script setup lang="ts">
/** Who stands out in what was used: counted, looked at and gathered; or names of products that nobody here has. */
import { Button } from 'ant-design-vue';
import type { UseFilter, UseSheet, UseStand } from '../../server/contract';
import { call } from '@/api';
import Figures from '@/kit/Figures.vue';
import { useLoad } from '@/kit/load';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { dayWords } from '@/time';
import { locale, t } from '@/words';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';

const props = defineProps<{ sheet: UseSheet; filter: UseFilter }>();
/** Whose names are shown. */
const looked = defineModel<UseStand | null>('looked', { required: true });
const sheaf = useSheaf();
const work = useWork();
const n = (count: number) => count.toLocaleString(locale);
const stands: [UseStand, string][] = [
  ['never', t('use.neverUsedTheirSeat')],
  ['idle', t('use.didNotUseTheirSeat')],
  ['hurries', t('use.rushThrough')],
  ['used', t('use.usedIt')],
  ['all', t('use.everyone')],
];
const people = useLoad(
  t('use.students'),
  'GET /api/use/people',
  () => ({ query: { ...props.filter, stand: looked.value! } }),
  { enabled: () => looked.value !== null, alone: true },
);
async function gather(stand: UseStand): Promise<void> {
  try {
    const { gathered } = await call('POST /api/use/gather', { body: { ...props.filter, stand } });
    await sheaf.load();
    work.say(t('use.gathered', { gathered: gathered.toLocaleString(locale) }));
  } catch (error) {
    work.wrong(error);
  }
}
const peopleColumns: Col[] = [
  { key: 'name', label: t('use.student'), width: 'minmax(120px, 1.3fr)' },
  { key: 'number', label: t('common.number'), width: '66px', mono: true },
  { key: 'className', label: t('common.class'), width: 'minmax(80px, 1fr)' },
  { key: 'days', label: t('use.days'), width: '42px', align: 'right' },
  { key: 'minutes', label: t('use.minutes'), width: '60px', align: 'right' },
  { key: 'lastOn', label: t('use.lastUse'), width: '86px' },
];
</script>

<template>
  <section class="right">
    <Figures
      :label="t('use.standsOut')"
      :rows="stands"
      :row-key="([stand]) => stand"
      :columns="[{ key: 'count', number: true }, { key: 'label' }, { key: 'view' }, { key: 'gather' }]"
    >
      <template #count="{ row: [stand] }">
        <b :class="{ rust: stand !== 'used' && stand !== 'all' && sheet.counts[stand] }">{{
          n(sheet.counts[stand])
        }}</b>
      </template>
      <template #label="{ row: [, label] }">{{ label }}</template>
      <template #view="{ row: [stand, label] }">
        <Button
          size="small"
          :aria-label="t('use.viewStudentsWho', { label })"
          :aria-pressed="looked === stand"
          @click="looked = looked === stand ? null : stand"
        >
          {{ t('use.view') }}
        </Button>
      </template>
      <template #gather="{ row: [stand, label] }">
        <Button size="small" :aria-label="t('use.gatherStudentsWho', { label })" @click="gather(stand)">
          {{ t('use.gather') }}
        </Button>
      </template>
    </Figures>
    <Worksheet
      v-if="looked"
      class="list-below"
      :label="t('use.theseStudents')"
      :rows="people.data.value ?? []"
      :columns="peopleColumns"
      :empty="t('use.noOneDoes')"
    >
      <template #className="{ row }"
        >{{ row.className }} <span class="quiet">{{ row.school }}</span></template
      >
      <template #lastOn="{ row }"
        ><span v-if="row.lastOn">{{ dayWords(row.lastOn) }}</span
        ><span v-else class="quiet">{{ t('use.never') }}</span></template
      >
    </Worksheet>
    <section v-else-if="sheet.strays.length > 0" class="strays py-12px px-16px">
      <h2>{{ t('use.reportedByProductsButUnknown') }}</h2>
      <ul>
        <li v-for="s in sheet.strays" :key="s.product + s.who" class="py-2px px-0">
          <b class="mono">{{ s.who }}</b>
          <span class="quiet">{{
            t('use.timesLastOn', { product: s.product, times: s.times, lastOn: dayWords(s.lastOn) })
          }}</span>
        </li>
      </ul>
    </section>
    <p v-else class="quiet py-12px px-16px">
      {{ t('use.studentsWhoRushFinishedAt') }}
    </p>
  </section>
</template>

<style scoped>
.right {
  gap: 12px;
  padding: 12px 0 0;
  font-size: 13px;
}
.right > table {
  margin: 0 16px;
}
</style>
