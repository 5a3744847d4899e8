<script setup lang="ts">
/** What would happen, recounted as the reading changes; each count shows just its rows. */
import Fold from '@/kit/Fold.vue';
import { locale, spoken, t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import type { IntakePreview } from '../../server/contract';
import type { Choice } from '#core/intake/index';
import type { ListProblem } from '#core/tabular/index';
import { linesOf } from '#core/intake/waiting';
import { useSession } from '@/stores/session';
import AskList from './AskList.vue';
import NewSchools from './NewSchools.vue';
import type { Only } from './rows';

const props = defineProps<{ data: IntakePreview; only: Only | null; pending: boolean; planning: boolean }>();
defineEmits<{
  only: [only: Only];
  takeAll: [code: string];
  plan: [];
  setAside: [];
  next: [];
  reread: [];
  pairs: [];
  answer: [line: number, field: string, choice: Choice | null];
}>();
const session = useSession();
const o = computed(() => props.data.outcome);
const counts = computed<[Only, string, number, string][]>(() =>
  o.value
    ? [
        [
          'new',
          t('intake.new'),
          o.value.fresh,
          o.value.newClasses.length ? t('intake.inNewClassesToo', { newClasses: o.value.newClasses.length }) : '',
        ],
        [
          'changed',
          t('intake.updated'),
          o.value.changed,
          o.value.byReason.map(({ reason, count }) => `${reason} ${count}`).join(' · '),
        ],
        ['same', t('intake.unchanged'), o.value.same, ''],
        ['waits', t('intake.needReview2'), o.value.waitingCount, ''],
      ]
    : [],
);
const problems = ref<HTMLElement | null>(null);
defineExpose({
  /** To the first problem that can be fixed for all rows at once; false: there is none. */
  toNextFix(): boolean {
    const button = problems.value?.querySelector('button');
    button?.focus();
    return Boolean(button);
  },
});
const words: Record<ListProblem, string> & Record<string, string> = {
  'number-short': t('intake.numbersWithoutLeadingZeros'),
  'number-form': t('intake.numbersInAnotherForm'),
  'digits-lost': t('intake.numbersThatLostDigits'),
  'no-number': t('intake.noNumber'),
  date: t('intake.impossibleDates'),
  'date-range': t('intake.datesOutOfRange'),
  grade: t('intake.noGrade'),
  'grade-range': t('intake.gradesNotTaughtHere'),
  role: t('intake.unknownRoles'),
  'role-guardian': t('intake.guardians'),
  'no-family-name': t('intake.noFamilyName'),
  'no-given-name': t('intake.noGivenName'),
  'mis-decoded': t('intake.damagedLettersInNames'),
  'digit-in-name': t('intake.digitsInNames'),
  capitals: t('intake.namesInCapitals'),
  email: t('intake.noEmailAddress'),
  duplicate: t('intake.duplicateNumbers'),
  ragged: t('intake.cellsInTheWrongColumn'),
  'too-long': t('intake.cellsThatAreTooLong'),
  vague: t('intake.noNumberAndNoBirthDate'),
  'left-out': t('intake.linesWithoutAPerson'),
  repeated: t('intake.duplicateRows'),
  formula: t('intake.formulasInPlaceOfNames'),
  'roster-reference': t('intake.referencesToMissingRecords'),
  'roster-required': t('intake.emptyFields'),
  'roster-value': t('intake.wordsThatAreNotIn'),
  'roster-duplicate': t('intake.duplicateRecords'),
  'roster-left-out': t('intake.skippedFiles'),
  'roster-manifest': t('intake.theManifest'),
  'roster-column': t('intake.columnsMissing'),
  'roster-encoding': t('intake.unreadableLetters'),
};
</script>

<template>
  <section
    class="outcome narrow gap-8px pt-12px pb-0 px-0 overflow-auto"
    :aria-label="t('intake.preview')"
    :aria-busy="pending"
  >
    <h2>{{ t('intake.preview') }}</h2>
    <ul class="counts">
      <li v-for="[key, label, count, detail] in counts" :key="key">
        <Button
          type="text"
          size="small"
          :aria-pressed="only === key"
          :class="{ chosen: only === key, none: count === 0 }"
          @click="$emit('only', key)"
        >
          <span
            ><b class="inline-block min-w-40px text-right">{{ count.toLocaleString(locale) }}</b> {{ label }}</span
          >
        </Button>
        <p v-if="detail" class="quiet pl-48px text-13px">{{ detail }}</p>
      </li>
      <li v-if="o && o.leaving.length > 0" class="rust">
        <Fold :label="`${o.leaving.length} ${t('intake.withdrawn')}`">
          <ul class="max-h-180px overflow-auto text-13px" tabindex="0">
            <li v-for="name in o.leaving" :key="name">{{ name }}</li>
          </ul>
        </Fold>
      </li>
    </ul>
    <div
      v-for="q in data.questions"
      :key="q.code"
      class="bg-straw-wash [border-left:4px_solid_var(--straw)] pt-6px pb-6px text-13px"
    >
      <b>{{ t('intake.needsAnAnswer') }}</b>
      <p>{{ q.message }}</p>
    </div>
    <div
      v-if="data.changedReading.length > 0"
      class="bg-straw-wash [border-left:4px_solid_var(--straw)] pt-6px pb-6px text-13px"
    >
      <b>{{ t('intake.differentFromThisFeedsLast') }}</b>
      <p v-for="text in data.changedReading" :key="text">{{ text }}</p>
    </div>
    <Button v-if="o && o.pairs > 0" size="small" class="pairs self-start mx-16px my-4px" @click="$emit('pairs')">
      <b>{{ t('intake.matchesToReview', { n: o.pairs }) }}</b></Button
    >
    <NewSchools
      v-if="o && o.newSchools.length > 0"
      :schools="o.newSchools"
      :may-make="session.may('schools.make')"
      @made="$emit('reread')"
    />
    <AskList v-if="o && o.asks.length > 0" :asks="o.asks" @answer="(...args) => $emit('answer', ...args)" />
    <div
      v-for="h in o?.held"
      :key="h.code"
      class="held bg-rust-wash pt-8px pb-8px text-13px [border-left:4px_solid_var(--rust)]"
    >
      <b>{{ t('intake.aGuardWillHoldIt') }}</b>
      <p>{{ h.message }}</p>
    </div>
    <template v-if="data.problems.total > 0">
      <h2>
        {{ t('intake.problemsIn', { rows: t('intake.countRows', { n: data.problems.rows }) }) }}
        <Button size="small" :aria-pressed="only === 'problems'" @click="$emit('only', 'problems')">
          {{ only === 'problems' ? t('intake.showAllRows') : t('intake.showThem') }}
        </Button>
      </h2>
      <ul ref="problems" class="problems">
        <li
          v-for="p in data.problems.byCode"
          :key="p.code"
          class="flex items-center min-h-24px gap-8px text-13px py-1px px-0 whitespace-nowrap"
        >
          <span class="clip grow"
            ><b class="inline-block min-w-24px text-right">{{ p.count.toLocaleString(locale) }}</b>
            {{ words[p.code] ?? p.code }}</span
          ><Button v-if="p.repairs > 0" size="small" @click="$emit('takeAll', p.code)">
            {{ t('intake.fix2', { n: p.repairs }) }}
          </Button>
        </li>
      </ul>
      <p class="quiet text-12px">
        <kbd>{{ t('intake.alt') }}</kbd> {{ t('intake.goesToTheNextOne') }}
      </p>
    </template>
    <template v-if="o && o.waitingCount > 0">
      <h2>{{ t('intake.needReview') }}</h2>
      <ul class="waiting text-13px">
        <li v-for="w in o.waiting" :key="w.line" class="py-3px px-0 faint-b">
          <span class="quiet">{{ spoken(linesOf(w)) }}</span> {{ w.message }}
        </li>
      </ul>
    </template>
    <span class="grow" />
    <footer class="sticky bottom-0 bg-paper ruled-t pt-8px pb-8px grid gap-6px text-13px">
      <p>{{ o?.sentence }}</p>
      <Button type="primary" block :loading="planning" :disabled="!o || o.changes === 0" @click="$emit('plan')"
        ><span
          >{{
            o && o.changes > 0
              ? t('intake.plan', { changes: t('common.countChanges', { n: o.changes }) })
              : t('intake.nothingToChange')
          }}
          <kbd v-if="o && o.changes > 0">{{ t('intake.ctrlEnter') }}</kbd></span
        ></Button
      >
      <Button v-if="data.head.status !== 'applied'" type="text" size="small" @click="$emit('setAside')">{{
        t('intake.discardImport')
      }}</Button>
    </footer>
  </section>
</template>

<style scoped>
.outcome > * {
  padding-left: 16px;
  padding-right: 16px;
}
.counts button {
  width: 100%;
  padding: 2px 4px;
  text-align: left;
}
.counts .none {
  color: var(--quiet);
}
.chosen {
  background: var(--ink);
  color: var(--paper);
}
footer kbd {
  color: inherit;
  margin-left: 6px;
}
</style>
