<script setup lang="ts">
/** What was scanned, the newest first, with what came of it. */
import type { Tone } from '#core/devices/index';
import { t } from '@/words';
import type { Line } from './scan-queue';
import ScanShape from './ScanShape.vue';

defineProps<{ lines: Line[]; words: Record<Tone, string> }>();
const most = 120;
const toneOf = ({ said }: Line) => said?.tone ?? 'kept';
const isDone = (line: Line) => ['taken', 'returned', 'counted'].includes(toneOf(line));
</script>

<template>
  <ol
    class="flex-1 min-h-0 overflow-auto m-0 py-4px px-16px [list-style:none]"
    :aria-label="t('devices.scansNewestFirst')"
  >
    <li
      v-for="line in lines.slice(0, most)"
      :key="line.seq"
      class="row gap-10px min-h-28px faint-b"
      :class="{ rust: toneOf(line) === 'wrong' }"
    >
      <ScanShape :tone="toneOf(line)" />
      <span class="mono clip w-210px">{{ line.text }}</span>
      <span class="w-84px" :class="{ stem: isDone(line) }">{{
        line.said ? words[line.said.tone] : t('devices.stay')
      }}</span>
      <span class="grow">{{ line.said?.text }}</span>
    </li>
  </ol>
</template>
