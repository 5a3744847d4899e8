<script setup lang="ts">
/** A sheet as it will be printed, drawn from the very items that are printed; a QR that is only made at the print is a blank. */
import { t } from '@/words';
import { computed } from 'vue';
import { type Face, type Item, type Paper, papers, type Tint } from '#core/cards/index';

const props = defineProps<{ paper: Paper; items: Item[]; label: string; actual: number | null }>();
const size = computed(() => papers[props.paper]);
const tints: Record<Tint, string> = { ink: 'var(--print-ink)', quiet: 'var(--print-quiet)', line: 'var(--print-line)' };
const faces: Record<Face, string> = { text: 'var(--font)', strong: 'var(--font)', code: 'var(--mono)' };
const mm = (points: number) => points * (25.4 / 72);

interface Placed {
  item: Exclude<Item, { kind: 'at' }>;
  /** Where its place stands, and whether it is upside down there. */
  transform: string;
}
function flat(items: readonly Item[], transform = ''): Placed[] {
  return items.flatMap((item) =>
    item.kind === 'at'
      ? flat(
          item.items,
          `${transform} translate(${item.xMm} ${item.yMm})${item.turned ? ` rotate(180 ${item.widthMm / 2} ${item.heightMm / 2})` : ''}`.trim(),
        )
      : [{ item, transform }],
  );
}
const shown = computed(() => flat(props.items));
/** Corners of each piece, faintly, so that its edges are seen. */
const outlines = computed(() => props.items.filter((item) => item.kind === 'at'));
const style = computed(() =>
  props.actual === null ? {} : { width: `${size.value.widthMm * props.actual}px`, maxWidth: 'none', maxHeight: 'none' },
);
</script>

<template>
  <svg
    class="max-w-full max-h-full flex-none"
    :viewBox="`0 0 ${size.widthMm} ${size.heightMm}`"
    role="img"
    :aria-label="label"
    :style="style"
  >
    <rect
      :width="size.widthMm"
      :height="size.heightMm"
      fill="var(--print-paper)"
      stroke="var(--rule)"
      stroke-width="0.4"
    />
    <rect
      v-for="(o, i) in outlines"
      :key="`o${i}`"
      :x="o.xMm"
      :y="o.yMm"
      :width="o.widthMm"
      :height="o.heightMm"
      fill="none"
      stroke="var(--print-line)"
      stroke-width="0.15"
      stroke-dasharray="1 1"
    />
    <g v-for="({ item, transform }, i) in shown" :key="i" :transform="transform || undefined">
      <text
        v-if="item.kind === 'text'"
        :x="item.xMm"
        :y="item.baseMm"
        :font-size="mm(item.sizePt)"
        :font-family="faces[item.face]"
        :font-weight="item.face === 'strong' ? 700 : item.face === 'code' ? 500 : 400"
        :fill="tints[item.tint]"
        :direction="item.isRtl ? 'rtl' : undefined"
        :text-anchor="item.isRtl ? 'end' : undefined"
      >
        {{ item.text }}
      </text>
      <line
        v-else-if="item.kind === 'line'"
        :x1="item.x1Mm"
        :y1="item.y1Mm"
        :x2="item.x2Mm"
        :y2="item.y2Mm"
        :stroke="tints[item.tint]"
        :stroke-width="mm(item.widthPt)"
      />
      <path
        v-else-if="item.kind === 'picture'"
        :transform="`translate(${item.xMm} ${item.yMm}) scale(${item.sizeMm / 24})`"
        :d="item.path"
        fill="none"
        stroke="var(--print-ink)"
        stroke-width="1.8"
        stroke-linecap="round"
        stroke-linejoin="round"
      />
      <g v-else-if="item.kind === 'qr'">
        <rect
          :x="item.xMm"
          :y="item.yMm"
          :width="item.sizeMm"
          :height="item.sizeMm"
          fill="var(--print-blank)"
          stroke="var(--print-line)"
          stroke-width="0.2"
        />
        <text
          :x="item.xMm + item.sizeMm / 2"
          :y="item.yMm + item.sizeMm / 2 + 1"
          font-size="2.8"
          fill="var(--print-quiet)"
          text-anchor="middle"
        >
          {{ t('handouts.code') }}
        </text>
      </g>
      <rect
        v-else-if="item.kind === 'box'"
        :x="item.xMm"
        :y="item.yMm"
        :width="item.widthMm"
        :height="item.heightMm"
        fill="none"
        :stroke="tints[item.tint]"
        stroke-width="0.2"
      />
    </g>
  </svg>
</template>

<style scoped>
text {
  white-space: pre;
}
</style>
