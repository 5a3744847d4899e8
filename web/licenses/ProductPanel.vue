<script setup lang="ts">
/** How one product stands: over the year, what is short, what a proposal would do, its licenses and rules. */
import { addDays } from '#core/time/index';
import { Button, Checkbox } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import { computed, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import { call } from '@/api';
import StepChart, { type Line } from '@/charts/StepChart.vue';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { money } from './forms';
import type { Product } from '#core/entities/index';
import { gradeLabel } from '#core/tabular/values';
import LicenseLines from './LicenseLines.vue';
import RuleLines from './RuleLines.vue';
import { useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ id: string }>();
const emit = defineEmits<{ edit: [product: Product] }>();
const session = useSession();
const work = useWork();
const router = useRouter();
const reload = useAgain();
const idleDays = ref(90);
const sweep = ref(false);
const query = useLoad('the product', 'GET /api/products/:id', () => ({
  id: props.id,
  query: { idleDays: idleDays.value },
}));
const sheet = computed(() => (query.data.value?.product.id === props.id ? query.data.value : null));
const until = computed(() => addDays(sheet.value!.foreseen.from, 75));

const lines = computed<Line[]>(() => {
  const { steps, foreseen } = sheet.value!;
  const to = foreseen.from;
  const of = (key: 'owned' | 'needed' | 'held' | 'after') => steps.map(({ from, [key]: value }) => ({ from, value }));
  const changes = steps.some(({ held, after }) => held !== after);
  return [
    { name: 'held', color: 'straw', fill: true, steps: of('held'), to },
    ...(changes
      ? [{ name: 'held after the proposal', color: 'stem', dash: 'dash', steps: of('after'), to } as Line]
      : []),
    { name: 'needed', color: 'rust', steps: of('needed'), to },
    { name: 'owned', color: 'ink', width: 3, steps: of('owned') },
    {
      name: 'foreseen to be needed',
      color: 'dusk',
      dash: 'dot',
      steps: [{ from: foreseen.from, value: foreseen.needed }],
    },
  ];
});
const marks = computed(() => [
  ...(sheet.value!.row.short
    ? [{ date: sheet.value!.row.short.from, text: `${sheet.value!.row.short.count} short` }]
    : []),
  { date: sheet.value!.foreseen.from, text: 'roll-over' },
]);
const isDistrict = computed(() => session.may('products.keep'));

async function propose(): Promise<void> {
  if (!isDistrict.value || !sheet.value) return;
  try {
    const body = { productIds: [props.id], sweep: sweep.value, idleDays: idleDays.value };
    const { jobId } = await call('POST /api/seats/propose', { body });
    const { planId } = await work.follow(jobId, 'Planning seats');
    await router.push(`/plans/${planId}`);
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
useCarryOut(propose);
async function takeOver(): Promise<void> {
  try {
    const { planId } = await call('POST /api/products/:id/take-over', { id: props.id });
    await reload();
    await router.push(`/plans/${planId}`);
  } catch (error) {
    work.wrong(error);
  }
}
const people = (seat: 'holds' | 'lacks' | 'spare') => ({ path: '/people', query: { product: props.id, seat } });
const forGrades = computed(() => {
  const { lowGrade, highGrade } = sheet.value!.product;
  if (lowGrade === null && highGrade === null) return null;
  return `grades ${lowGrade ? gradeLabel(lowGrade) : ''} to ${highGrade ? gradeLabel(highGrade) : ''}`;
});
const doesNothing = computed(
  () => !sweep.value && sheet.value?.proposal.given === 0 && sheet.value.proposal.taken === 0,
);
</script>

<template>
  <section v-if="sheet" class="panel" aria-label="Product">
    <header>
      <div class="row">
        <h1 class="grow">{{ sheet.row.label }}</h1>
        <Button v-if="isDistrict" size="small" @click="emit('edit', sheet.product)"> Edit the product </Button>
      </div>
      <p class="quiet">
        {{ [sheet.product.publisher, sheet.product.subject, forGrades].filter(Boolean).join(' · ') }}
        <span v-if="sheet.row.supersededBy" class="rust"> · superseded by {{ sheet.row.supersededBy.label }}</span>
      </p>
    </header>
    <StepChart
      :label="`Seats of ${sheet.row.label} over the school year: owned, needed, held`"
      :lines="lines"
      :from="session.me!.today"
      :to="until"
      :marks="marks"
    />
    <div class="facts">
      <p>
        As school opens <RouterLink :to="people('holds')">{{ sheet.row.held }} hold a seat</RouterLink>,
        <RouterLink v-if="sheet.row.lacking > 0" class="rust" :to="people('lacks')"
          >{{ sheet.row.lacking }} of {{ sheet.row.needed }} entitled lack one</RouterLink
        ><template v-else>nobody of the {{ sheet.row.needed }} entitled lacks one</template>.
      </p>
      <p v-if="sheet.row.short" class="rust">
        <b>{{ sheet.row.short.count }} seats short from {{ sheet.row.short.from }}.</b>
      </p>
      <p v-if="sheet.row.over" class="rust">
        <b>{{ sheet.row.over }} more {{ sheet.row.over === 1 ? 'seat is' : 'seats are' }} held than the license has.</b>
        Whoever uses theirs keeps it: buy more, or take seats back under People.
      </p>
      <p v-if="sheet.spare.notEntitled + sheet.spare.stopped + sheet.spare.idle > 0">
        Can be taken back:
        <RouterLink v-if="sheet.spare.notEntitled + sheet.spare.stopped" :to="people('spare')"
          >{{ sheet.spare.notEntitled + sheet.spare.stopped }} from people who are not entitled</RouterLink
        ><template v-if="sheet.spare.stopped">, {{ sheet.spare.stopped }} of them on hold</template
        ><template v-if="sheet.spare.idle"
          >{{ sheet.spare.notEntitled + sheet.spare.stopped ? '; ' : '' }}{{ sheet.spare.idle }} who are entitled did
          not use theirs</template
        >
        <label class="quiet">
          for <NumberInput v-model:value.lazy="idleDays" class="days" :min="7" :max="400" /> days</label
        >
      </p>
      <p v-if="sheet.partial.length > 0" class="rust">
        Fewer are entitled than in the rest of the grade:
        {{
          sheet.partial
            .slice(0, 6)
            .map((c) => `${c.name} ${c.school} (${c.missing} of ${c.students})`)
            .join(', ')
        }}{{ sheet.partial.length > 6 ? ` and ${sheet.partial.length - 6} more classes` : '' }}
      </p>
      <p v-if="sheet.olderEdition && sheet.olderEdition.rules + sheet.olderEdition.held > 0" class="row">
        <span class="rust"
          >{{ sheet.olderEdition.label }} is still handed out: {{ sheet.olderEdition.rules }}
          {{ sheet.olderEdition.rules === 1 ? 'rule' : 'rules' }}, {{ sheet.olderEdition.held }} seats held.</span
        >
        <Button v-if="isDistrict && sheet.olderEdition.rules > 0" size="small" @click="takeOver"
          >Move its rules here</Button
        >
      </p>
    </div>
    <div v-if="isDistrict" class="propose">
      <p class="grow">
        <template v-if="doesNothing">Seats stand as well as they can.</template>
        <template v-else
          >The proposal gives {{ sheet.proposal.given }} seats and takes {{ sheet.proposal.taken }}.</template
        >{{ ' '
        }}<span v-if="sheet.proposal.unmet" class="rust">
          {{ sheet.proposal.unmet.count }} stay without one from {{ sheet.proposal.unmet.from
          }}{{
            sheet.proposal.unmet.schools.length > 0
              ? `: ${sheet.proposal.unmet.schools.map((s) => `${s.name} ${s.count}`).join(', ')}`
              : ''
          }}.
          <template v-if="sheet.proposal.buyCents"
            >To buy them: {{ money(sheet.proposal.buyCents) }} at what a seat cost last.</template
          >
        </span>
      </p>
      <Checkbox v-model:checked="sweep" class="quiet"> also take back what nobody needs now</Checkbox>
      <Button type="primary" :disabled="doesNothing" @click="propose"
        ><span>Plan the seats <kbd>Ctrl+Enter</kbd></span></Button
      >
    </div>
    <LicenseLines :key="`l${id}`" :sheet="sheet" />
    <RuleLines :key="`r${id}`" :sheet="sheet" />
  </section>
</template>

<style scoped>
.panel {
  padding: 12px 16px;
  display: grid;
  gap: 12px;
  align-content: start;
}
.facts {
  display: grid;
  gap: 4px;
}
.days {
  width: 60px;
}
.propose {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  padding: 8px 12px;
  border: 1px solid var(--rule);
  background: var(--fog);
}
.propose .grow {
  flex-basis: 260px;
}
.panel :deep(table) {
  border-collapse: collapse;
  width: 100%;
  font-size: 13px;
}
.panel :deep(th) {
  font-weight: 400;
  color: var(--quiet);
  text-align: left;
}
.panel :deep(td),
.panel :deep(th) {
  padding: 2px 8px 2px 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
.panel :deep(.n) {
  text-align: right;
}
.panel :deep(.form) {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
  padding: 8px 0;
  font-size: 13px;
  color: var(--quiet);
}
.panel :deep(.form .number) {
  width: 84px;
}
.panel :deep(.form .date) {
  width: 112px;
}
.panel :deep(.form .subject) {
  width: 120px;
}
</style>
