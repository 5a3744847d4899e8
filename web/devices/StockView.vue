<script setup lang="ts">
/** Giving out to grades in which everyone has one, what is late, what is still out class by class, what must be replaced when. */
import { t } from '@/words';
import Figures from '@/kit/Figures.vue';
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
const query = useLoad(t('devices.devices'), 'GET /api/devices/overview', () => ({
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
    const { planId } = await work.follow(jobId, t('devices.planningDevices'));
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
  <div
    v-if="all && one"
    class="grid [grid-template-columns:minmax(0,1fr)_minmax(0,1fr)] gap-y-16px gap-x-32px py-12px px-16px overflow-auto content-start"
  >
    <h1 class="sr">{{ t('places.distribution') }}</h1>
    <section class="out grid gap-8px content-start justify-items-start">
      <h2>
        {{
          t('devices.distribution', {
            one:
              one.grades.length > 0
                ? t('devices.everyoneInGradesHasOne', { gradeLabel: one.grades.map(gradeLabel).join(', ') })
                : '',
          })
        }}
      </h2>
      <p v-if="one.grades.length === 0" class="quiet">
        {{ t('devices.noGradeHasOneDevice') }} <RouterLink to="/settings">{{ t('devices.settings') }}</RouterLink>.
      </p>
      <template v-else>
        <p>
          {{ t('devices.keepTheDeviceTheyHave', { kept: one.kept }) }}
          <b>{{ t('devices.needOne', { lacking: one.lacking }) }}</b>{{
            t('devices.devicesChangeHandsAsFew', { moves: one.moves })
          }}<template v-if="one.mixed">{{ t('devices.ofAnotherModelThanThe', { mixed: one.mixed }) }}</template
          ><template v-if="one.shortYears">{{
            t('devices.inAllYearsShortOf', { shortYears: one.shortYears })
          }}</template
          >.
          <span v-if="one.unmet" class="rust">{{
            t('devices.noDeviceIsLeftFor', { unmet: one.unmet, ...one.notGiven })
          }}</span>
        </p>
        <Button type="primary" :disabled="one.moves === 0" @click="assign"
          ><span
            >{{ t('devices.previewAssignments', { moves: one.moves }) }} <kbd>{{ t('devices.ctrlEnter') }}</kbd></span
          ></Button
        >
      </template>
      <ul class="waits">
        <li v-if="all.troubles.length > 0" class="py-4px px-0">
          <span class="rust">{{ all.troubles[0] }}</span>{{
            all.troubles.length > 1 ? ` ${t('devices.andMoreConflicts', { troubles: all.troubles.length - 1 })}` : ''
          }}.
          <RouterLink to="/devices/carts">{{ t('devices.viewCarts') }}</RouterLink>
        </li>
        <li v-if="all.late" class="py-4px px-0">
          <span class="rust">{{ t('devices.overdue', { late: all.late }) }}</span>{{ ' ' }}
          <RouterLink :to="{ path: '/devices', query: { where: 'late' } }">{{ t('devices.view') }}</RouterLink>
        </li>
        <li v-if="all.repair" class="py-4px px-0">
          {{ t('devices.brokenOrInRepair2', { repair: all.repair }) }}
          <RouterLink :to="{ path: '/devices', query: { where: 'repair' } }">{{ t('devices.view') }}</RouterLink>
        </li>
        <li v-if="all.missing" class="py-4px px-0">
          {{ t('devices.missing', { missing: all.missing }) }}
          <RouterLink :to="{ path: '/devices', query: { where: 'missing' } }">{{ t('devices.view') }}</RouterLink>
        </li>
        <li class="py-4px px-0">
          {{ t('devices.spare', { spare: all.spare }) }}
          <RouterLink :to="{ path: '/devices', query: { where: 'free' } }">{{
            t('devices.viewFreeDevices')
          }}</RouterLink>
        </li>
      </ul>
    </section>
    <section class="refresh justify-items-stretch grid gap-8px content-start justify-items-start">
      <h2>{{ t('devices.toReplaceBySchoolYear') }}</h2>
      <BarChart
        v-if="bars.bars.length > 0"
        :unit="t('frame.devices')"
        :label="t('devices.devicesToReplaceBySchool')"
        v-bind="bars"
      />
      <p v-else class="quiet">{{ t('devices.noDeviceOnRecordHas') }}</p>
    </section>
    <section class="justify-items-stretch [grid-column:1_/_-1] grid gap-8px content-start justify-items-start">
      <h2>{{ t('devices.stillOutClassByClass') }}</h2>
      <Figures
        v-if="all.collect.length > 0"
        :rows="all.collect"
        :row-key="(c) => c.classId"
        :columns="[
          { key: 'name', title: t('devices.class'), heading: true },
          { key: 'school', title: t('devices.school') },
          { key: 'students', title: t('devices.students'), number: true },
          { key: 'out', title: t('devices.devicesCheckedOut'), number: true },
          { key: 'act', title: t('devices.gather'), untitled: true },
        ]"
      >
        <template #act="{ row: c }">
          <Button
            size="small"
            :aria-label="t('devices.gather2', { name: c.name, school: c.school })"
            @click="gather(c.classId)"
          >
            {{ t('devices.gather3') }}
          </Button>
        </template>
      </Figures>
      <p v-else class="quiet">{{ t('devices.everythingIsBack') }}</p>
    </section>
  </div>
</template>
