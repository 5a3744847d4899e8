<script setup lang="ts">
/** What a teacher says of each student for next year's classes; kept as it is chosen. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import Figures from '@/kit/Figures.vue';
import Head from '@/kit/Head.vue';
import { Radio, RadioGroup, SelectOption } from 'ant-design-vue';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import type { PlacementNotes } from '../../server/contract';
import { call } from '@/api';
import { useLoad } from '@/kit/load';
import { useWork } from '@/stores/work';
import { bandWords } from '#core/use/index';

type Student = PlacementNotes['students'][number];
const id = String(useRoute().params.id);
const work = useWork();
const query = useLoad(t('classes.forNextYear'), 'GET /api/classes/:id/notes', { id });
const students = computed(() => query.data.value?.students ?? []);
const said = computed(() => students.value.filter(({ level, support }) => level !== null || support !== null).length);
async function keep(student: Student, change: Partial<Pick<Student, 'level' | 'support'>>): Promise<void> {
  const { level, support } = { ...student, ...change };
  try {
    await call('POST /api/classes/:id/notes', { id, body: { personId: student.id, level, support } });
  } catch (error) {
    work.wrong(error);
  }
  await query.refetch();
}
/** As products report them, so that both are balanced as one. */
const levels = [
  [bandWords[1], t('people.skillNotYet')],
  [bandWords[2], t('people.skillNearly')],
  [bandWords[3], t('people.skillReached')],
] as const;
const nameOf = ({ givenName, familyName }: Student) => `${givenName} ${familyName}`;
</script>

<template>
  <div class="flex flex-col min-h-0">
    <Head
      :title="t('classes.forNextYear')"
      :count="t('classes.notedOf', { name: query.data.value?.name ?? '', n: said, of: students.length })"
    />
    <div class="overflow-auto py-12px px-16px grid gap-12px content-start justify-items-start">
      <p class="quiet max-w-640px">{{ t('classes.forNextYearHint') }}</p>
      <Figures
        v-if="students.length > 0"
        :rows="students"
        :row-key="(one) => one.id"
        :columns="[
          { key: 'name', title: t('year.student'), heading: true },
          { key: 'level', title: t('year.level') },
          { key: 'support', title: t('year.support') },
        ]"
      >
        <template #name="{ row }">{{ row.familyName }}, {{ row.givenName }}</template>
        <template #level="{ row }">
          <Choice
            class="w-150px"
            :value="row.level ?? ''"
            :aria-label="t('classes.levelFor', { name: nameOf(row) })"
            @update:value="(level) => keep(row, { level: level || null })"
          >
            <SelectOption value="">{{ t('classes.notSaid') }}</SelectOption>
            <SelectOption v-for="[word, label] in levels" :key="word" :value="word">{{ label }}</SelectOption>
          </Choice>
        </template>
        <template #support="{ row }">
          <RadioGroup
            :value="row.support === null ? '' : row.support ? 'yes' : 'no'"
            :aria-label="t('classes.supportFor', { name: nameOf(row) })"
            @update:value="(is) => keep(row, { support: is === '' ? null : is === 'yes' })"
          >
            <Radio value="">{{ t('classes.notSaid') }}</Radio>
            <Radio value="yes">{{ t('classes.yes') }}</Radio>
            <Radio value="no">{{ t('classes.no') }}</Radio>
          </RadioGroup>
        </template>
      </Figures>
      <p v-else-if="query.data.value" class="quiet">{{ t('classes.noStudentsToNote') }}</p>
    </div>
  </div>
</template>
