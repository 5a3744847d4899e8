<script setup lang="ts">
/** The roll-over: where each grade goes, who does it again or leaves, what else is to happen; beside it what that comes to. */
import { locale, t } from '@/words';
import Figures from '@/kit/Figures.vue';
import DayInput from '@/kit/DayInput.vue';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import type { Body, YearGrade, YearPerson } from '../../server/contract';
import { call } from '@/api';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { dayOfWords } from '@/time';
import { gradeLabel, grades as gradeCodes } from '#core/tabular/values';
import { useAgain, useLoad } from '@/kit/load';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const router = useRouter();
const reload = useAgain();
if (!session.may('year')) void router.replace('/year/sections');
const sheet = useLoad(t('year.theSchoolYear'), 'GET /api/year');
const rehearsal = useLoad(t('year.thePreview'), 'GET /api/year/rehearsal');
const year = computed(() => sheet.data.value);
const numbers = computed(() => rehearsal.data.value);
const nameOf = (id: string | null) =>
  session.me?.schools.find((school) => school.id === id)?.name ?? t('year.noSchool');
const apart = computed(() => new Set(year.value?.apart ?? []));
const lines = computed(() =>
  (numbers.value?.lines ?? []).filter(({ before, after }) => before.students + after.students + before.classes > 0),
);
type Line = (typeof lines.value)[number];
type Count = (line: Line) => number;
const total = (of: Count) => lines.value.reduce((sum, line) => sum + of(line), 0).toLocaleString(locale);

/** By school, in the order of their grades. */
const schools = computed(() => {
  const all = new Map<string, YearGrade[]>();
  for (const grade of year.value?.grades ?? []) all.set(grade.schoolId, [...(all.get(grade.schoolId) ?? []), grade]);
  return [...all].map(([id, grades]) => ({ id, name: nameOf(id), grades }));
});
const open = computed(() => new Set(year.value?.grades.filter(({ next }) => next === null).map(({ key }) => key)));

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

async function run(what: () => Promise<unknown>): Promise<void> {
  try {
    await what();
    await reload('GET /api/year', 'GET /api/year/rehearsal');
  } catch (error) {
    work.wrong(error);
  }
}
const save = (body: Body<'POST /api/year/draft'>) => run(() => call('POST /api/year/draft', { body }));
function choose({ key }: YearGrade, value: string): Promise<void> {
  const [schoolId, grade] = value.split(':') as [string, string?];
  const next = grade === undefined ? (value as 'leaves' | 'stays') : { schoolId, grade };
  return save({ map: { ...year.value!.draft.map, [key]: next } });
}
function takePart(id: string, on: boolean): Promise<void> {
  const others = (year.value?.apart ?? []).filter((one) => one !== id);
  return save({ apart: on ? others : [...others, id] });
}
const add = (list: 'again' | 'leave') => run(() => call('POST /api/year/whom', { body: { list, drop: null } }));
const drop = (list: 'again' | 'leave', { id }: YearPerson) =>
  run(() => call('POST /api/year/whom', { body: { list, drop: id } }));

const typed = ref({ name: '', begins: '', ends: '' });
watch(
  () => year.value?.next,
  (next) => next && (typed.value = { ...next }),
  { immediate: true },
);
function saveYear(): void {
  const { name, begins, ends } = typed.value;
  const was = year.value?.next;
  if (!name.trim() || !begins || !ends || (was?.name === name && was.begins === begins && was.ends === ends)) return;
  void save({ year: { name, begins, ends } });
}

