<script setup lang="ts">
/** The first sheet as it will be printed, from the same measures; secrets and codes are only drawn at the print. */
import { computed } from 'vue';
import type { PersonRow } from '../../server/api/contract';
import { card, cutMarks, type Paper, papers, parts, slots } from '#core/cards/index';
import { gradeLabel } from '#core/tabular/values';

const props = defineProps<{ paper: Paper; people: PersonRow[] }>();
const size = computed(() => papers[props.paper]);
const places = computed(() => slots(props.paper));
const marks = computed(() => cutMarks(props.paper));
/** Points to millimetres. */
const mm = (points: number) => points * (25.4 / 72);
/** Smaller type for a longer line, as the print does; about half the size is a letter's width. */
const fit = (
  text: string,
  { widthMm, sizes: [largest, smallest] }: { widthMm: number; sizes: readonly [number, number] },
) => Math.max(mm(smallest), Math.min(mm(largest), widthMm / (text.length * 0.53)));
const line = (p: PersonRow) =>
  [p.classes?.split(', ')[0], p.grade ? `grade ${gradeLabel(p.grade)}` : null, p.school].filter(Boolean).join(' · ');
</script>

<template>
  <svg
    :viewBox="`0 0 ${size.widthMm} ${size.heightMm}`"
    role="img"
    :aria-label="`Preview of the first sheet, ${paper}, ${people.length} cards`"
  >
    <rect
      :width="size.widthMm"
      :height="size.heightMm"
      fill="var(--print-paper)"
      stroke="var(--rule)"
      stroke-width="0.4"
    />
    <line
      v-for="(m, i) in marks"
      :key="i"
      :x1="m.x1Mm"
      :y1="m.y1Mm"
      :x2="m.x2Mm"
      :y2="m.y2Mm"
      stroke="var(--print-ink)"
      stroke-width="0.2"
    />
    <g
      v-for="(p, i) in people"
      :key="p.id"
      :transform="`translate(${places[i]!.xMm} ${places[i]!.yMm})`"
      fill="var(--print-ink)"
      dominant-baseline="hanging"
    >
      <rect
        :width="card.widthMm"
        :height="card.heightMm"
        fill="none"
        stroke="var(--print-line)"
        stroke-width="0.2"
        stroke-dasharray="1 1"
      />
      <text
        :x="parts.name.xMm"
        :y="parts.name.yMm"
        :font-size="fit(`${p.familyName}, ${p.givenName}`, parts.name)"
        font-weight="700"
      >
        {{ p.familyName }}, {{ p.givenName }}
      </text>
      <text :x="parts.place.xMm" :y="parts.place.yMm" :font-size="fit(line(p), parts.place)" fill="var(--print-quiet)">
        {{ line(p) }}
      </text>
      <line :x1="5" :x2="card.widthMm - 5" y1="21.5" y2="21.5" stroke="var(--print-line)" stroke-width="0.2" />
      <text :x="parts.username.xMm" :y="parts.username.yMm - 4" :font-size="mm(7.5)" fill="var(--print-quiet)">
        username
      </text>
      <text
        class="code"
        :x="parts.username.xMm"
        :y="parts.username.yMm"
        :font-size="fit(p.username ?? '', { ...parts.username, sizes: [14, 6.5] })"
      >
        {{ p.username }}
      </text>
      <text :x="parts.secret.xMm" :y="parts.secret.yMm - 4" :font-size="mm(7.5)" fill="var(--print-quiet)">secret</text>
      <rect :x="parts.secret.xMm" :y="parts.secret.yMm + 0.5" width="34" height="4" fill="var(--print-blank)" />
      <rect
        :x="parts.code.xMm"
        :y="parts.code.yMm"
        :width="parts.code.widthMm"
        :height="parts.code.heightMm"
        fill="var(--print-blank)"
        stroke="var(--print-line)"
        stroke-width="0.2"
      />
      <text
        :x="parts.code.xMm + 16"
        :y="parts.code.yMm + 15"
        :font-size="mm(8)"
        fill="var(--print-quiet)"
        text-anchor="middle"
      >
        code
      </text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  max-width: 100%;
  max-height: 100%;
}
text {
  font-family: var(--font);
}
.code {
  font-family: var(--mono);
}
</style>
