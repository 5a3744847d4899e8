<script setup lang="ts">
/** Seats of a product over the school year: owned, needed, assigned, and as a proposal would have them. */
import { computed } from 'vue';
import { addDays } from '#core/time/index';
import type { ProductSheet } from '../../server/contract';
import StepChart, { type Line } from '@/charts/StepChart.vue';
import { useSession } from '@/stores/session';
import { t } from '@/words';

const props = defineProps<{ sheet: ProductSheet }>();
const session = useSession();
const until = computed(() => addDays(props.sheet.foreseen.from, 75));

const lines = computed<Line[]>(() => {
  const { steps, foreseen } = props.sheet;
  const to = foreseen.from;
  const of = (key: 'owned' | 'needed' | 'held' | 'after') => steps.map(({ from, [key]: value }) => ({ from, value }));
  const changes = steps.some(({ held, after }) => held !== after);
  return [
    { name: t('licenses.assigned'), color: 'straw', fill: true, steps: of('held'), to },
    ...(changes
      ? [{ name: t('licenses.assignedAfterTheProposal'), color: 'stem', dash: 'dash', steps: of('after'), to } as Line]
      : []),
    { name: t('licenses.needed'), color: 'rust', steps: of('needed'), to },
    { name: t('licenses.owned'), color: 'ink', width: 3, steps: of('owned') },
    {
      name: t('licenses.forecastNeed'),
      color: 'dusk',
      dash: 'dot',
      steps: [{ from: foreseen.from, value: foreseen.needed }],
    },
  ];
});
const marks = computed(() => [
  ...(props.sheet.row.short
    ? [{ date: props.sheet.row.short.from, text: t('licenses.short', { count: props.sheet.row.short.count }) }]
    : []),
  { date: props.sheet.foreseen.from, text: t('licenses.rollOver') },
]);
</script>

<template>
  <StepChart
    :unit="t('licenses.seats')"
    :label="t('licenses.seatsOfOverTheSchool', { label: sheet.row.label })"
    :lines="lines"
    :from="session.me!.today"
    :to="until"
    :marks="marks"
  />
</template>
