<script setup lang="ts">
/** Where each grade of each school goes next year, and which schools take part. */
import { Checkbox, SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import type { Body, YearGrade, YearSheet } from '../../server/contract';
import { gradeLabel, grades as gradeCodes } from '#core/tabular/values';
import Choice from '@/kit/Choice.vue';
import { useSession } from '@/stores/session';
import { t } from '@/words';

const props = defineProps<{ year: YearSheet; save: (body: Body<'POST /api/year/draft'>) => Promise<void> }>();
const session = useSession();
const nameOf = (id: string | null) =>
  session.me?.schools.find((school) => school.id === id)?.name ?? t('year.noSchool');
const apart = computed(() => new Set(props.year.apart));

/** By school, in the order of their grades. */
const schools = computed(() => {
  const all = new Map<string, YearGrade[]>();
  for (const grade of props.year.grades) all.set(grade.schoolId, [...(all.get(grade.schoolId) ?? []), grade]);
  return [...all].map(([id, grades]) => ({ id, name: nameOf(id), grades }));
});
const open = computed(() => new Set(props.year.grades.filter(({ next }) => next === null).map(({ key }) => key)));

const rank = (grade: string) => (gradeCodes as readonly string[]).indexOf(grade);
/** Schools that have the next grade, this one first. */
function choices({ schoolId, grade }: YearGrade): { value: string; label: string }[] {
  const next = grade === null ? null : gradeCodes[rank(grade) + 1];
  const able = (session.me?.schools ?? []).filter(
    (school) => next && rank(next) >= rank(school.lowGrade) && rank(next) <= rank(school.highGrade),
  );
  return [
    ...able
      .sort((a, b) => Number(b.id === schoolId) - Number(a.id === schoolId))
      .map(({ id, name }) => ({
        value: `${id}:${next}`,
        label: t('year.grade3', { next: gradeLabel(next!), name: id === schoolId ? '' : ` ${t('year.at', { name })}` }),
      })),
    { value: 'leaves', label: t('year.leaves') },
    { value: 'stays', label: t('year.unchanged') },
  ];
}
const valueOf = ({ next }: YearGrade) =>
  next === null ? '' : typeof next === 'string' ? next : `${next.schoolId}:${next.grade}`;

function choose({ key }: YearGrade, value: string): Promise<void> {
  const [schoolId, grade] = value.split(':') as [string, string?];
  const next = grade === undefined ? (value as 'leaves' | 'stays') : { schoolId, grade };
  return props.save({ map: { ...props.year.draft.map, [key]: next } });
}
function takePart(id: string, on: boolean): Promise<void> {
  const others = props.year.apart.filter((one) => one !== id);
  return props.save({ apart: on ? others : [...others, id] });
}
</script>

<template>
  <div class="[columns:2_300px] gap-x-24px">
    <h2 class="[column-span:all] mb-4px">{{ t('year.whereEachGradeGoes') }}</h2>
    <p v-if="schools.length === 0" class="quiet">
      {{ t('year.noSchoolHasStudentsYet') }}
    </p>
    <div v-for="school in schools" :key="school.id" class="school [break-inside:avoid] pb-6px">
      <Checkbox :checked="!apart.has(school.id)" class="row" @update:checked="(on: boolean) => takePart(school.id, on)">
        <b class="clip" :title="school.name">{{ school.name }}</b><span
          v-if="apart.has(school.id)"
          class="quiet ml-4px"
        >
          {{ t('year.doesNotTakePart') }}</span
        >
      </Checkbox>
      <ul v-if="!apart.has(school.id)">
        <li
          v-for="grade in school.grades"
          :key="grade.key"
          class="grid [grid-template-columns:72px_36px_14px_minmax(0,1fr)] gap-6px items-baseline pl-22px min-h-26px"
        >
          <span class="from">{{
            grade.grade ? t('year.grade', { grade: gradeLabel(grade.grade) }) : t('year.noGrade')
          }}</span>
          <span class="n quiet text-right whitespace-nowrap">{{ grade.students }}</span>
          <span aria-hidden="true" class="quiet">→</span>
          <Choice
            :class="{
              rust: open.has(grade.key),
              said: valueOf(grade) !== '' && JSON.stringify(grade.next) !== JSON.stringify(grade.usual),
            }"
            :aria-label="
              t('year.ofMovesTo', {
                grade: grade.grade ? t('year.grade2', { grade: gradeLabel(grade.grade) }) : t('year.noGrade2'),
                name: school.name,
              })
            "
            :value="valueOf(grade)"
            @update:value="(to) => choose(grade, to)"
          >
            <SelectOption v-if="grade.next === null" value="" disabled>{{ t('year.chooseWhere') }}</SelectOption>
            <SelectOption v-for="c in choices(grade)" :key="c.value" :value="c.value">{{ c.label }}</SelectOption>
          </Choice>
        </li>
      </ul>
    </div>
  </div>
</template>

<style scoped>
.said {
  font-weight: 650;
}
</style>
