<script setup lang="ts">
/** People: facets, the worksheet, the record sheet of the focused row. Gathered people stay gathered whatever is searched next. */
import { locale, t } from '@/words';
import { CloseOutlined } from '@ant-design/icons-vue';
import { Button } from 'ant-design-vue';
import { useSessionStorage } from '@vueuse/core';
import { computed, onMounted, ref, watch } from 'vue';
import { RouterLink } from 'vue-router';
import type { PersonRow } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { useCarryOut } from '@/frame/keys';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import NewStaff from '@/staff/NewStaff.vue';
import TypedPeople from '@/intake/TypedPeople.vue';
import { usePeopleFilter } from '@/people/filter';
import PeopleFacets from '@/people/PeopleFacets.vue';
import Missing from '@/people/Missing.vue';
import RecordSheet from '@/people/RecordSheet.vue';
import { givenShown } from '#core/entities/index';
import { gradeLabel } from '#core/tabular/values';
import Head from '@/kit/Head.vue';
import { useLoad, usePages } from '@/kit/load';
import Part from '@/kit/Part.vue';
import { useQuery } from '@/kit/query';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();

const { chosen, gathered, filter, chips, order, sortBy } = usePeopleFilter();
const list = usePages(
  t('places.people'),
  'GET /api/people',
  (after) => ({
    query: {
      ...filter.value,
      ...{ sort: order.sort ?? 'family', then: order.then ?? undefined, desc: order.desc, after, limit: 300 },
    },
  }),
  ({ next }) => next,
  { also: computed(() => sheaf.version) },
);
const facets = useLoad(t('places.filters2'), 'GET /api/people/facets', () => ({ query: filter.value }), {
  also: computed(() => sheaf.version),
});
const rows = computed<PersonRow[]>(() => list.data.value?.pages.flatMap((page) => page.rows) ?? []);
const columns: Col[] = [
  { key: 'family', label: t('places.familyName'), width: 'minmax(110px, 1.3fr)', sortable: true },
  { key: 'given', label: t('places.givenName'), width: 'minmax(90px, 1fr)', sortable: true },
  { key: 'number', label: t('common.number'), width: '72px', mono: true, sortable: true },
  { key: 'grade', label: t('places.grade'), width: '46px', align: 'right', sortable: true },
  { key: 'classes', label: t('common.class'), width: 'minmax(50px, 0.8fr)' },
  { key: 'school', label: t('common.school'), width: 'minmax(90px, 1fr)' },
  { key: 'username', label: t('common.username'), width: 'minmax(96px, 1fr)', mono: true, sortable: true },
  { key: 'lacks', label: t('places.missing'), width: 'minmax(100px, 0.9fr)' },
];
const open = ref(false);
/** What is being typed: it may have been asked for from elsewhere. */
const asked = useQuery().choice('new', ['students', 'staff']);
const typing = ref<'students' | 'staff' | null>(null);
watch(
  asked,
  (what) => {
    if (what && session.isCoordinator) typing.value = what;
    asked.value = null;
  },
  { immediate: true },
);
const shownColumns = computed(() =>
  columns.filter(({ key }) => key !== 'school' || (!open.value && (!session.where.school || gathered.value))),
);

const focused = useSessionStorage<string | null>('people.at', null);
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => {
  sheet.value?.focus();
});

async function gather(which: PersonRow[], on: boolean): Promise<void> {
  try {
    await sheaf.mark(
      which.map(({ id }) => id),
      on,
    );
  } catch (error) {
    work.wrong(error);
  }
}
useCarryOut(() => {
  if (session.isCoordinator && !typing.value) typing.value = 'students';
});
const more = () => list.hasNextPage.value && !list.isFetchingNextPage.value && list.fetchNextPage();
</script>

<template>
  <div class="split">
    <PeopleFacets
      v-model:lacks="chosen.lacks"
      v-model:role="chosen.role"
      v-model:status="chosen.status"
      v-model:group="chosen.group"
      :facets="facets.data.value"
      :gathered="gathered"
    />
    <section class="middle">
      <Part v-if="typing === 'students'" fit><TypedPeople @close="typing = null" /></Part>
      <NewStaff v-if="typing === 'staff'" @close="typing = null" />
      <Head :title="t('places.people2')" :count="t('common.countPeople', { n: facets.data.value?.total ?? 0 })">
        <template #narrow>
          <Button v-for="chip in chips" :key="chip.label" size="small" class="chip" @click="chip.off()"
            >{{ chip.label }} <CloseOutlined :aria-label="t('places.removeThisFilter')"
          /></Button>
        </template>
        <template #actions>
          <Button v-if="!gathered" type="text" :disabled="!facets.data.value?.total" @click="sheaf.gatherAll(filter)">
            {{ t('places.gatherAll', { total: (facets.data.value?.total ?? 0).toLocaleString(locale) }) }}
          </Button>
          <ExportLine list="people" :filter="filter" :roster="session.may('imports')" />
          <template v-if="session.isCoordinator">
            <Button v-if="typing !== 'staff'" @click="typing = 'staff'">{{ t('places.newStaff') }}</Button>
            <Button v-if="typing !== 'students'" type="primary" @click="typing = 'students'">{{
              t('places.newStudents')
            }}</Button>
          </template>
        </template>
      </Head>
      <div class="list-below">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          :label="t('places.people2')"
          name="people"
          :rows="rows"
          :total="facets.data.value?.total ?? rows.length"
          :columns="shownColumns"
          gatherable
          :is-gathered="sheaf.holds"
          :sort="order.sort ?? 'family'"
          :then="order.then ?? undefined"
          :desc="order.desc"
          :empty="session.may('imports') ? t('places.noOneMatchesRemoveA') : t('places.noStudentOfYourClasses')"
          @open="open = true"
          @gather="gather"
          @gather-all="sheaf.gatherAll(filter)"
          @more="more"
          @sort="sortBy"
          @keydown.esc="open = false"
        >
          <template #family="{ row }"
            ><RouterLink :to="`/people/${row.id}`" tabindex="-1" class="name">{{
              row.familyName
            }}</RouterLink></template
          >
          <template #given="{ row }">{{ givenShown(row) }}</template>
          <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
          <template #classes="{ row }"
            ><span :title="row.classes ?? ''">{{ row.classes ?? '—' }}</span></template
          >
          <template #lacks="{ row }"><Missing :lacks="row.lacks" /></template>
        </Worksheet>
      </div>
    </section>
    <Part v-if="open && focused" fit
      ><RecordSheet
        :id="focused"
        @open="focused = $event"
        @close="
          open = false;
          sheet?.focus();
        "
    /></Part>
  </div>
</template>
