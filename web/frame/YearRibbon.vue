<script setup lang="ts">
/** The school year as a line, today marked, with ticks for what happened and what is due. A tick opens its thing. */
import { locale, t } from '@/words';
import { Button } from 'ant-design-vue';
import { useElementSize } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { monthWords } from '#core/time/index';
import { useLoad } from '@/kit/load';

const session = useSession();
const work = useWork();
const router = useRouter();
const folded = computed({
  get: () => session.preferences.hidden.includes('ribbon'),
  set: (is) => {
    const rest = session.preferences.hidden.filter((one) => one !== 'ribbon');
    void session.prefer({ hidden: is ? [...rest, 'ribbon'] : rest }).catch(work.wrong);
  },
});
const box = ref<HTMLElement | null>(null);
const { width } = useElementSize(box);
const ticks = useLoad(t('frame.theDatesOfTheYear'), 'GET /api/ribbon', undefined, { alone: true });

const day = (iso: string) => Date.parse(iso) / 86_400_000;
const span = computed(() => {
  const { today, year } = session.me!;
  // A few weeks before the year begins belong to it: that is when most of the work is done.
  const from = Math.min(day(year.begins), day(today)) - 21;
  return { from, to: day(year.ends) + 14 };
});
const x = (iso: string) =>
  12 + ((day(iso) - span.value.from) / (span.value.to - span.value.from)) * Math.max(0, width.value - 24);
const months = computed(() => {
  const list: { x: number; label: string }[] = [];
  const cursor = new Date(span.value.from * 86_400_000);
  cursor.setUTCDate(1);
  for (let i = 0; i < 16; i++) {
    cursor.setUTCMonth(cursor.getUTCMonth() + 1);
    const iso = cursor.toISOString().slice(0, 10);
    if (day(iso) >= span.value.to) break;
    list.push({ x: x(iso), label: monthWords(iso, locale) });
  }
  return list;
});
/** Letters of a label. What is cut off stands in its name. */
const longest = 34;
/** Whole words of it, as many as there is room for. */
const cut = (text: string) => (text.length <= longest ? text : text.slice(0, longest + 1).replace(/\s+\S*$/, ''));
/** Ticks of one day and kind side by side; labels only where there is room before the next one. */
const shown = computed(() => {
  const here = (ticks.data.value ?? [])
    .filter((t) => day(t.date) >= span.value.from)
    .map((t) => ({ ...t, x: x(t.date) }))
    .sort((a, b) => a.x - b.x);
  let end = -Infinity;
  const now = x(session.me!.today);
  return here.map((tick) => {
    const letters = 12 + Math.min(longest, tick.text.length) * 6;
    // "today" stands before its mark.
    // At the right edge the label stands before its tick.
    const before =
      tick.x + letters > width.value && tick.x - letters > end && (tick.x - letters > now + 6 || tick.x < now - 44);
    const space = before || (tick.x > end + 6 && (tick.x > now - 4 || tick.x + letters < now - 40));
    if (space) end = before ? tick.x : tick.x + letters;
    return { ...tick, label: space, before };
  });
});
const open = (to: string | null) => to && session.isCoordinator && router.push(to);
</script>

<template>
  <div class="ribbon" :class="{ folded }">
    <div v-show="!folded" ref="box" class="line flex-1 min-w-0 h-36px overflow-hidden">
      <svg v-if="width > 0" :width="width" height="36" role="group" :aria-label="t('frame.theSchoolYear')">
        <line x1="12" :x2="width - 12" y1="21" y2="21" stroke="var(--rule)" stroke-width="2" />
        <line
          :x1="x(session.me!.year.begins)"
          :x2="x(session.me!.year.ends)"
          y1="21"
          y2="21"
          stroke="var(--quiet)"
          stroke-width="2"
        />
        <text
          v-if="ticks.error.value && !ticks.data.value"
          :x="width - 12"
          y="11"
          text-anchor="end"
          font-size="11"
          fill="var(--rust)"
        >
          {{ t('frame.couldntLoadTheDatesOf') }}
        </text>
        <g v-for="m in months" :key="m.x" fill="var(--quiet)" font-size="11">
          <line :x1="m.x" :x2="m.x" y1="18" y2="24" stroke="var(--rule)" />
          <text :x="m.x + 3" y="32">{{ m.label }}</text>
        </g>
        <g
          v-for="(tick, i) in shown"
          :key="i"
          :class="{ opens: tick.to }"
          :tabindex="tick.to ? 0 : undefined"
          :role="tick.to ? 'link' : 'img'"
          :aria-label="`${tick.date}: ${tick.text}`"
          @click="open(tick.to)"
          @keydown.enter="open(tick.to)"
        >
          <title>{{ tick.date }}: {{ tick.text }}</title>
          <path v-if="tick.kind === 'year'" :d="`M${tick.x} 14v11`" stroke="var(--ink)" stroke-width="2" />
          <path v-else-if="tick.kind === 'import'" :d="`M${tick.x - 5} 14h10l-5 7z`" fill="var(--stem)" />
          <path
            v-else-if="tick.kind === 'purge'"
            :d="`M${tick.x - 4} 14l8 7m0 -7l-8 7`"
            stroke="var(--rust)"
            stroke-width="1.5"
          />
          <rect
            v-else
            :x="tick.x - 4"
            y="14"
            width="8"
            height="6"
            fill="none"
            stroke="var(--dusk)"
            stroke-width="1.5"
          />
          <text
            v-if="tick.label"
            :x="tick.before ? tick.x - 6 : tick.x + 8"
            :text-anchor="tick.before ? 'end' : 'start'"
            y="11"
            font-size="11"
            fill="var(--ink)"
          >
            {{ cut(tick.text) }}
          </text>
        </g>
        <g aria-hidden="true">
          <line
            :x1="x(session.me!.today)"
            :x2="x(session.me!.today)"
            y1="2"
            y2="27"
            stroke="var(--straw)"
            stroke-width="3"
          />
          <text
            :x="x(session.me!.today) - 5"
            y="11"
            font-size="11"
            text-anchor="end"
            fill="var(--ink)"
            font-weight="650"
          >
            {{ t('frame.today') }}
          </text>
        </g>
      </svg>
    </div>
    <Button type="text" size="small" class="text-12px" :aria-expanded="!folded" @click="folded = !folded">
      {{ folded ? t('frame.showTheYear') : t('frame.hide') }}
    </Button>
  </div>
</template>

<style scoped>
.ribbon {
  flex: none;
  display: flex;
  align-items: center;
  height: 38px;
  border-bottom: 1px solid var(--rule);
  padding-right: 16px;
  background: var(--sheet);
}
.ribbon.folded {
  height: 22px;
  justify-content: flex-end;
}
.opens {
  cursor: pointer;
}
svg text {
  font-family: var(--font);
}
</style>
