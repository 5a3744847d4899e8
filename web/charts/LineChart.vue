<script setup lang="ts">
/** Shares from day to day, a line each, told apart by dash as well as by color. */
import { t } from '@/words';
import type { Data } from 'plotly.js';
import { computed, ref } from 'vue';
import { type Tint, usePlot } from './plot';

const props = defineProps<{
  label: string;
  days: string[];
  /** Shares from 0 to 1; null: not known. */
  lines: { name: string; shares: (number | null)[] }[];
}>();
const box = ref<HTMLElement | null>(null);
const tints: Tint[] = ['stem', 'dusk', 'straw', 'rust', 'ink', 'quiet'];
const dashes = ['solid', 'dash', 'dot', 'dashdot', 'longdash', 'longdashdot'] as const;
const percent = (share: number | null | undefined) =>
  share === null || share === undefined ? t('charts.unknown') : `${Math.round(share * 100)}%`;
const said = computed(() =>
  props.lines
    .map(({ name, shares }) => t('charts.to', { name, percent: percent(shares[0]), percent2: percent(shares.at(-1)) }))
    .join(', '),
);
usePlot(
  box,
  (color) => ({
    data: props.lines.map(({ name, shares }, i): Data => ({
      x: props.days,
      y: shares.map((share) => (share === null ? null : share * 100)),
      name,
      type: 'scatter',
      mode: 'lines',
      line: { color: color(tints[i % tints.length]!), dash: dashes[i % dashes.length]!, width: 2 },
      hovertemplate: `%{y:.0f}% ${name}<extra></extra>`,
    })),
    layout: {
      xaxis: { type: 'date', tickformat: '%b %-d' },
      yaxis: { range: [0, 102], ticksuffix: '%' },
      hovermode: 'x unified',
      showlegend: true,
    },
  }),
  240,
);
</script>

<template>
  <figure class="m-0 min-h-240px relative">
    <div ref="box" role="img" :aria-label="label" />
    <figcaption class="sr">{{ said }}</figcaption>
  </figure>
</template>
