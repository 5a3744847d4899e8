<script setup lang="ts">
/** Giving out to grades in which everyone has one, what is late, what is still out class by class, what must be replaced when. */
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { call } from '@/api';
import BarChart from '@/charts/BarChart.vue';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { gradeLabel } from '#core/tabular/values';
import { useLoad } from '@/kit/load';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const router = useRouter();
const query = useLoad('devices', 'GET /api/devices/overview', () => ({
  query: { school: session.where.school ?? undefined },
}));
const all = computed(() => query.data.value);
const one = computed(() => all.value?.oneToOne);
const school = computed(
  () => session.where.school ?? (session.isEverywhere ? null : (session.me?.schools[0]?.id ?? null)),
);
async function assign(): Promise<void> {
  if (!one.value?.moves) return;
  try {
    const { jobId } = await call('POST /api/devices/assign', { body: { school: school.value } });
    const { planId } = await work.follow(jobId, 'Planning devices');
    await router.push(`/plans/${planId}`);
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
useCarryOut(assign);
const years = computed(() => [...new Set(all.value?.refresh.map(({ year }) => year) ?? [])].sort());
const models = computed(() => [...new Set(all.value?.refresh.map(({ model }) => model) ?? [])].sort());
const bars = computed(() => ({
  bars: years.value.map((year) => `${year}–${String((year + 1) % 100).padStart(2, '0')}`),
  parts: models.value.map((name) => ({
    name,
    counts: years.value.map((year) => all.value!.refresh.find((r) => r.year === year && r.model === name)?.count ?? 0),
  })),
}));
async function gather(classId: string): Promise<void> {
  try {
    await sheaf.gatherAll({ classId, role: 'student' });
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <div v-if="all && one" class="stock">
    <section class="out">
      <h2>
        Giving out{{
          one.grades.length > 0 ? `: everyone in grades ${one.grades.map(gradeLabel).join(', ')} has one` : ''
        }}
      </h2>
      <p v-if="one.grades.length === 0" class="quiet">
        No grade has one device for everyone. Say which under <RouterLink to="/settings">Settings</RouterLink>.
      </p>
      <template v-else>
        <p>
          {{ one.kept }} have theirs and keep it. <b>{{ one.lacking }} lack one</b>; the assignment moves
          {{ one.moves }} devices, the fewest that it takes<template v-if="one.mixed"
            >, {{ one.mixed }} of them of another model than the class</template
          ><template v-if="one.shortYears"
            >, in all {{ one.shortYears }} years short of how long their holders stay</template
          >.
          <span v-if="one.unmet" class="rust">For {{ one.unmet }} none is left.</span>
        </p>
        <Button type="primary" :disabled="one.moves === 0" @click="assign"
          ><span>Plan {{ one.moves }} devices <kbd>Ctrl+Enter</kbd></span></Button
        >
      </template>
      <ul class="waits">
        <li v-if="all.troubles.length > 0">
          <span class="rust">{{ all.troubles[0] }}</span>{{
            all.troubles.length > 1 ? ` and ${all.troubles.length - 1} more that do not go together` : ''
          }}.
          <RouterLink to="/devices/carts">Look at the carts</RouterLink>
        </li>
        <li v-if="all.late">
          <span class="rust">{{ all.late }} are late</span>{{ ' ' }}
          <RouterLink :to="{ path: '/devices', query: { where: 'late' } }">Look at them</RouterLink>
        </li>
        <li v-if="all.repair">
          {{ all.repair }} are broken or in repair
          <RouterLink :to="{ path: '/devices', query: { where: 'repair' } }">Look at them</RouterLink>
        </li>
        <li v-if="all.missing">
          {{ all.missing }} are missing
          <RouterLink :to="{ path: '/devices', query: { where: 'missing' } }">Look at them</RouterLink>
        </li>
        <li>
          {{ all.spare }} are spare
          <RouterLink :to="{ path: '/devices', query: { where: 'free' } }">Look at the free ones</RouterLink>
        </li>
      </ul>
    </section>
    <section class="refresh">
      <h2>To be replaced, by school year</h2>
      <BarChart v-if="bars.bars.length > 0" label="Devices to be replaced, by school year and model" v-bind="bars" />
      <p v-else class="quiet">Nothing that is on record has a date by which it must be replaced.</p>
    </section>
    <section class="collect">
      <h2>Still out, class by class</h2>
      <table v-if="all.collect.length > 0" class="figures">
        <thead>
          <tr>
            <th scope="col">class</th>
            <th scope="col">school</th>
            <th scope="col" class="n">students</th>
            <th scope="col" class="n">devices out</th>
            <th scope="col"><span class="sr">gather</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in all.collect" :key="c.classId">
            <td>{{ c.name }}</td>
            <td>{{ c.school }}</td>
            <td class="n">{{ c.students }}</td>
            <td class="n">{{ c.out }}</td>
            <td>
              <Button size="small" :aria-label="`Gather ${c.name}, ${c.school}`" @click="gather(c.classId)">
                Gather
              </Button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else class="quiet">Everything is in.</p>
    </section>
  </div>
</template>

<style scoped>
.stock {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 16px 32px;
  padding: 12px 16px;
  overflow: auto;
  align-content: start;
}
section {
  display: grid;
  gap: 8px;
  align-content: start;
  justify-items: start;
}
.refresh,
.collect {
  justify-items: stretch;
}
.collect {
  grid-column: 1 / -1;
}
.waits li {
  padding: 4px 0;
}
</style>
