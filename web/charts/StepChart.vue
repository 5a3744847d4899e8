<script setup lang="ts">
/** Counts that hold from one day to the next, as steps; drawn in the colors of Sheaf by day and by night. */
import { usePreferredDark, useResizeObserver } from '@vueuse/core';
import type { Data, Layout, Shape } from 'plotly.js';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';

export interface Line {
  name: string;
  /** A color of the theme, without its dashes. */
  color: 'ink' | 'stem' | 'rust' | 'dusk' | 'straw' | 'quiet';
  dash?: 'solid' | 'dot' | 'dash';
  width?: number;
  fill?: boolean;
  /** A value holds from its day on; null: nothing is drawn. */
  steps: { from: string; value: number | null }[];
}
const props = defineProps<{
  label: string;
  lines: Line[];
  from: string;
  to: string;
  /** Days that are marked, with what they are. */
  marks: { date: string; text: string }[];
}>();
const box = ref<HTMLElement | null>(null);
const dark = usePreferredDark();

const lines = computed<{ x: string[]; y: (number | null)[]; line: Line }[]>(() =>
  props.lines.map((line) => {
    const inside = line.steps.filter(({ from }) => from > props.from);
    const first = line.steps.filter(({ from }) => from <= props.from).at(-1);
    const steps = [...(first ? [{ from: props.from, value: first.value }] : []), ...inside];
    const last = steps.at(-1);
    return {
      line,
      x: [...steps.map(({ from }) => from), ...(last ? [props.to] : [])],
      y: [...steps.map(({ value }) => value), ...(last ? [last.value] : [])],
    };
  }),
);

let drawn: { purge: (at: HTMLElement) => void } | null = null;
async function draw(): Promise<void> {
  const at = box.value;
  if (!at) return;
  const { default: plotly } = await import('plotly.js-basic-dist-min');
  if (box.value !== at) return;
  drawn = plotly;
  const style = getComputedStyle(at);
  const color = (name: string) => style.getPropertyValue(`--${name}`).trim();
  const data = lines.value.map(({ x, y, line }): Data => ({
    x,
    y,
    name: line.name,
    type: 'scatter',
    mode: 'lines',
    line: { shape: 'hv', color: color(line.color), width: line.width ?? 2, dash: line.dash ?? 'solid' },
    fill: line.fill ? 'tozeroy' : 'none',
    fillcolor: line.fill ? color(`${line.color}-wash`) : undefined,
    hovertemplate: `%{y} ${line.name}<extra></extra>`,
  }));
  const shapes = props.marks.map(({ date }): Partial<Shape> => ({
    type: 'line',
    xref: 'x',
    yref: 'paper',
    x0: date,
    x1: date,
    y0: 0,
    y1: 1,
    line: { color: color('quiet'), width: 1, dash: 'dot' },
  }));
  const axis = { color: color('quiet'), gridcolor: color('rule'), linecolor: color('rule'), zeroline: false };
  const layout: Partial<Layout> = {
    margin: { l: 40, r: 12, t: 18, b: 40 },
    height: 230,
    paper_bgcolor: 'transparent',
    plot_bgcolor: 'transparent',
    font: { family: style.getPropertyValue('--font'), size: 12, color: color('ink') },
    xaxis: { ...axis, type: 'date', range: [props.from, props.to], tickformat: '%b', dtick: 'M1', showgrid: false },
    yaxis: { ...axis, rangemode: 'tozero' },
    hovermode: 'x unified',
    hoverlabel: { bgcolor: color('sheet'), bordercolor: color('rule'), font: { color: color('ink') } },
    legend: { orientation: 'h', y: -0.16, x: 0, traceorder: 'normal' },
    shapes,
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
  };
  await plotly.react(at, data, layout, { displayModeBar: false, responsive: false });
}
onMounted(draw);
watch([lines, () => props.marks, dark], draw);
useResizeObserver(box, () => void draw());
onBeforeUnmount(() => box.value && drawn?.purge(box.value));
</script>

<template>
  <figure>
    <div ref="box" role="img" :aria-label="label" />
    <figcaption class="sr">
      <span v-for="{ line } in lines" :key="line.name"
        >{{ line.name }}: {{ line.steps.map(({ from, value }) => `${value ?? 'no'} from ${from}`).join(', ') }}.
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  min-height: 230px;
  position: relative;
}
</style>
