<script setup lang="ts">
/**
 * One grade split into classes: the children with what is balanced, by hand (a number key puts the one under the
 * cursor into that class, where they stay) and by itself; beside it how even the classes are. Kept as it is changed.
 */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, Progress, RadioButton, RadioGroup, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { useLocalStorage } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import { timeWords } from '@/time';
import { useCarryOut } from '@/frame/keys';
import { gradeLabel } from '#core/tabular/values';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import SectionColumns from './SectionColumns.vue';
import SectionClasses from './SectionClasses.vue';
import { names, useSections, useSplitting } from './sections';
import SectionWishes from './SectionWishes.vue';

const [schoolId, grade] = String(useRoute().params.key).split(':') as [string, string];
const sections = useSections(schoolId, grade);
const {
  query,
  split,
  savedAt,
  unsaved,
  children,
  school,
  levelOf,
  supportOf,
  balanced,
  score,
  labelOf,
  broken,
  put,
  loose,
  mark,
} = sections;
const { progress, run, stop } = useSplitting(sections);
useCarryOut(run);

const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
watch(
  () => children.value.length > 0,
  (there) => there && setTimeout(() => sheet.value?.focus(), 0),
  { immediate: true },
);
function key123(event: KeyboardEvent): void {
  const room = Number(event.key) - 1;
  if (
    !focused.value ||
    event.ctrlKey ||
    event.altKey ||
    event.metaKey ||
    (event.target as HTMLElement).closest('input, select')
  )
    return;
  if (event.key === '0') put(focused.value, null);
  else if (room >= 0 && room < Math.min(9, split.classes.length)) put(focused.value, room);
}
const shown = computed(() =>
  [...children.value].sort((a, b) => (split.placed[a.id] ?? -1) - (split.placed[b.id] ?? -1)),
);
const byName = ref(true);
const shape = useLocalStorage<'list' | 'columns'>('sections', 'list');
const rows = computed(() => (byName.value ? children.value : shown.value));
const columns: Col[] = [
  { key: 'name', label: t('year.student'), width: 'minmax(150px, 1.5fr)' },
  { key: 'from', label: t('year.from2'), width: '58px' },
  { key: 'level', label: t('year.level2'), width: '74px' },
  { key: 'language', label: t('year.language2'), width: '72px' },
  { key: 'support', label: t('year.support2'), width: '66px' },
  { key: 'class', label: t('common.class'), width: 'minmax(92px, 0.8fr)' },
  { key: 'stays', label: t('year.byHand'), width: '72px' },
];
</script>

