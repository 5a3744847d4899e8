<script setup lang="ts">
/** Counts that hold from one day to the next, as steps. */
import type { Data, Shape } from 'plotly.js';
import { computed, ref } from 'vue';
import { type Tint, usePlot } from './plot';

export interface Line {
  name: string;
  color: Tint;
  dash?: 'solid' | 'dot' | 'dash';
  width?: number;
  fill?: boolean;
  /** A value holds from its day on; null: nothing is drawn. */
  steps: { from: string; value: number | null }[];
  /** The day on which the line ends; else it goes on to the end of the chart. */
  to?: string;
}
const props = defineProps<{
  label: string;
  /** Of what the counts are. */
  unit: string;
  lines: Line[];
  from: string;
  to: string;
  /** Days that are marked, with what they are. */
  marks: { date: string; text: string }[];
}>();
const box = ref<HTMLElement | null>(null);
/** From the first day of the chart to its last. */
const lines = computed(() =>
  props.lines.map((line) => {
    const inside = line.steps.filter(({ from }) => from > props.from);
    const first = line.steps.filter(({ from }) => from <= props.from).at(-1);
    const steps = [...(first ? [{ from: props.from, value: first.value }] : []), ...inside];
    const last = steps.at(-1);
    return {
      line,
      x: [...steps.map(({ from }) => from), ...(last ? [line.to ?? props.to] : [])],
      y: [...steps.map(({ value }) => value), ...(last ? [last.value] : [])],
    };
  }),
);
usePlot(
  box,
  (color, wash) => ({
    data: lines.value.map(({ x, y, line }): Data => ({
      x,
      y,
      name: line.name,
      type: 'scatter',
      mode: 'lines',
      line: { shape: 'hv', color: color(line.color), width: line.width ?? 2, dash: line.dash ?? 'solid' },
      fill: line.fill ? 'tozeroy' : 'none',
      fillcolor: line.fill ? wash(line.color) : undefined,
      hovertemplate: `%{y} ${line.name}<extra></extra>`,
    })),
    layout: {
      xaxis: { type: 'date', range: [props.from, props.to], tickformat: '%b', dtick: 'M1' },
      yaxis: { title: { text: props.unit } },
      hovermode: 'x unified',
      shapes: props.marks.map(({ date }): Partial<Shape> => ({
        type: 'line',
        xref: 'x',
        yref: 'paper',
        x0: date,
        x1: date,
        y0: 0,
        y1: 1,
        line: { color: color('quiet'), width: 1, dash: 'dot' },
      })),
      annotations: props.marks.map(({ date, text }) => ({
        x: date,
        y: 1,
        xref: 'x' as const,
        yref: 'paper' as const,
        text,
        showarrow: false,
        xanchor: 'left' as const,
        yanchor: 'bottom' as const,
        font: { size: 11, color: color('quiet') },
      })),
    },
  }),
  220,
);
</script>

<template>
  <figure class="m-0 min-h-220px relative">
    <div ref="box" role="img" :aria-label="label" />
    <figcaption class="sr">
      <span v-for="{ line } in lines" :key="line.name"
        >{{ line.name }}: {{ line.steps.map(({ from, value }) => `${value ?? 'no'} from ${from}`).join(', ') }}.
      </span>
    </figcaption>
  </figure>
</template>