const switches = [
  ['teachers', t('year.teachersKeepTheirClasses')],
  ['endGroups', t('year.groupsAcrossClassesEnd')],
  ['collect', t('year.studentsWhoLeaveASchool')],
] as const;
const lists = [
  ['again', t('year.repeatTheGrade')],
  ['leave', t('year.withdraw')],
] as const;
async function plan(): Promise<void> {
  if (!numbers.value || numbers.value.error) return;
  try {
    const { jobId } = await call('POST /api/year/plan');
    const { planId } = await work.follow(jobId, t('year.planningTheRollOver'));
    await router.push(`/plans/${planId}`);
  } catch (error) {
    if (work.notice?.tone !== 'wrong') work.wrong(error);
  }
}
useCarryOut(plan);
const columns: [key: string, title: string, of: Count, after?: Count][] = [
  ['students', t('common.students'), (l) => l.before.students, (l) => l.after.students],
  ['up', t('year.movingUp'), (l) => l.up],
  ['come', t('year.arriving'), (l) => l.come],
  ['gone', t('year.continue'), (l) => l.gone],
  ['again', t('year.repeating'), (l) => l.again],
  ['leave', t('year.withdrawn'), (l) => l.leave],
  ['new', t('year.newStudents'), (l) => l.ahead],
  ['noClass', t('year.noClass'), (l) => l.unplaced],
  ['classes', t('common.classes'), (l) => l.before.classes, (l) => l.after.classes],
  ['seats', t('year.seats'), (l) => l.before.seats, (l) => l.after.seats],
  ['collect', t('year.return'), (l) => l.collect],
];
</script>

