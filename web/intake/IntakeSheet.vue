<script setup lang="ts">
/**
 * A file being taken in, on one sheet: how it is read, what it is about, its cells, and at the right what would
 * happen, recounted with every change.
 */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { useCarryOut } from '@/frame/keys';
import type { Choice as Answer } from '#core/intake/index';
import AboutFile from './AboutFile.vue';
import { useDraft } from './draft';
import GridTools from './GridTools.vue';
import IntakeGrid from './IntakeGrid.vue';
import OutcomeSheet from './OutcomeSheet.vue';
import ReadingLine from './ReadingLine.vue';
import { type Only, problemRows } from './rows';

const route = useRoute();
const router = useRouter();
const work = useWork();
const id = String(route.params.id);
const file = useDraft(id);
const { preview, draft, savedAt, failure, version, change, settled, pending, undo, redo, canUndo, canRedo } = file;
const data = computed(() => preview.data.value);
const reading = computed(() => data.value?.reading ?? null);

const only = ref<Only | null>(null);
/** After the rest was applied, what was left out is shown alone. */
const isContinued = computed(() => data.value?.head.status === 'applied');
watch(isContinued, (is) => is && !route.query.line && (only.value = 'waits'), { immediate: true });
const grid = ref<InstanceType<typeof IntakeGrid> | null>(null);
const tools = ref<InstanceType<typeof GridTools> | null>(null);
const outcome = ref<InstanceType<typeof OutcomeSheet> | null>(null);
const columns = computed(() => reading.value?.columns ?? []);
/** All repairs of one kind at once. */
async function takeAll(code: string): Promise<void> {
  const rows = await problemRows(id);
  change((d) => {
    for (const row of rows) {
      for (const { code: kind, column, repair: value } of row.problems) {
        if (kind === code && column !== null && value !== undefined)
          d.repairs[row.line] = { ...d.repairs[row.line], [column]: value };
      }
    }
  });
  await settled();
  // The button that was pressed is gone with what it mended.
  if (!outcome.value?.toNextFix()) grid.value?.toGrid();
}
/** The district is another: what the file means is told anew. */
async function reread(): Promise<void> {
  await preview.refetch();
  version.value++;
}
const planning = ref(false);
async function plan(): Promise<void> {
  if (planning.value || !data.value?.outcome) return;
  planning.value = true;
  try {
    await settled();
    const { jobId } = await call('POST /api/intakes/:id/plan', { id });
    const { planId } = await work.follow(jobId, t('intake.planning'));
    // From a class there is a way back to it.
    await router.push({ path: `/plans/${planId}`, query: { class: route.query.class } });
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  } finally {
    planning.value = false;
  }
}
useCarryOut(plan);
async function toPairs(): Promise<void> {
  await settled();
  await router.push(`/imports/${id}/pairs`);
}
/** Where the feed says something new against a correction: the feed's value, or the record's. */
function answer(line: number, field: string, choice: Answer | null): void {
  change((d) => {
    const own = { ...d.choices?.[line] };
    if (choice === null) delete own[field];
    else own[field] = choice;
    d.choices = { ...d.choices, [line]: own };
  });
}
async function setAside(): Promise<void> {
  await settled();
  await call('POST /api/intakes/:id/set-aside', { id });
  await router.push('/imports');
}
</script>

<template>
  <div class="flex flex-col min-h-0">
    <template v-if="data && draft">
      <ReadingLine
        :head="data.head"
        :reading="reading"
        :draft="draft"
        :saved-at="savedAt"
        :failure="failure"
        @change="change"
      />
      <div v-if="data.refusal" class="p-24px grid gap-12px justify-items-start max-w-640px" role="alert">
        <h2 class="title">{{ t('intake.thisFileCannotBeRead') }}</h2>
        <p>{{ data.refusal.message }}</p>
        <Button @click="router.push('/imports')">{{ t('intake.chooseAnotherFile') }}</Button>
      </div>
      <div v-else-if="reading" class="body panes flex-1">
        <div class="sheet">
          <p v-if="isContinued" class="bar" role="status">
            {{
              data.head.waits > 0 && !data.bundle
                ? t('intake.appliedFixTheRest', { n: data.head.waits })
                : t('intake.appliedWhole')
            }}
            <RouterLink v-if="data.head.planId" :to="`/plans/${data.head.planId}`">{{
              t('intake.viewThePlan')
            }}</RouterLink>
          </p>
          <div class="about row flex-wrap py-6px px-16px ruled-b text-13px whitespace-nowrap">
            <AboutFile :data="data" :draft="draft" :columns="columns" @change="change" />
            <span class="grow" />
            <GridTools
              v-if="!data.bundle"
              :id="id"
              ref="tools"
              :columns="columns"
              :only="only"
              :version="version"
              :can-undo="canUndo"
              :can-redo="canRedo"
              :column="grid?.at.column ?? 0"
              :fills="draft.fills ?? {}"
              :settled="settled"
              @undo="undo"
              @redo="redo"
              @reach="(cell) => grid?.reach(cell)"
              @replace="(...args) => grid?.replace(...args)"
              @fill="(...args) => grid?.fillColumn(...args)"
              @closed="grid?.toGrid()"
            />
          </div>
          <IntakeGrid
            :id="id"
            ref="grid"
            :file-name="data.head.fileName"
            :reading="reading"
            :draft="draft"
            :version="version"
            :only="only"
            :settled="settled"
            :line="Number(route.query.line) || undefined"
            @change="change"
            @undo="undo"
            @redo="redo"
            @tool="(tool) => tools?.open(tool)"
          />
        </div>
        <OutcomeSheet
          ref="outcome"
          :data="data"
          :only="only"
          :pending="pending"
          :planning="planning"
          @only="only = only === $event ? null : $event"
          @take-all="takeAll"
          @plan="plan"
          @reread="reread"
          @set-aside="setAside"
          @next="grid?.nextProblem()"
          @pairs="toPairs"
          @answer="answer"
        />
      </div>
    </template>
    <p v-else class="quiet p-24px" role="status">
      {{ preview.error.value ? preview.error.value.message : t('intake.readingTheFile') }}
    </p>
  </div>
</template>