<template>
  <div v-if="query.data.value" class="flex min-h-0">
    <section class="[flex:1_1_54%] min-w-0 flex flex-col" @keydown="key123">
      <div class="line flex gap-12px items-center py-5px px-16px text-13px ruled-b">
        <RouterLink to="/year/sections">{{ t('year.allGrades') }}</RouterLink>
        <h1 class="name">{{ t('year.grade4', { grade: gradeLabel(query.data.value.grade), school }) }}</h1>
        <span class="quiet">{{ t('year.students', { children: children.length }) }}</span>
        <span class="grow" />
        <Checkbox v-if="shape === 'list'" v-model:checked="byName" class="row"> {{ t('year.byName') }}</Checkbox>
        <RadioGroup v-model:value="shape" size="small" button-style="solid" :aria-label="t('year.shownAs')">
          <RadioButton value="list">{{ t('year.asList') }}</RadioButton>
          <RadioButton value="columns">{{ t('year.asColumns') }}</RadioButton>
        </RadioGroup>
        <span class="quiet" role="status">{{
          unsaved
            ? t('year.saving')
            : savedAt
              ? t('year.saved', { slice: timeWords(savedAt) })
              : t('year.nothingSavedYet')
        }}</span>
      </div>
      <SectionColumns v-if="shape === 'columns'" :sections="sections" class="flex-1" @focus="focused = $event" />
      <Worksheet
        v-else
        ref="sheet"
        v-model:focused="focused"
        class="flex-1 min-h-0"
        :label="t('year.gradeOf', { grade: gradeLabel(query.data.value.grade), school })"
        :rows="rows"
        :columns="columns"
        :empty="t('year.noOneComesIntoThis')"
      >
        <template #name="{ row }"
          ><span class="clip" :title="`${row.familyName}, ${row.givenName}`"
            >{{ row.familyName }}, {{ row.givenName }}</span
          ><span v-if="row.twins.length > 0" class="quiet"> {{ t('year.twin') }}</span></template
        >
        <template #level="{ row }"
          ><TextInput
            class="cell"
            lazy
            tabindex="-1"
            maxlength="20"
            :value="levelOf(row)"
            :aria-label="t('year.levelOf', { givenName: row.givenName, familyName: row.familyName })"
            @update:value="(level) => mark(row.id, { level: level ?? '' })"
        /></template>
        <template #support="{ row }"
          ><Checkbox
            tabindex="-1"
            :checked="supportOf(row) === 'support'"
            :aria-label="t('year.hasSupport', { givenName: row.givenName, familyName: row.familyName })"
            @update:checked="(support: boolean) => mark(row.id, { support })"
        /></template>
        <template #class="{ row }"
          ><Choice
            tabindex="-1"
            :value="split.placed[row.id] ?? ''"
            :aria-label="t('year.classOf', { givenName: row.givenName, familyName: row.familyName })"
            @update:value="(room) => put(row.id, room === '' ? null : Number(room))"
          >
            <SelectOption value="">{{ t('year.noneYet') }}</SelectOption>
            <SelectOption v-for="(c, room) in split.classes" :key="room" :value="room">{{ c.name }}</SelectOption>
          </Choice></template
        >
        <template #stays="{ row }"
          ><Button
            v-if="split.fixed.includes(row.id)"
            size="small"
            tabindex="-1"
            :aria-label="t('year.release', { givenName: row.givenName, familyName: row.familyName })"
            @click.stop="loose(row.id)"
          >
            {{ t('year.release2') }}
          </Button></template
        >
      </Worksheet>
      <div class="row py-4px px-16px text-13px ruled-t">
        <span class="quiet grow">{{ t('year.1ToPutsTheStudent', { min: Math.min(9, split.classes.length) }) }}</span>
        <ExportLine v-if="!unsaved" list="sections" :filter="{ school: schoolId, grade }" />
      </div>
    </section>
    <section
      class="beside [flex:1_1_46%] min-w-0 overflow-auto ruled-l bg-sheet pt-8px pb-16px px-16px grid gap-8px content-start justify-items-start"
      :aria-label="t('year.theClasses')"
    >
      <div class="flex gap-12px items-center">
        <Button v-if="!progress" type="primary" :disabled="children.length === 0" @click="run"
          ><span>
            {{ t('year.splitStudents', { fixed: children.length - split.fixed.length }) }}
            <kbd>{{ t('year.ctrlEnter') }}</kbd></span
          >
        </Button>
        <template v-else>
          <Progress
            class="w-160px"
            size="small"
            :percent="Math.round(progress.share * 100)"
            :show-info="false"
            :aria-label="t('year.splitting')"
          />
          <Button @click="stop">{{ t('year.stop') }}</Button>
        </template>
        <span role="status">
          <template v-if="progress">{{
            progress.best < 1e6 ? t('year.bestSoFar', { toFixed: progress.best.toFixed(1) }) : t('year.beginning')
          }}</template>
          <template v-else-if="score"
            >{{ t('year.score') }} <b>{{ score.total.toFixed(1) }}</b>{{
              t('year.text0WouldBePerfectlyEven', {
                toFixed: balanced.map((a, i) => `${names[a]} ${score!.uneven[i]!.toFixed(1)}`).join(', '),
                broken: score.broken.length > 0 ? t('year.requestsNotMet', { broken: score.broken.length }) : '',
              })
            }}</template
          >
          <template v-else>{{
            t('year.areNotInAClass', { undefined: children.filter(({ id }) => split.placed[id] === undefined).length })
          }}</template>
        </span>
      </div>
      <p v-for="w in broken" :key="w.a + w.b" class="rust">
        {{
          t('year.andAre', {
            a: labelOf(w.a),
            b: labelOf(w.b),
            together: w.together ? t('year.apart') : t('year.together'),
          })
        }}
      </p>
      <SectionClasses :sections="sections" />
      <SectionWishes :sections="sections" />
      <p class="quiet text-13px">
        {{ t('year.theRollOverPutsEach') }}
      </p>
    </section>
  </div>
</template>
