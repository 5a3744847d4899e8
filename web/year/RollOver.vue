<script setup lang="ts">
/** The roll-over: where each grade goes, who does it again or leaves, what else is to happen; beside it what that comes to. */
import { t } from '@/words';
import DayInput from '@/kit/DayInput.vue';
import { Button, Checkbox } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import type { Body, YearPerson } from '../../server/contract';
import { call } from '@/api';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { dayOfWords } from '@/time';
import { gradeLabel } from '#core/tabular/values';
import { useAgain, useLoad } from '@/kit/load';
import GradeMap from './GradeMap.vue';
import SummaryBySchool from './SummaryBySchool.vue';

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
async function run(what: () => Promise<unknown>): Promise<void> {
  try {
    await what();
    await reload('GET /api/year', 'GET /api/year/rehearsal');
  } catch (error) {
    work.wrong(error);
  }
}
const save = (body: Body<'POST /api/year/draft'>) => run(() => call('POST /api/year/draft', { body }));
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
</script>

<template>
  <div v-if="year" class="flex flex-col min-h-0">
    <h1 class="sr">{{ t('places.rollOver') }}</h1>
    <div class="flex-auto min-h-0 overflow-auto">
      <section class="py-10px px-16px grid gap-8px content-start" :aria-label="t('year.decisions')">
        <p v-if="year.last" class="last">
          <b>{{ year.last.title }}</b> {{ t('year.wasAppliedOn', { at: dayOfWords(year.last.at) }) }}
          <RouterLink :to="`/plans/${year.last.planId}`">{{ t('year.viewItOrUndoIt') }}</RouterLink>
        </p>
        <form
          class="when flex flex-wrap gap-y-8px gap-x-16px"
          :aria-label="t('year.theNewYear')"
          @submit.prevent="saveYear"
          @change="saveYear"
        >
          <label
            >{{ t('year.newYear') }} <TextInput v-model:value="typed.name" class="name w-110px" maxlength="40"
          /></label>
          <label>{{ t('year.from') }} <DayInput v-model:value="typed.begins" /></label>
          <label>{{ t('year.to') }} <DayInput v-model:value="typed.ends" /></label>
        </form>
        <div class="flex flex-wrap gap-y-12px gap-x-32px">
          <GradeMap class="[flex:3_1_300px] min-w-0" :year="year" :save="save" />
          <div class="[flex:1_1_240px] min-w-0">
            <template v-for="[list, title] in lists" :key="list">
              <h2 class="mt-8px mb-4px mx-0">{{ title }} · {{ year[list].length }}</h2>
              <ul class="whom max-h-140px overflow-auto">
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
            <h2 class="mt-8px mb-4px mx-0">{{ t('year.also') }}</h2>
            <Checkbox
              v-for="[key, words] in switches"
              :key="key"
              :checked="year.draft[key]"
              class="row min-h-26px"
              @update:checked="(on: boolean) => save({ [key]: on })"
            >
              {{ words }}
            </Checkbox>
            <p class="quiet text-13px pt-6px">
              {{ t('year.thisYearsClassesGoTo') }}
              <RouterLink to="/year/sections">{{ t('year.sections') }}</RouterLink>{{
                t('year.otherwiseFromTheClassBefore')
              }}
            </p>
          </div>
        </div>
      </section>
      <section
        class="ruled-t bg-sheet pt-8px pb-10px px-16px grid gap-8px"
        :aria-label="t('year.summaryBySchool')"
        aria-live="polite"
      >
        <h2>{{ t('year.summaryBySchool2', { counting: rehearsal.isFetching.value ? t('year.counting') : '' }) }}</h2>
        <p v-if="numbers?.error" class="rust">{{ numbers.error }}</p>
        <template v-else-if="numbers">
          <SummaryBySchool :lines="numbers.lines" />
          <ul v-if="numbers.problemCount > 0">
            <li v-for="p in numbers.problems.slice(0, 6)" :key="p.label" class="rust">
              {{ p.label }} {{ p.message }}.
            </li>
            <li v-if="numbers.problemCount > 6" class="quiet">
              {{ t('year.andMoreThePlanNames', { problemCount: numbers.problemCount - 6 }) }}
            </li>
          </ul>
        </template>
      </section>
    </div>
    <p
      v-if="numbers && !numbers.error"
      class="flex-none flex flex-wrap gap-y-4px gap-x-16px items-center ruled-t bg-sheet py-8px px-16px"
    >
      <Button type="primary" :disabled="numbers.changes === 0" @click="plan"
        ><span
          >{{ t('year.plan', { changes: t('common.countChanges', { n: numbers.changes }) }) }}
          <kbd>{{ t('year.ctrlEnter') }}</kbd></span
        ></Button
      >
      <span class="quiet">{{ t('year.nothingChangesUntilYouApply') }}</span>
    </p>
  </div>
</template>
