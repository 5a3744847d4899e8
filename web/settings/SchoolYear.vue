<script setup lang="ts">
/** The district's time zone, and first and last day, terms and days off of its school year: edited here, changed by a plan. */
import { spoken, t } from '@/words';
import { useNow } from '@vueuse/core';
import { Alert, Button, Form, FormItem, Input, RangePicker } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { CalendarSheet } from '../../server/contract';
import { call } from '@/api';
import { useDraft } from '@/drafts';
import Choice from '@/kit/Choice.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { entities } from '#core/entities/index';
import { addDays, timeWords } from '#core/time/index';
import { calendarProblems, type Span } from '#core/year/calendar';
import { zones } from './zones';
import { useLoad } from '@/kit/load';

const session = useSession();
const work = useWork();
const router = useRouter();
const record = useLoad(t('district.theSchoolYear'), 'GET /api/school-year');
/** null: as it is on record. */
const { body: edited, clear } = useDraft<CalendarSheet | null>('school-year', () => null);
const form = computed(() => edited.value ?? record.data.value ?? null);
const mayChange = computed(() => session.may('settings.change'));
const problems = computed(() => (edited.value ? calendarProblems(edited.value).map(spoken) : []));
const now = useNow({ interval: 10_000 });
const there = computed(() => (form.value ? timeWords(form.value.zone, now.value.toISOString()) : ''));

function change(by: (next: CalendarSheet) => void): void {
  if (!form.value) return;
  const next = JSON.parse(JSON.stringify(form.value)) as CalendarSheet;
  by(next);
  edited.value = JSON.stringify(next) === JSON.stringify(record.data.value) ? null : next;
}
const longest = (of: 'term' | 'dayOff') => entities[of].fields.name.longest ?? undefined;
const lists = [
  { key: 'terms', title: t('district.terms'), one: t('district.term'), example: 'Fall', most: longest('term') },
  {
    key: 'daysOff',
    title: t('district.daysOff'),
    one: t('district.dayOff'),
    example: t('district.winterBreak'),
    most: longest('dayOff'),
  },
] as const;
const days = (span: Span, [begins, ends]: readonly string[]) => Object.assign(span, { begins, ends });
/** A new term begins after the last one; a day off is the first day, to be moved. */
function add(key: 'terms' | 'daysOff'): void {
  change((next) => {
    const { begins, ends } = next.year;
    const last = next.terms
      .map((term) => term.ends)
      .sort()
      .at(-1);
    const after = last && last < ends ? addDays(last, 1) : begins;
    next[key].push({ name: '', ...(key === 'terms' ? { begins: after, ends } : { begins, ends: begins }) });
  });
}
const busy = ref(false);
async function review(): Promise<void> {
  if (!edited.value) return;
  busy.value = true;
  try {
    const { planId } = await call('POST /api/school-year/plan', { body: edited.value });
    await clear();
    await router.push(`/plans/${planId}`);
  } catch (error) {
    work.wrong(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <section v-if="form" class="school-year">
    <h1>{{ t('district.schoolYear') }}</h1>
    <Form
      layout="vertical"
      class="head grid [grid-template-columns:repeat(auto-fit,minmax(min(100%,240px),1fr))] gap-y-4px gap-x-24px"
      :disabled="!mayChange"
    >
      <FormItem :label="t('district.timeZone')" html-for="zone" :extra="t('district.timeThere', { time: there })">
        <Choice
          id="zone"
          :disabled="!mayChange"
          :value="form.zone"
          :options="zones(form.zone)"
          @update:value="(zone) => change((next) => (next.zone = zone))"
        />
      </FormItem>
      <FormItem :label="t('district.schoolYear')" html-for="year-name">
        <Input
          id="year-name"
          :disabled="!mayChange"
          :maxlength="entities.year.fields.name.longest ?? undefined"
          :value="form.year.name"
          @update:value="(name) => change((next) => (next.year.name = name))"
        />
      </FormItem>
      <FormItem :label="t('district.firstAndLastDay')" html-for="year-days">
        <RangePicker
          id="year-days"
          :disabled="!mayChange"
          :allow-clear="false"
          :value="[form.year.begins, form.year.ends]"
          value-format="YYYY-MM-DD"
          format="MMM D, YYYY"
          @update:value="(both) => change((next) => days(next.year, both as unknown as string[]))"
        />
      </FormItem>
    </Form>
    <div class="lists grid gap-y-4px gap-x-24px [grid-template-columns:repeat(auto-fit,minmax(min(100%,440px),1fr))]">
      <section
        v-for="{ key, title, one, example, most } in lists"
        :key="key"
        class="grid gap-6px content-start justify-items-start"
        :aria-label="title"
      >
        <h2>{{ title }}</h2>
        <ul class="w-full grid gap-6px">
          <li
            v-for="(span, i) in form[key]"
            :key="i"
            class="span grid [grid-template-columns:minmax(90px,1fr)_minmax(230px,auto)_auto] gap-8px"
          >
            <Input
              :disabled="!mayChange"
              :maxlength="most"
              :value="span.name"
              :placeholder="example"
              :aria-label="t('district.nameOf', { one, i: i + 1 })"
              @update:value="(name) => change((next) => (next[key][i]!.name = name))"
            />
            <RangePicker
              :disabled="!mayChange"
              :allow-clear="false"
              :value="[span.begins, span.ends]"
              value-format="YYYY-MM-DD"
              format="MMM D, YYYY"
              :aria-label="t('district.firstAndLastDayOf', { i: span.name || `${one} ${i + 1}` })"
              @update:value="(both) => change((next) => days(next[key][i]!, both as unknown as string[]))"
            />
            <Button
              v-if="mayChange"
              type="text"
              :aria-label="t('district.remove', { i: span.name || `${one} ${i + 1}` })"
              @click="change((next) => next[key].splice(i, 1))"
              >{{ t('common.remove') }}</Button
            >
          </li>
        </ul>
        <p v-if="form[key].length === 0" class="quiet">
          {{ key === 'terms' ? t('district.noneYetTheYearCounts') : t('district.none') }}
        </p>
        <Button v-if="mayChange" @click="add(key)">{{ t('district.add', { one }) }}</Button>
      </section>
    </div>
    <Alert v-if="problems.length > 0" type="error" role="alert">
      <template #message>
        <p v-for="problem in problems" :key="problem">{{ problem }}</p>
      </template>
    </Alert>
    <div v-if="mayChange" class="row">
      <Button type="primary" :disabled="!edited || problems.length > 0" :loading="busy" @click="review">{{
        t('district.reviewThePlan')
      }}</Button>
      <Button v-if="edited" @click="clear">{{ t('district.discardChanges') }}</Button>
    </div>
  </section>
</template>

<style scoped>
.school-year {
  display: grid;
  gap: 12px;
}
@media (max-width: 520px) {
  .span {
    grid-template-columns: 1fr auto;
  }
  .span > :nth-child(2) {
    grid-row: 2;
    grid-column: 1 / -1;
  }
}
</style>
