<script setup lang="ts">
/** How what is held is used: minutes by week on a chart, by school, class or group below it, and who stands out. */
import { locale, t } from '@/words';
import Head from '@/kit/Head.vue';
import DayInput from '@/kit/DayInput.vue';
import Choice from '@/kit/Choice.vue';
import Part from '@/kit/Part.vue';
import { Button, RadioButton, RadioGroup, SelectOption } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import type { UseRow, UseStand } from '../../server/contract';
import BarChart from '@/charts/BarChart.vue';
import { useSession } from '@/stores/session';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col } from '@/worksheet/Worksheet.vue';
import { dayWords, timeWords } from '@/time';
import ClassSkills from './ClassSkills.vue';
import StandsOut from './StandsOut.vue';
import { useLoad } from '@/kit/load';

const session = useSession();
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
/** What is shown is of other days or another place, until the new counts are here. */
const isOld = computed(() => query.isPlaceholderData.value);
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
const told = ref<'minutes' | 'sign-ins' | 'skills'>('minutes');
const signIns = useLoad(
  t('use.signIns'),
  'GET /api/use/sign-ins',
  () => ({ query: { ...filter.value, product: undefined } }),
  { enabled: () => told.value === 'sign-ins' },
);
const looked = ref<UseStand | null>(null);
/** Of one class each student is shown. */
watch(
  () => session.where.classId,
  (id) => {
    looked.value = id === null ? null : 'all';
    if (id === null && told.value === 'skills') told.value = 'minutes';
  },
  { immediate: true },
);
/** A school opens to its classes, a class to its groups. */
function openRow(row: UseRow): void {
  const school = session.where.school ?? session.me?.schools.find(({ id }) => id === row.id)?.id ?? null;
  if (session.me?.schools.some(({ id }) => id === row.id)) session.go({ school: row.id });
  else if (!session.where.classId) session.go({ school, grade: null, classId: row.id, className: row.name });
}
const n = (count: number) => count.toLocaleString(locale);
/** A line for each class: of the school that is looked at, or of the only one. */
const ofClasses = computed(() => session.where.school !== null || (session.me?.schools.length ?? 0) < 2);
const columns = computed((): Col[] => [
  {
    key: 'name',
    label: session.where.classId ? t('use.group2') : ofClasses.value ? t('common.class') : t('common.school'),
    width: 'minmax(120px, 1.4fr)',
  },
  { key: 'students', label: t('common.students'), width: '62px', align: 'right' },
  { key: 'seats', label: t('use.seats'), width: '48px', align: 'right' },
  { key: 'used', label: t('use.usedIt2'), width: '56px', align: 'right' },
  { key: 'minutes', label: t('use.minutes'), width: '60px', align: 'right' },
  { key: 'each', label: t('use.byWeek'), width: '56px', align: 'right' },
  { key: 'hurries', label: t('use.rush'), width: '48px', align: 'right' },
  { key: 'weeks', label: t('use.weekByWeek'), width: 'minmax(80px, 1fr)' },
]);
/** Minutes a week of each who used it. */
const each = (row: UseRow) => (row.used === 0 ? '—' : Math.round(row.minutes / row.used / row.weeks.length));
const most = computed(() => Math.max(1, ...(sheet.value?.rows.flatMap(({ weeks }) => weeks) ?? [])));
</script>

<template>
  <div class="flex flex-col min-h-0">
    <Head :title="t('use.usage2')">
      <template #actions>
        <ExportLine list="use" :filter="{ ...filter, stand: looked ?? 'used' }" />
        <RouterLink v-if="session.may('product.keys')" to="/settings/products">{{
          t('use.usageReporting')
        }}</RouterLink>
      </template>
    </Head>
    <div class="bar">
      <label class="quiet"
        >{{ t('use.product') }}
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
      <span v-if="isOld" class="quiet" role="status">{{ t('use.countsOfBefore') }}</span>
      <span v-else-if="sheet?.anew" class="quiet">{{
        t('use.asOfBeingUpdated', { countedAt: timeWords(sheet.countedAt) })
      }}</span>
    </div>
    <div v-if="sheet" class="body panes flex-1" :class="{ old: isOld }" :aria-busy="isOld">
      <section>
        <RadioGroup
          v-model:value="told"
          size="small"
          class="py-4px px-16px"
          button-style="solid"
          :aria-label="t('use.showWhat')"
        >
          <RadioButton value="minutes">{{ t('use.minutes') }}</RadioButton>
          <RadioButton value="sign-ins">{{ t('use.signIns') }}</RadioButton>
          <RadioButton v-if="session.where.classId" value="skills">{{ t('use.skillsAndWords') }}</RadioButton>
        </RadioGroup>
        <Part v-if="told === 'skills' && session.where.classId" class="flex-1 min-h-0">
          <ClassSkills :class-id="session.where.classId" :group="group || undefined" :product="product || undefined" />
        </Part>
        <BarChart
          v-else-if="told === 'sign-ins' && signIns.data.value"
          :unit="t('common.students')"
          :label="t('use.signInsByWeek')"
          :bars="signIns.data.value.weeks.map(dayWords)"
          :parts="[{ name: t('use.studentsWhoSignedIn'), counts: signIns.data.value.people }]"
        />
        <BarChart
          v-else-if="sheet.byProduct.length > 0"
          :unit="t('use.minutes')"
          :label="t('use.minutesByWeek')"
          v-bind="bars"
        />
        <p v-else class="quiet py-12px px-16px">
          {{ t('use.noUsageWasReportedFor') }}
        </p>
        <Worksheet
          v-if="told !== 'skills'"
          class="list-below"
          :label="t('use.usage2')"
          :rows="sheet.rows"
          :columns="columns"
          :empty="session.where.classId ? t('use.noGroupsHere') : t('use.noStudentsHere')"
          @open="openRow"
        >
          <template #name="{ row }"
            ><Button
              v-if="!session.where.classId"
              type="link"
              size="small"
              class="flush clip max-w-full"
              :title="row.name"
              tabindex="-1"
              @click="openRow(row)"
              ><span class="block clip">{{ row.name }}</span></Button
            ><template v-else>{{ row.name }}</template></template
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
      <StandsOut v-model:looked="looked" :sheet="sheet" :filter="filter" />
    </div>
  </div>
</template>

<style scoped>
.old {
  opacity: 0.55;
}
.weeks {
  display: inline-flex;
  align-items: flex-end;
  gap: 2px;
  height: 22px;
}
.weeks i {
  width: 6px;
  background: var(--dusk);
}
</style>
