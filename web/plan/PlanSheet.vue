<script setup lang="ts">
/**
 * A plan, the same everywhere: kinds of change with counts, the changes themselves with what differs set off, guards
 * and what is unsure, and in words what will happen. Parts can be taken out; a guard is released with a reason.
 */
import { t } from '@/words';
import Head from '@/kit/Head.vue';
import { computed, nextTick, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import ChangedFields from './ChangedFields.vue';
import ChangePanel from './ChangePanel.vue';
import PlanFoot from './PlanFoot.vue';
import PlanGuards from './PlanGuards.vue';
import PlanKinds from './PlanKinds.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { momentWords } from '@/time';
import { useLoad, usePages } from '@/kit/load';

const route = useRoute();
const router = useRouter();
const session = useSession();
const work = useWork();
const id = String(route.params.id);
const plan = useLoad(t('plan.thePlan'), 'GET /api/plans/:id', () => ({ id }), { keep: false });
const p = computed(() => plan.data.value);
const kind = ref<string | null>(null);
const list = usePages(
  t('plan.changes2'),
  'GET /api/plans/:id/changes',
  (offset) => ({ id, query: { kind: kind.value ?? undefined, offset: Number(offset ?? 0) } }),
  ({ next }) => (next === null ? null : String(next)),
  { keep: false },
);
const rows = computed(
  () =>
    list.data.value?.pages
      .flatMap(({ changes }) => changes)
      .map((change, i) => ({ ...change, rowId: change.id, id: `${i}-${change.entity}-${change.id}` })) ?? [],
);
type Row = (typeof rows.value)[number];
const total = computed(() =>
  kind.value ? (p.value?.total.kinds.find((k) => k.kind === kind.value)?.count ?? 0) : (p.value?.total.total ?? 0),
);
const focused = ref<string | null>(null);
const isChangeOpen = ref(false);
const chosen = computed(() => rows.value.find(({ id: rowId }) => rowId === focused.value) ?? null);
function closeChange(): void {
  isChangeOpen.value = false;
  sheet.value?.focus();
}
const sheet = ref<WorksheetHandle | null>(null);
watch(
  () => p.value !== undefined,
  (there) => there && setTimeout(() => sheet.value?.focus(), 0),
  { immediate: true },
);

const columns: Col[] = [
  { key: 'label', label: t('plan.whoOrWhat'), width: 'minmax(180px, 1.1fr)' },
  { key: 'what', label: t('plan.beforeAndAfter'), width: 'minmax(240px, 1.8fr)' },
  { key: 'reason', label: t('plan.why'), width: 'minmax(140px, 1fr)' },
  { key: 'line', label: t('plan.line2'), width: '52px', align: 'right' },
];
const isOpen = computed(() => p.value?.status === 'ready' || p.value?.status === 'undone');
const mayApply = computed(() => isOpen.value && (p.value?.remaining.total ?? 0) > 0 && unreleased.value.length === 0);
const unreleased = computed(() => p.value?.held.filter(({ released }) => !released) ?? []);

async function takeOut(row: Row): Promise<void> {
  if (!isOpen.value) return;
  await guarded(() => call('POST /api/plans/:id/take-out', { id, body: { subject: row.subject, back: row.out } }));
}
const kindOut = (k: string) => p.value?.takenOut.kinds?.includes(k) ?? false;
const takeKind = (k: string) =>
  guarded(() => call('POST /api/plans/:id/take-out', { id, body: { kind: k, back: kindOut(k) } }));
const release = (code: string, reason: string) =>
  guarded(() => call('POST /api/plans/:id/release', { id, body: { code, reason } }));
async function guarded(act: () => Promise<unknown>): Promise<void> {
  try {
    await act();
    await Promise.all([plan.refetch(), list.refetch()]);
    refocus();
  } catch (error) {
    work.wrong(error);
  }
}
/** What was pressed may be gone: the focus is then on the changes again. */
const refocus = () => void nextTick(() => document.activeElement === document.body && sheet.value?.focus());
const busy = ref(false);
async function apply(except: string[] = []): Promise<void> {
  if (busy.value || !mayApply.value) return;
  busy.value = true;
  try {
    const { jobId } = await call('POST /api/plans/:id/apply', { id, body: { except } });
    await work.follow(jobId, t('plan.applying'), {
      label: t('plan.applyTheRest'),
      run: (more) => void apply([...except, ...more]),
    });
    refocus();
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  } finally {
    busy.value = false;
  }
}
async function undo(oldPasswords: boolean): Promise<void> {
  await work.undo(id, oldPasswords);
  refocus();
}
async function setAside(): Promise<void> {
  await guarded(() => call('POST /api/plans/:id/set-aside', { id }));
  await router.push(p.value?.intakeId ? `/imports/${p.value.intakeId}` : '/');
}
const states: Record<string, string> = {
  ready: t('plan.notAppliedYet'),
  applied: t('plan.stateApplied'),
  undone: t('plan.stateUndone'),
  applying: t('plan.beingApplied'),
  'set-aside': t('plan.discarded'),
  purged: t('plan.statePurged'),
};
</script>

<template>
  <div v-if="p" class="flex flex-col min-h-0">
    <Head :title="p.title">
      <template #about
        ><span
          class="state [border:1px_solid_var(--quiet)] py-0 px-6px text-13px whitespace-nowrap"
          :class="p.status"
          >{{ states[p.status] }}</span
        >
        {{ p.by }} · {{ momentWords(p.createdAt) }}</template
      >
      <template #actions>
        <RouterLink v-if="p.intakeId && p.status !== 'applied'" :to="`/imports/${p.intakeId}`">{{
          t('plan.backToTheFile')
        }}</RouterLink>
      </template>
    </Head>
    <div class="body flex-1 flex min-h-0">
      <PlanKinds v-model:kind="kind" :plan="p" :is-open="isOpen" @take="takeKind" />
      <div class="flex-1 min-w-0">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          :label="t('plan.changes')"
          :rows="rows"
          :total="total"
          :columns="columns"
          :is-quiet="(row) => row.out"
          :empty="t('plan.thePlanChangesNothing')"
          @more="list.hasNextPage.value && !list.isFetchingNextPage.value && list.fetchNextPage()"
          @act="takeOut"
          @open="isChangeOpen = true"
          @keydown.esc="isChangeOpen = false"
        >
          <template #label="{ row }">{{ row.label }}</template>
          <template #what="{ row }">
            <ChangedFields :change="row" />
          </template>
          <template #reason="{ row }">{{ row.out ? t('plan.takenOut') : row.reason }}</template>
          <template #line="{ row }">{{ row.origin?.line ?? '' }}</template>
        </Worksheet>
      </div>
      <ChangePanel
        v-if="isChangeOpen && chosen"
        class="w-264px flex-none ruled-l overflow-auto py-8px px-12px flex flex-col gap-8px text-13px"
        :change="chosen"
        :schools="session.me?.schools ?? []"
        :may-take-out="isOpen"
        @take-out="takeOut(chosen)"
        @close="closeChange"
      />
      <PlanGuards v-else :plan="p" :is-open="isOpen" @release="release" />
    </div>
    <PlanFoot
      :plan="p"
      :is-open="isOpen"
      :busy="busy"
      :held="unreleased.length > 0"
      :may-apply="mayApply"
      @apply="apply()"
      @discard="setAside"
      @undo="undo"
    />
  </div>
  <p v-else-if="plan.error.value" class="rust p-24px" role="alert">{{ plan.error.value.message }}</p>
</template>

<style scoped>
.state.applied {
  border-color: var(--stem);
  color: var(--stem);
}
</style>
