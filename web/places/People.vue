<script setup lang="ts">
/** People: facets, the worksheet, the record sheet of the focused row. Gathered people stay gathered whatever is searched next. */
import { locale, t } from '@/words';
import { CloseOutlined } from '@ant-design/icons-vue';
import { Button, SelectOption } from 'ant-design-vue';
import { useSessionStorage } from '@vueuse/core';
import { computed, onMounted, reactive, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import type {
  GroupRow,
  KeptSheaf,
  Lack,
  PeopleFilter,
  PeopleSort,
  PersonRow,
  SeatState,
  Standing,
} from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { useCarryOut } from '@/frame/keys';
import Facets from '@/worksheet/Facets.vue';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import NewStaff from '@/staff/NewStaff.vue';
import TypedPeople from '@/intake/TypedPeople.vue';
import Missing from '@/people/Missing.vue';
import RecordSheet from '@/people/RecordSheet.vue';
import { givenShown } from '#core/entities/index';
import { gradeLabel } from '#core/tabular/values';
import Choice from '@/kit/Choice.vue';
import Head from '@/kit/Head.vue';
import { useLoad, usePages } from '@/kit/load';
import Part from '@/kit/Part.vue';
import { useQuery } from '@/kit/query';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const route = useRoute();
const router = useRouter();

const query = useQuery();
const local = reactive({
  lacks: query.choice<Lack>('lacks', ['account', 'class', 'seats', 'device', 'card', 'signed-in']),
  role: query.choice('role', ['student', 'staff']),
  status: query.choice<Standing>('status', ['held', 'past', 'left']),
});
const sorts: PeopleSort[] = ['family', 'given', 'number', 'grade', 'username'];
const order = reactive({
  sort: query.choice<PeopleSort>('sort', sorts),
  then: query.choice<PeopleSort>('then', sorts),
  desc: query.flag('desc'),
});
const kept = useLoad(t('places.savedSheaves'), 'GET /api/sheaves', undefined, {
  also: computed(() => sheaf.version),
  alone: true,
});
async function take(one: KeptSheaf): Promise<void> {
  try {
    await sheaf.takeKept(one.id);
  } catch (error) {
    work.wrong(error);
  }
}
async function forget(one: KeptSheaf): Promise<void> {
  await call('POST /api/sheaves/:id/drop', { id: one.id });
  await kept.refetch();
}
const gathered = computed(() => route.query.gathered === '1');
const q = query.text('q');
/** Of this group alone. */
const groupId = query.text('group');
/** New by this plan. */
const planId = query.text('plan');
const groups = useLoad(
  t('classes.groups'),
  'GET /api/groups',
  () => ({ query: { school: session.where.school ?? undefined } }),
  { alone: true, also: computed(() => sheaf.version), enabled: () => session.may('groups') },
);
const groupLabel = (g: GroupRow) =>
  [g.name, g.className, session.where.school ? null : g.school].filter(Boolean).join(' · ');
/** Who has, lacks or need not have a seat of a product, as another place asked. */
const seatOf = computed(() => {
  const { product, seat } = route.query as { product?: string; seat?: SeatState };
  return product && seat ? { product, seat } : null;
});
const products = useLoad(t('places.products'), 'GET /api/products', undefined, {
  enabled: () => seatOf.value !== null,
  alone: true,
});
const seatWords = computed(() => {
  if (!seatOf.value) return '';
  const label =
    products.data.value?.products.find(({ id }) => id === seatOf.value!.product)?.label ?? t('places.theProduct');
  return {
    holds: t('places.haveASeatOf', { label }),
    lacks: t('places.areEntitledToAndHave', { label }),
    spare: t('places.haveASeatOfAnd', { label }),
  }[seatOf.value.seat];
});
const filter = computed<PeopleFilter>(() => ({
  ...(gathered.value ? { gathered: true } : session.scope),
  q: q.value ?? undefined,
  group: groupId.value ?? undefined,
  plan: planId.value ?? undefined,
  lacks: local.lacks ?? undefined,
  role: local.role ?? undefined,
  status: local.status ?? undefined,
  ...seatOf.value,
}));
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
const asked = query.choice('new', ['students', 'staff']);
const typing = ref<'students' | 'staff' | null>(null);
watch(
  asked,
  (what) => {
    if (what && session.isCoordinator) typing.value = what;
    asked.value = null;
  },
  { immediate: true },
);
/** What narrows the list, each to be taken off. */
const chips = computed(() =>
  [
    q.value && { label: t('places.whoMatch', { q: q.value }), off: () => (q.value = null) },
    seatWords.value && {
      label: seatWords.value,
      off: () => void router.replace({ query: { ...route.query, product: undefined, seat: undefined } }),
    },
    planId.value && { label: t('places.newByThePlan'), off: () => (planId.value = null) },
    gathered.value && { label: t('places.theSheaf'), off: () => void router.push('/people') },
  ].filter((chip) => !!chip),
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
function sortBy(key: string, second: boolean): void {
  const first = order.sort ?? 'family';
  if (second && key !== first) {
    order.then = order.then === key ? null : (key as PeopleSort);
    return;
  }
  order.desc = first === key ? !order.desc : false;
  if (first !== key) order.then = null;
  order.sort = key as PeopleSort;
}
useCarryOut(() => {
  if (session.isCoordinator && !typing.value) typing.value = 'students';
});
const more = () => list.hasNextPage.value && !list.isFetchingNextPage.value && list.fetchNextPage();
</script>

<template>
  <div class="split">
    <section class="facets" :aria-label="t('places.filters')">
      <template v-if="facets.data.value">
        <Facets
          v-if="!gathered"
          :title="t('common.school')"
          :facets="facets.data.value.school"
          :chosen="session.where.school"
          @choose="session.go({ school: $event })"
        />
        <Facets
          v-if="!gathered"
          :title="t('common.grade')"
          :facets="facets.data.value.grade"
          :chosen="session.where.grade"
          @choose="session.go({ school: session.where.school, grade: $event })"
        />
        <Facets
          v-if="!gathered"
          :title="t('common.class')"
          :facets="facets.data.value.class"
          :chosen="session.where.classId"
          @choose="session.go({ school: session.where.school, grade: session.where.grade, classId: $event })"
        />
        <Facets
          :title="t('places.missing')"
          :facets="facets.data.value.lacks"
          :chosen="local.lacks"
          @choose="local.lacks = $event as Lack | null"
        />
        <Facets
          :title="t('places.role')"
          :facets="facets.data.value.role"
          :chosen="local.role"
          @choose="local.role = $event as 'student' | null"
        />
      </template>
      <section v-if="groups.data.value?.length" class="kept">
        <h2>{{ t('frame.group') }}</h2>
        <Choice v-model:value="groupId" :aria-label="t('frame.group')">
          <SelectOption :value="null">{{ t('places.allGroups') }}</SelectOption>
          <SelectOption v-for="g in groups.data.value" :key="g.id" :value="g.id">{{ groupLabel(g) }}</SelectOption>
        </Choice>
      </section>
      <section v-if="kept.data.value?.length" class="kept">
        <h2>{{ t('places.savedSheaves2') }}</h2>
        <div v-for="one in kept.data.value" :key="one.id" class="one">
          <Button
            type="text"
            size="small"
            class="grow clip"
            :title="t('places.gatherTheOf', { count: one.count, name: one.name })"
            @click="take(one)"
          >
            {{ one.name }}
          </Button>
          <span class="quiet">{{ one.count }}</span>
          <Button type="text" size="small" :aria-label="t('places.delete', { name: one.name })" @click="forget(one)"
            >×</Button
          >
        </div>
      </section>
      <Facets
        :title="t('places.status')"
        :facets="facets.data.value?.status ?? []"
        :chosen="local.status"
        @choose="local.status = $event as Standing | null"
      />
    </section>
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

<style scoped>
.kept {
  padding: 8px 12px 4px;
  font-size: 13px;
}
.one {
  display: flex;
  gap: 4px;
}
.one .grow {
  text-align: left;
}
</style>
