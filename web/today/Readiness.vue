<script setup lang="ts">
/** How ready each school is, link by link, and grade by grade where it is opened. Each number opens its students. */
import { t } from '@/words';
import Figures from '@/kit/Figures.vue';
import { Button } from 'ant-design-vue';
import { daysBetween } from '#core/time/index';
import { computed, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import type { Today } from '../../server/contract';
import LineChart from '@/charts/LineChart.vue';
import { usePlace } from './place';
import { useSession } from '@/stores/session';
import { useLoad } from '@/kit/load';

const session = useSession();
const router = useRouter();
const place = usePlace();
const today = useLoad(t('today.readiness'), 'GET /api/today', () => ({ query: place.value }));
const weeks = useLoad(
  t('today.readiness'),
  'GET /api/readiness',
  () => ({ query: { school: session.where.school ?? undefined } }),
  { enabled: () => session.may('readiness') },
);
const lines = computed(() =>
  links.map(([key, name]) => ({
    name,
    shares: weeks.data.value?.links.find(({ link }) => link === key)?.shares ?? [],
  })),
);
const opened = ref(new Set<string>());

type Line = Today['readiness'][number];
const links = [
  ['account', t('today.account')],
  ['class', t('common.class')],
  ['seats', t('today.seats')],
  ['device', t('today.device')],
  ['card', t('today.card')],
  ['signed-in', t('today.firstSignIn')],
] as const;
const rows = computed<Line[]>(() => {
  const all = today.data.value?.readiness ?? [];
  const schools = all.filter((r) => r.parent === null && (!session.where.school || r.id === session.where.school));
  return schools.flatMap((s) => [
    s,
    ...(opened.value.has(s.id) || session.where.school
      ? all.filter((r) => r.parent === s.id).sort((a, b) => rank(a) - rank(b))
      : []),
  ]);
});
const rank = (row: Line): number => {
  const grade = row.id.split(':')[1] ?? '';
  return grade === 'KG' ? 0 : Number(grade) || 50;
};
const toggle = (id: string) => (
  opened.value.has(id) ? opened.value.delete(id) : opened.value.add(id),
  (opened.value = new Set(opened.value))
);
const lacking = (row: Line, link: (typeof links)[number][0]) => row.people - row.link[link];
const says = (row: Line, link: (typeof links)[number][0]) =>
  lacking(row, link) === 0 ? t('today.allDone') : `${lacking(row, link)}`;
/** Five steps, each with a fill of its own so that the shade is read without its color. */
const step = (row: Line, link: (typeof links)[number][0]) =>
  row.people === 0 ? 0 : Math.min(4, Math.floor((row.link[link] / row.people) * 4));
function open(row: Line, lacks: string | null): void {
  const [school, grade] = row.id.split(':');
  session.go({ school: school ?? null, grade: grade ?? null });
  void router.push({ path: '/people', query: lacks ? { lacks } : {} });
}
const days = computed(() => daysBetween(session.me!.today, session.me!.year.begins));
</script>

<template>
  <section class="ready [flex:2_1_640px] min-w-0 overflow-x-auto">
    <h2 id="ready">{{ t('today.studentReadiness') }}</h2>
    <Figures
      class="wide w-full mt-4px"
      labelledby="ready"
      :rows="rows"
      :row-key="(row) => row.id"
      :row-class="(row) => ({ sub: row.parent })"
      :columns="[
        { key: 'name', title: t('common.school'), heading: true },
        { key: 'people', title: t('common.students'), number: true },
        ...links.map(([key, title]) => ({
          key,
          title,
          cellClass: (row: Line) => ['cell', `s${step(row, key)}`, { later: key === 'signed-in' && days > 0 }],
        })),
      ]"
    >
      <template #name="{ row }">
        <Button v-if="!row.parent" type="text" size="small" :aria-expanded="opened.has(row.id)" @click="toggle(row.id)">
          <span
            ><span aria-hidden="true">{{ opened.has(row.id) ? '▾' : '▸' }}</span> {{ row.name }}</span
          >
        </Button>
        <template v-else>{{ row.name }}</template>
      </template>
      <template #people="{ row }">
        <Button type="text" size="small" @click="open(row, null)">{{ row.people }}</Button>
      </template>
      <template v-for="[key, label] in links" :key="key" #[key]="{ row }">
        <Button
          type="text"
          size="small"
          :aria-label="
            lacking(row, key) > 0
              ? t('today.missingOf', { row: lacking(row, key), people: row.people, label, name: row.name })
              : t('today.all', { people: row.people, label, name: row.name })
          "
          @click="open(row, key)"
        >
          <i class="w-28px h-10px [border:1px_solid_var(--quiet)] block flex-none" aria-hidden="true"
            ><b class="block h-full bg-stem" :style="{ width: `${(row.link[key] / Math.max(1, row.people)) * 100}%` }"
          /></i>
          <span
            >{{ says(row, key) }}<span v-if="lacking(row, key) > 0" class="word"> {{ t('today.missing') }}</span></span
          >
        </Button>
      </template>
      <template v-if="today.data.value" #empty>
        {{ t('today.noStudentsYet') }}
        <RouterLink v-if="session.may('imports')" to="/imports">{{ t('today.importARoster') }}</RouterLink>
      </template>
    </Figures>
    <template v-if="weeks.data.value && weeks.data.value.days.length > 1">
      <h2>{{ t('today.pastWeeks') }}</h2>
      <LineChart :label="t('today.studentReadinessByDay')" :days="weeks.data.value.days" :lines="lines" />
    </template>
  </section>
</template>

<style scoped>
.wide :deep(:is(th, td)) {
  padding: 0 5px;
  height: 30px;
}
.wide :deep(tbody th) {
  min-width: 140px;
}
.wide :deep(.sub th) {
  padding-left: 28px;
  color: var(--quiet);
}
.wide :deep(.cell button) {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
}
.wide :deep(.cell span) {
  font-size: 13px;
  white-space: nowrap;
}
@media (max-width: 1500px) {
  .word {
    display: none;
  }
}
.wide :deep(.s4 span) {
  color: var(--quiet);
}
.wide :deep(:is(.s0, .s1) b) {
  background: var(--rust);
}
.wide :deep(:is(.s0, .s1) span) {
  color: var(--rust);
}
.wide :deep(.later b) {
  background: var(--dusk);
}
.wide :deep(.later span) {
  color: var(--quiet);
}
.ready h2 + figure {
  margin-top: 4px;
}
.wide + h2 {
  margin-top: 20px;
}
</style>
