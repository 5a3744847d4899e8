<script setup lang="ts">
/** How what is held is used: minutes by week on a chart, by school, class or group below it, and who stands out. */
import { locale, t } from '@/words';
import Head from '@/kit/Head.vue';
import Figures from '@/kit/Figures.vue';
import DayInput from '@/kit/DayInput.vue';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import type { UseRow, UseStand } from '../../server/contract';
import { call } from '@/api';
import BarChart from '@/charts/BarChart.vue';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { dayWords, timeWords } from '@/time';
import ProductKey from './ProductKey.vue';
import { useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const product = ref('');
const from = ref('');
const to = ref('');
const group = ref('');
watch(
  () => session.where.classId,
  () => (group.value = ''),
);
const filter = computed(() => ({
  ...session.scope,
  group: group.value || undefined,
  product: product.value || undefined,
  from: from.value || undefined,
  to: to.value || undefined,
}));
const query = useLoad(t('use.usage'), 'GET /api/use', () => ({ query: filter.value }), {
  every: (data) => (data?.anew ? 3000 : false),
});
const sheet = computed(() => query.data.value);
const groups = useLoad(
  t('use.groups'),
  'GET /api/groups',
  () => ({ query: { classId: session.where.classId ?? undefined } }),
  {
    enabled: () => session.where.classId !== null,
    keep: false,
  },
);
const bars = computed(() => ({
  bars: sheet.value?.weeks.map(dayWords) ?? [],
  parts: sheet.value?.byProduct.map(({ label, minutes }) => ({ name: label, counts: minutes })) ?? [],
}));
const stands: [UseStand, string][] = [
  ['never', t('use.neverUsedTheirSeat')],
  ['idle', t('use.didNotUseTheirSeat')],
  ['hurries', t('use.rushThrough')],
  ['used', t('use.usedIt')],
];
const looked = ref<UseStand | null>(null);
const people = useLoad(
  t('use.students'),
  'GET /api/use/people',
  () => ({ query: { ...filter.value, stand: looked.value! } }),
  { enabled: () => looked.value !== null, alone: true },
);
async function gather(stand: UseStand): Promise<void> {
  try {
    const { gathered } = await call('POST /api/use/gather', { body: { ...filter.value, stand } });
    await sheaf.load();
    work.say(t('use.gathered', { gathered: gathered.toLocaleString(locale) }));
  } catch (error) {
    work.wrong(error);
  }
}
/** A school opens to its classes, a class to its groups. */
function openRow(row: UseRow): void {
  const school = session.where.school ?? session.me?.schools.find(({ id }) => id === row.id)?.id ?? null;
  if (session.me?.schools.some(({ id }) => id === row.id)) session.go({ school: row.id });
  else if (!session.where.classId) session.go({ school, grade: null, classId: row.id, className: row.name });
}
const n = (count: number) => count.toLocaleString(locale);
const columns = computed((): Col[] => [
  {
    key: 'name',
    label: session.where.classId ? t('use.group2') : session.where.school ? t('common.class') : t('common.school'),
    width: 'minmax(150px, 1.4fr)',
  },
  { key: 'students', label: t('common.students'), width: '66px', align: 'right' },
  { key: 'seats', label: t('use.seats'), width: '48px', align: 'right' },
  { key: 'used', label: t('use.usedIt2'), width: '56px', align: 'right' },
  { key: 'minutes', label: t('use.minutes'), width: '68px', align: 'right' },
  { key: 'each', label: t('use.byWeek'), width: '84px', align: 'right' },
  { key: 'hurries', label: t('use.rush'), width: '48px', align: 'right' },
  { key: 'weeks', label: t('use.weekByWeek'), width: 'minmax(100px, 1fr)' },
]);
/** Minutes a week of each who used it. */
const each = (row: UseRow) => (row.used === 0 ? '—' : Math.round(row.minutes / row.used / row.weeks.length));
const peopleColumns: Col[] = [
  { key: 'name', label: t('use.student'), width: 'minmax(120px, 1.3fr)' },
  { key: 'number', label: t('common.number'), width: '66px', mono: true },
  { key: 'className', label: t('common.class'), width: 'minmax(80px, 1fr)' },
  { key: 'days', label: t('use.days'), width: '42px', align: 'right' },
  { key: 'minutes', label: t('use.minutes'), width: '60px', align: 'right' },
  { key: 'lastOn', label: t('use.lastUse'), width: '86px' },
];
const most = computed(() => Math.max(1, ...(sheet.value?.rows.flatMap(({ weeks }) => weeks) ?? [])));
const keying = ref(false);
</script>

<template>
  <div class="flex flex-col min-h-0">
    <Part v-if="keying" fit><ProductKey @close="keying = false" /></Part>
    <Head :title="t('use.usage2')">
      <template #actions>
        <ExportLine list="use" :filter="{ ...filter, stand: looked ?? 'used' }" />
        <Button v-if="session.may('product.keys') && !keying" @click="keying = true">
          {{ t('use.usageReporting') }}
        </Button>
      </template>
    </Head>
    <div class="bar">
      <label class="quiet"
        >{{ t('use.from2') }}
        <Choice v-model:value="product">
          <SelectOption value="">{{ t('use.allProductsWithUsageData') }}</SelectOption>
          <SelectOption v-for="p in sheet?.products" :key="p.id" :value="p.id">{{ p.label }}</SelectOption>
        </Choice></label
      >
      <label v-if="groups.data.value?.length" class="quiet"
        >{{ t('use.group') }}
        <Choice v-model:value="group">
          <SelectOption value="">{{ t('use.all') }}</SelectOption>
          <SelectOption v-for="g in groups.data.value" :key="g.id" :value="g.id">{{ g.name }}</SelectOption>
        </Choice></label
      >
      <label class="quiet">{{ t('use.from') }} <DayInput v-model:value="from" /></label>
      <label class="quiet">{{ t('use.to') }} <DayInput v-model:value="to" /></label>
      <span v-if="sheet && !from && !to" class="quiet">{{
        t('use.to2', { from: dayWords(sheet.from), to: dayWords(sheet.to) })
      }}</span>
      <span v-if="sheet?.anew" class="quiet">{{
        t('use.asOfBeingUpdated', { countedAt: timeWords(sheet.countedAt) })
      }}</span>
    </div>
    <div v-if="sheet" class="body panes flex-1">
      <section>
        <BarChart v-if="sheet.byProduct.length > 0" :label="t('use.minutesByWeek')" v-bind="bars" />
        <p v-else class="quiet py-12px px-16px">
          {{ t('use.noUsageWasReportedFor') }}
        </p>
        <Worksheet
          class="list-below"
          :label="t('use.usage2')"
          :rows="sheet.rows"
          :columns="columns"
          :empty="t('use.noStudentsHere')"
          @open="openRow"
        >
          <template #each="{ row }">{{ each(row) }}</template>
          <template #minutes="{ row }">{{ n(row.minutes) }}</template>
          <template #hurries="{ row }"
            ><span :class="row.hurries ? 'rust' : 'quiet'">{{ row.hurries || '—' }}</span></template
          >
          <template #weeks="{ row }"
            ><span
              class="weeks"
              role="img"
              :aria-label="row.weeks.map((w, i) => `${dayWords(sheet!.weeks[i]!)} ${w}`).join(', ')"
              ><i
                v-for="(w, i) in row.weeks"
                :key="i"
                :style="{ height: `${Math.max(1, Math.round((w / most) * 20))}px` }" /></span
          ></template>
        </Worksheet>
      </section>
      <section class="right">
        <Figures
          :label="t('use.standsOut')"
          :rows="stands"
          :row-key="([stand]) => stand"
          :columns="[{ key: 'count', number: true }, { key: 'label' }, { key: 'view' }, { key: 'gather' }]"
        >
          <template #count="{ row: [stand] }">
            <b :class="{ rust: stand !== 'used' && sheet.counts[stand] }">{{ n(sheet.counts[stand]) }}</b>
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
            ><span v-if="row.lastOn">{{ row.lastOn }}</span
            ><span v-else class="quiet">{{ t('use.never') }}</span></template
          >
        </Worksheet>
        <section v-else-if="sheet.strays.length > 0" class="strays py-12px px-16px">
          <h2>{{ t('use.reportedByProductsButUnknown') }}</h2>
          <ul>
            <li v-for="s in sheet.strays" :key="s.product + s.who" class="py-2px px-0">
              <b class="mono">{{ s.who }}</b>
              <span class="quiet">{{
                t('use.timesLastOn', { product: s.product, times: s.times, lastOn: s.lastOn })
              }}</span>
            </li>
          </ul>
        </section>
        <p v-else class="quiet py-12px px-16px">
          {{ t('use.studentsWhoRushFinishedAt') }}
        </p>
      </section>
    </div>
  </div>
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
.weeks {
  display: inline-flex;
  align-items: flex-end;
  gap: 2px;
  height: 22px;
}
.weeks i {
  width: 9px;
  background: var(--dusk);
}
</style>