<template>
  <div v-if="year" class="roll">
    <h1 class="sr">{{ t('places.rollOver') }}</h1>
    <section class="decide" :aria-label="t('year.decisions')">
      <p v-if="year.last" class="last">
        <b>{{ year.last.title }}</b> {{ t('year.wasAppliedOn', { at: dayOfWords(year.last.at) }) }}
        <RouterLink :to="`/plans/${year.last.planId}`">{{ t('year.viewItOrUndoIt') }}</RouterLink>
      </p>
      <form class="when" :aria-label="t('year.theNewYear')" @submit.prevent="saveYear" @change="saveYear">
        <label>{{ t('year.newYear') }} <TextInput v-model:value="typed.name" class="name" maxlength="40" /></label>
        <label>{{ t('year.from') }} <DayInput v-model:value="typed.begins" /></label>
        <label>{{ t('year.to') }} <DayInput v-model:value="typed.ends" /></label>
      </form>
      <div class="columns">
        <div>
          <h2>{{ t('year.whereEachGradeGoes') }}</h2>
          <p v-if="schools.length === 0" class="quiet">
            {{ t('year.noSchoolHasStudentsYet') }}
          </p>
          <div v-for="school in schools" :key="school.id" class="school">
            <Checkbox
              :checked="!apart.has(school.id)"
              class="row"
              @update:checked="(on: boolean) => takePart(school.id, on)"
            >
              <b class="clip" :title="school.name">{{ school.name }}</b>&nbsp;<span
                v-if="apart.has(school.id)"
                class="quiet"
              >
                {{ t('year.doesNotTakePart') }}</span
              >
            </Checkbox>
            <ul v-if="!apart.has(school.id)">
              <li v-for="grade in school.grades" :key="grade.key">
                <span class="from">{{
                  grade.grade ? t('year.grade', { grade: gradeLabel(grade.grade) }) : t('year.noGrade')
                }}</span>
                <span class="n quiet">{{ grade.students }}</span>
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
        <div>
          <template v-for="[list, title] in lists" :key="list">
            <h2>{{ title }} · {{ year[list].length }}</h2>
            <ul class="whom">
              <li v-for="one in year[list].slice(0, 40)" :key="one.id" class="row">
                <span class="clip grow" :title="one.label">{{ one.label }}</span>
                <span class="quiet">{{ one.grade ? gradeLabel(one.grade) : '' }}</span>
                <Button size="small" :aria-label="t('year.takeOff', { label: one.label })" @click="drop(list, one)">
                  {{ t('year.takeOff2') }}
                </Button>
              </li>
              <li v-if="year[list].length > 40" class="quiet">
                {{ t('year.andMore', { list: year[list].length - 40 }) }}
              </li>
              <li v-if="year[list].length === 0" class="quiet">{{ t('year.noOne') }}</li>
            </ul>
            <Button size="small" :disabled="sheaf.state.count === 0" @click="add(list)">
              {{
                sheaf.state.count === 0
                  ? t('year.gatherStudentsUnderPeopleThen')
                  : t('year.addTheGathered', { count: sheaf.state.count })
              }}
            </Button>
          </template>
          <h2>{{ t('year.also') }}</h2>
          <Checkbox
            v-for="[key, words] in switches"
            :key="key"
            :checked="year.draft[key]"
            class="row option"
            @update:checked="(on: boolean) => save({ [key]: on })"
          >
            {{ words }}
          </Checkbox>
          <p class="quiet small">
            {{ t('year.thisYearsClassesGoTo') }} <RouterLink to="/year/sections">{{ t('year.sections') }}</RouterLink>{{
              t('year.otherwiseFromTheClassBefore')
            }}
          </p>
        </div>
      </div>
    </section>
    <section class="comes" :aria-label="t('year.summaryBySchool')" aria-live="polite">
      <h2>{{ t('year.summaryBySchool2', { counting: rehearsal.isFetching.value ? t('year.counting') : '' }) }}</h2>
      <p v-if="numbers?.error" class="rust">{{ numbers.error }}</p>
      <template v-else-if="numbers">
        <div class="scroll" tabindex="0" role="region" :aria-label="t('year.numbersBySchool')">
          <Figures
            class="wide"
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
            <template v-for="[key, , was, after] in columns" :key="key" #[key]="{ row: line }">
              <template v-if="after"
                >{{ line ? was(line) : total(was) }} → <b>{{ line ? after(line) : total(after) }}</b></template
              >
              <template v-else>{{ line ? was(line) || '' : total(was) }}</template>
            </template>
          </Figures>
        </div>
        <ul v-if="numbers.problemCount > 0">
          <li v-for="p in numbers.problems.slice(0, 6)" :key="p.label" class="rust">{{ p.label }} {{ p.message }}.</li>
          <li v-if="numbers.problemCount > 6" class="quiet">
            {{ t('year.andMoreThePlanNames', { problemCount: numbers.problemCount - 6 }) }}
          </li>
        </ul>
        <p class="foot">
          <Button type="primary" :disabled="numbers.changes === 0" @click="plan"
            ><span
              >{{ t('year.plan', { changes: t('year.countChanges', { n: numbers.changes }) }) }}
              <kbd>{{ t('year.ctrlEnter') }}</kbd></span
            ></Button
          >
          <span class="quiet">{{ t('year.nothingChangesUntilYouApply') }}</span>
        </p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.roll {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.decide {
  flex: 1 1 auto;
  min-height: 160px;
  overflow: auto;
  padding: 10px 16px;
  display: grid;
  gap: 8px;
  align-content: start;
}
.when {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
}
.when .name {
  width: 110px;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1.9fr) minmax(0, 1fr);
  gap: 12px 32px;
}
.columns > div:first-child {
  columns: 2 300px;
  column-gap: 24px;
}
.columns h2 {
  margin: 8px 0 4px;
}
.columns > div:first-child h2 {
  column-span: all;
  margin-top: 0;
}
.school {
  break-inside: avoid;
  padding-bottom: 6px;
}
.school li {
  display: grid;
  grid-template-columns: 72px 36px 14px minmax(0, 1fr);
  gap: 6px;
  align-items: baseline;
  padding-left: 22px;
  min-height: 26px;
}
.n {
  text-align: right;
  white-space: nowrap;
}
.said {
  font-weight: 650;
}
.whom {
  max-height: 140px;
  overflow: auto;
}
.option {
  min-height: 26px;
}
.small {
  font-size: 13px;
  padding-top: 6px;
}
.comes {
  flex: none;
  max-height: 52%;
  overflow: auto;
  border-top: 1px solid var(--rule);
  background: var(--sheet);
  padding: 8px 16px 10px;
  display: grid;
  gap: 8px;
}
.scroll {
  overflow-x: auto;
}
.wide {
  width: 100%;
}
.wide :deep(th.clip) {
  max-width: 180px;
}
.wide :deep(.sum > *) {
  border-top: 1px solid var(--ink);
}
.foot {
  display: flex;
  gap: 16px;
  align-items: center;
}
</style>
