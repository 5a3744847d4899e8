/** Plotly, loaded when the first chart is drawn, in the colors of Sheaf by day and by night. */
import { useResizeObserver } from '@vueuse/core';
import type { Data, Layout } from 'plotly.js';
import { onBeforeUnmount, onMounted, type Ref, watch } from 'vue';
import { readTokens, useNight } from '@/theme/theme';

export type Tint = 'ink' | 'stem' | 'rust' | 'dusk' | 'straw' | 'quiet' | 'rule';
export interface Drawing {
  data: Data[];
  layout: Partial<Layout>;
}
/** `color` gives a tint, `wash` its pale one, as they are now. */
export type Draw = (color: (tint: Tint) => string, wash: (tint: Tint) => string) => Drawing;

const load = async () => (await import('plotly.js-basic-dist-min')).default;

/** Draws into the box and again whenever `draw` would draw otherwise, the box its size, or the night begins. */
export function usePlot(box: Ref<HTMLElement | null>, draw: Draw, heightPx: number): void {
  const dark = useNight();
  let plotly: Awaited<ReturnType<typeof load>> | null = null;
  async function drawNow(): Promise<void> {
    const at = box.value;
    if (!at) return;
    plotly ??= await load();
    if (box.value !== at) return;
    const value = readTokens();
    const axis = { color: value('quiet'), gridcolor: value('rule'), linecolor: value('rule'), zeroline: false };
    const { data, layout } = draw(value, (tint) => value(`${tint}-wash`));
    await plotly.react(
      at,
      data,
      {
        margin: { l: layout.yaxis?.title ? 58 : 40, r: 12, t: 18, b: 24 },
        height: heightPx,
        // Said, since left to itself it keeps the width that it was first drawn with.
        width: at.clientWidth,
        paper_bgcolor: 'transparent',
        plot_bgcolor: 'transparent',
        font: { family: value('font'), size: 12, color: value('ink') },
        hoverlabel: { bgcolor: value('sheet'), bordercolor: value('rule'), font: { color: value('ink') } },
        legend: { orientation: 'h', y: -0.14, x: 0, traceorder: 'normal' },
        ...layout,
        xaxis: { ...axis, showgrid: false, ...layout.xaxis },
        yaxis: { ...axis, rangemode: 'tozero', ...layout.yaxis },
      },
      { displayModeBar: false },
    );
  }
  onMounted(drawNow);
  watch(
    [
      () =>
        draw(
          (tint) => tint,
          (tint) => tint,
        ),
      dark,
    ],
    () => void drawNow(),
  );
  useResizeObserver(box, () => void drawNow());
  onBeforeUnmount(() => box.value && plotly?.purge(box.value));
}
