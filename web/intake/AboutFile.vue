<script setup lang="ts">
/** Which school, class and grade a file is about where it does not say so itself, and whether it is a complete list. */
import { Checkbox, SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import { fold } from '#core/names/index';
import type { Column } from '#core/tabular/index';
import { gradeLabel, grades } from '#core/tabular/values';
import type { Draft, IntakePreview } from '../../server/contract';
import Choice from '@/kit/Choice.vue';
import { useLoad } from '@/kit/load';
import Suggest from '@/kit/Suggest.vue';
import { useSession } from '@/stores/session';
import { t } from '@/words';
import ClassPicks from './ClassPicks.vue';

const props = defineProps<{ data: IntakePreview; draft: Draft; columns: readonly Column[] }>();
const emit = defineEmits<{ change: [edit: (draft: Draft) => void] }>();
const change = (edit: (draft: Draft) => void) => emit('change', edit);
const session = useSession();
const titles = computed(() =>
  (props.data.titles ?? [])
    .map((cells) => cells.filter(Boolean).join(' '))
    .filter(Boolean)
    .join(' / '),
);

const has = (field: string) => props.columns.some((column) => column.field === field);
/** What is said of all rows, for which the file has no column. */
const ofAllRows = (some: NonNullable<Draft['whole']>) =>
  change((d) => {
    d.whole = { ...d.whole, ...some };
  });
const names = useLoad(t('intake.classes'), 'GET /api/classes/names', () => ({
  query: { school: props.draft.schoolId ?? undefined },
}));
const homeroomsLike = computed(() => {
  const typed = fold(props.draft.whole?.className ?? '');
  return (names.data.value ?? [])
    .filter(({ subject, name }) => !subject && fold(name).startsWith(typed))
    .map(({ name }) => ({ value: name }));
});
</script>

<template>
  <span>{{ data.bundle ? t('intake.thisFileIsAboutThe') : t('intake.thisFileIsAbout') }}</span>
  <Choice
    v-if="!data.bundle"
    :aria-label="t('intake.schoolOfThisFile')"
    :value="draft.schoolId ?? ''"
    @update:value="
      (schoolId) =>
        change((d) => {
          d.schoolId = schoolId || null;
          if (!d.schoolId) d.complete = false;
        })
    "
  >
    <SelectOption value="">
      {{ columns.some((c) => c.field === 'schoolName') ? t('intake.theSchoolsInItsColumn') : t('intake.noSchoolYet') }}
    </SelectOption>
    <SelectOption v-for="s in session.me?.schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
  </Choice>
  <template v-if="!data.bundle">
    <label v-if="!has('className')"
      >{{ t('intake.classOfAllRows') }}
      <Suggest
        class="whole"
        :value="draft.whole?.className ?? ''"
        :options="homeroomsLike"
        :placeholder="t('common.none')"
        :aria-label="t('intake.classOfAllRows')"
        @update:value="(className) => ofAllRows({ className: className || undefined })"
    /></label>
    <label v-if="!has('grade')"
      >{{ t('intake.gradeOfAllRows') }}
      <Choice
        :value="draft.whole?.grade ?? ''"
        :aria-label="t('intake.gradeOfAllRows')"
        @update:value="(grade) => ofAllRows({ grade: grade || undefined })"
      >
        <SelectOption value="">{{ t('common.none') }}</SelectOption>
        <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
      </Choice></label
    >
  </template>
  <Checkbox
    :checked="draft.complete"
    :disabled="!draft.schoolId && !data.bundle"
    @change="
      change((d) => {
        d.complete = !d.complete;
      })
    "
    >{{ t('intake.completeListForTheSchool', { of: data.bundle ? 'many' : 'one' }) }}</Checkbox
  >
  <ClassPicks
    v-if="data.bundle"
    :classes="data.bundle.classes"
    :chosen="draft.classes ?? null"
    @choose="
      change((d) => {
        if ($event) d.classes = $event;
        else delete d.classes;
      })
    "
  />
  <span v-if="titles" class="quiet clip max-w-300px" :title="titles">{{
    t('intake.aboveTheHeadings', { titles })
  }}</span>
</template>
