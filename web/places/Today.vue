<script setup lang="ts">
/** Today: what waits, most urgent first, and how ready each school is, link by link. Each number opens its people. */
import { Button } from 'ant-design-vue';
import { daysBetween } from '#core/time/index';
import { computed, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import type { Today } from '../../server/contract';
import LineChart from '@/charts/LineChart.vue';
import { useSession } from '@/stores/session';
import { useLoad } from '@/kit/load';

const session = useSession();
const router = useRouter();
const today = useLoad('Today', 'GET /api/today');
const products = useLoad('products', 'GET /api/products', undefined, { enabled: () => session.isCoordinator });
const carts = useLoad('carts', 'GET /api/carts', () => ({ query: {} }), { enabled: () => session.isCoordinator });
const devices = useLoad('filters', 'GET /api/devices/facets', () => ({ query: {} }), {
  enabled: () => session.isCoordinator,
});
/** Seats are counted beside; the rest does not wait for them. */
const waits = computed(() => {
  const short = (products.data.value?.products ?? []).flatMap(({ id, label, short: s }) =>
    s
      ? [
          {
            id: `short ${id}`,
            text: `${label}: ${s.count} seats short from ${s.from}`,
            action: 'Look at the seats',
            to: `/licenses?product=${id}`,
            urgency: 75,
          },
        ]
      : [],
  );
  const twice = (carts.data.value?.troubles ?? [])
    .filter(({ kind }) => kind === 'twice')
    .map(({ cartId, text }) => ({
      id: `cart ${cartId}`,
      text,
      action: 'Look at the carts',
      to: '/devices/carts',
      urgency: 65,
    }));
  const late = devices.data.value?.where.find(({ value }) => value === 'late')?.count ?? 0;
  const overdue =
    late > 0
      ? [
          {
            id: 'late',
            text: `${late} devices are late`,
            action: 'Look at them',
            to: '/devices?where=late',
            urgency: 55,
          },
        ]
      : [];
  return [...(today.data.value?.waits ?? []), ...short, ...twice, ...overdue].sort((a, b) => b.urgency - a.urgency);
});
const weeks = useLoad(
  'readiness',
  'GET /api/readiness',
  () => ({ query: { school: session.where.school ?? undefined } }),
  { enabled: () => session.isCoordinator },
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
  ['account', 'account', null],
  ['class', 'class', 'class'],
  ['seats', 'seats', 'seats'],
  ['device', 'device', 'device'],
  ['card', 'card', 'card'],
  ['signed-in', 'signed in', 'signed-in'],
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
  lacking(row, link) === 0 ? 'all' : `${lacking(row, link)} lack`;
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
  <div class="today">
    <section class="waits">
      <h1>{{ days > 0 ? `${days} days until school opens` : session.me?.year.name }}</h1>
      <h2>Waits to be settled</h2>
      <ul>
        <li v-for="w in waits" :key="w.id + w.text">
          <span class="mark" :class="{ urgent: w.urgency >= 80 }" aria-hidden="true" /><span class="grow">{{
            w.text
          }}</span
          ><RouterLink :to="w.to">{{ w.action }}</RouterLink>
        </li>
        <li v-if="today.data.value && waits.length === 0" class="quiet">
          Nothing waits.<template v-if="session.isCoordinator"
            >&nbsp;<RouterLink to="/imports">Open a file from the office</RouterLink></template
          >
        </li>
      </ul>
    </section>
    <section class="ready">
      <h2 id="ready">Readiness of students</h2>
      <table aria-labelledby="ready">
        <thead>
          <tr>
            <th scope="col">school</th>
            <th scope="col" class="n">students</th>
            <th v-for="[key, label] in links" :key="key" scope="col">{{ label }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id" :class="{ sub: row.parent }">
            <th scope="row">
              <Button
                v-if="!row.parent"
                type="text"
                size="small"
                :aria-expanded="opened.has(row.id)"
                @click="toggle(row.id)"
              >
                <span
                  ><span aria-hidden="true">{{ opened.has(row.id) ? '▾' : '▸' }}</span> {{ row.name }}</span
                >
              </Button>
              <template v-else>{{ row.name }}</template>
            </th>
            <td class="n">
              <Button type="text" size="small" @click="open(row, null)">{{ row.people }}</Button>
            </td>
            <td
              v-for="[key, label, lacks] in links"
              :key="key"
              class="cell"
              :class="[`s${step(row, key)}`, { later: key === 'signed-in' && days > 0 }]"
            >
              <Button
                type="text"
                size="small"
                :aria-label="`${says(row, key)}: ${label}, ${row.name}, ${row.people} students`"
                @click="open(row, lacks)"
              >
                <i aria-hidden="true"
                  ><b :style="{ width: `${(row.link[key] / Math.max(1, row.people)) * 100}%` }"
                /></i>
                <span>{{ says(row, key) }}</span>
              </Button>
            </td>
          </tr>
          <tr v-if="today.data.value && rows.length === 0">
            <td colspan="8" class="quiet none">
              No students yet.
              <RouterLink v-if="session.isCoordinator" to="/imports">Open a file from the office</RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
      <template v-if="weeks.data.value && weeks.data.value.days.length > 1">
        <h2>Over the last weeks</h2>
        <LineChart label="Readiness over the last weeks" :days="weeks.data.value.days" :lines="lines" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.today {
  display: flex;
  gap: 32px;
  padding: 16px;
  overflow: auto;
  align-items: flex-start;
}
.waits {
  flex: 1 1 300px;
  min-width: 280px;
}
.waits h2 {
  margin-top: 12px;
}
.waits li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 7px 0;
  border-bottom: 1px solid var(--rule);
}
.waits a {
  white-space: nowrap;
}
.mark {
  width: 8px;
  height: 8px;
  border: 1.5px solid var(--quiet);
  flex: none;
}
.mark.urgent {
  border-color: var(--rust);
  background: var(--rust);
  transform: rotate(45deg);
}
.ready {
  flex: 2 1 640px;
}
table {
  border-collapse: collapse;
  width: 100%;
  background: var(--sheet);
  border: 1px solid var(--rule);
  margin-top: 4px;
}
th {
  font-weight: 400;
  text-align: left;
}
thead th {
  color: var(--quiet);
  font-size: 13px;
  background: var(--fog);
}
th,
td {
  padding: 0 8px;
  height: 30px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
.n {
  text-align: right;
}
tbody th {
  min-width: 140px;
}
.sub th {
  padding-left: 28px;
  color: var(--quiet);
}
.cell button {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
}
.cell i {
  width: 34px;
  height: 10px;
  border: 1px solid var(--quiet);
  display: block;
  flex: none;
}
.cell b {
  display: block;
  height: 100%;
  background: var(--stem);
}
.cell span {
  font-size: 13px;
  white-space: nowrap;
}
.s4 span {
  color: var(--quiet);
}
.s0 b,
.s1 b {
  background: var(--rust);
}
.s0 span,
.s1 span {
  color: var(--rust);
}
.cell.later b {
  background: var(--dusk);
}
.cell.later span {
  color: var(--quiet);
}
.ready h2 + figure {
  margin-top: 4px;
}
table + h2 {
  margin-top: 20px;
}
.none {
  padding: 16px;
}
</style>
