<script setup lang="ts">
/** Counts side by side, each bar in parts that are told apart by pattern as well as by color. */
import type { Data } from 'plotly.js';
import { computed, ref } from 'vue';
import { type Tint, usePlot } from './plot';

const props = defineProps<{
  label: string;
  /** Of what the counts are. */
  unit: string;
  /** In order from left to right. */
  bars: string[];
  parts: { name: string; counts: number[]; tint?: Tint }[];
}>();
const box = ref<HTMLElement | null>(null);
const tints: Tint[] = ['stem', 'straw', 'dusk', 'rust', 'quiet'];
const patterns = ['', '/', '.', 'x', '-'] as const;
const said = computed(() =>
  props.bars
    .map((bar, i) => `${bar}: ${props.parts.map(({ name, counts }) => `${name} ${counts[i]}`).join(', ')}`)
    .join('. '),
);
usePlot(
  box,
  (color) => ({
    data: props.parts.map(({ name, counts, tint }, i): Data => ({
      x: props.bars,
      y: counts,
      name,
      type: 'bar',
      // A few are no wider than many.
      width: Math.min(0.55, props.bars.length / 12),
      marker: { color: color(tint ?? tints[i % tints.length]!), pattern: { shape: patterns[i % patterns.length]! } },
      hovertemplate: `%{y} ${name}<extra></extra>`,
    })),
    layout: {
      barmode: 'stack',
      bargap: 0.45,
      xaxis: { type: 'category' },
      yaxis: { title: { text: props.unit } },
      showlegend: true,
    },
  }),
  220,
);
</script>

<template>
  <figure class="m-0 min-h-220px relative">
    <div ref="box" role="img" :aria-label="label" />
    <figcaption class="sr">{{ said }}</figcaption>
  </figure>
</template>
