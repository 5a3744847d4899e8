<script setup lang="ts">
/** What the roll-over comes to, by school and in all. */
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import type { YearGroup } from '#core/year/index';
import Part from '@/kit/Part.vue';
import RehearsedPeople from './RehearsedPeople.vue';
import type { Rehearsal } from '../../server/contract';
import Figures from '@/kit/Figures.vue';
import { useSession } from '@/stores/session';
import { locale, t } from '@/words';

const props = defineProps<{ lines: Rehearsal['lines'] }>();
const session = useSession();
const nameOf = (id: string | null) =>
  session.me?.schools.find((school) => school.id === id)?.name ?? t('year.noSchool');
const nameOfLine = (line: { schoolId: string } | null) => (line ? nameOf(line.schoolId) : t('year.all'));
const opened = ref<{ group: YearGroup; school: string | null; title: string } | null>(null);
const lines = computed(() =>
  props.lines.filter(({ before, after }) => before.students + after.students + before.classes > 0),
);
type Line = (typeof lines.value)[number];
type Count = (line: Line) => number;
const total = (of: Count) => lines.value.reduce((sum, line) => sum + of(line), 0);
/** Of a school, or of all. */
const count = (line: Line | null, of: Count) => (line ? of(line) : total(of)).toLocaleString(locale);
/** Behind these counts there are people, who are opened by a click. */
const columns: [key: string, title: string, of: Count, after?: Count, group?: YearGroup][] = [
  ['students', t('common.students'), (l) => l.before.students, (l) => l.after.students],
  ['up', t('year.movingUp'), (l) => l.up, undefined, 'up'],
  ['come', t('year.arriving'), (l) => l.come, undefined, 'come'],
  ['gone', t('year.continue'), (l) => l.gone, undefined, 'gone'],
  ['again', t('year.repeating'), (l) => l.again, undefined, 'again'],
  ['leave', t('year.withdrawn'), (l) => l.leave, undefined, 'leave'],
  ['new', t('year.newStudents'), (l) => l.ahead, undefined, 'ahead'],
  ['noClass', t('year.noClass'), (l) => l.unplaced, undefined, 'unplaced'],
  ['classes', t('common.classes'), (l) => l.before.classes, (l) => l.after.classes],
  ['seats', t('year.seats'), (l) => l.before.seats, (l) => l.after.seats],
  ['collect', t('year.return'), (l) => l.collect, undefined, 'collect'],
];
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="region" :aria-label="t('year.numbersBySchool')">
    <Figures
      class="wide w-full"
      :rows="[...lines, null]"
      :row-key="(line) => line?.schoolId ?? 'all'"
      :row-class="(line) => ({ sum: !line })"
      :columns="[
        { key: 'school', title: t('year.school'), heading: true, cellClass: () => 'clip' },
        ...columns.map(([key, title, was]) => ({
          key,
          title,
          number: true,
          cellClass: (line: Line | null) => ({ rust: line && key === 'noClass' && was(line) > 0 }),
        })),
      ]"
    >
      <template #school="{ row: line }">
        <span v-if="line" :title="nameOf(line.schoolId)">{{ nameOf(line.schoolId) }}</span>
        <template v-else>{{ t('year.all') }}</template>
      </template>
      <template v-for="[key, title, was, after, group] in columns" :key="key" #[key]="{ row: line }">
        <template v-if="after"
          >{{ count(line, was) }} → <b>{{ count(line, after) }}</b></template
        >
        <Button
          v-else-if="group && (line ? was(line) : total(was)) > 0"
          type="link"
          size="small"
          class="flush"
          :aria-label="t('year.showThem', { count: count(line, was), what: title, school: nameOfLine(line) })"
          @click="opened = { group, school: line?.schoolId ?? null, title: `${title} · ${nameOfLine(line)}` }"
          >{{ count(line, was) }}</Button
        >
        <template v-else>{{ line && was(line) === 0 ? '' : count(line, was) }}</template>
      </template>
    </Figures>
  </div>
  <Part v-if="opened" fit
    ><RehearsedPeople
      :key="`${opened.group} ${opened.school}`"
      :group="opened.group"
      :school="opened.school"
      :title="opened.title"
      @close="opened = null"
  /></Part>
</template>

<style scoped>
.wide :deep(th.clip) {
  max-width: 180px;
}
.wide :deep(.sum > *) {
  border-top: 1px solid var(--ink);
}
</style>
