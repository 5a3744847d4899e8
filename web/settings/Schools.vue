<script setup lang="ts">
/** Schools, one a line, each cell edited in place; a form sets up another one. */
import { locale, t } from '@/words';
import { useChange } from '@/kit/change';
import Figures from '@/kit/Figures.vue';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { ref } from 'vue';
import { RouterLink } from 'vue-router';
import type { DistrictState, Way } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import { schoolKinds, taught } from './kinds';
import SchoolForm from './SchoolForm.vue';

type School = DistrictState['schools'][number];
type Field = 'name' | 'code' | 'kind' | 'lowGrade' | 'highGrade' | 'door' | 'ways' | 'cardText';
const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const allWays: [Way, string][] = [
  ['secret', t('district.password')],
  ['pictures', t('district.pictures')],
  ['card', t('district.card')],
  ...(props.state.signOn ? ([['sign-on', t('district.districtSignOn')]] as [Way, string][]) : []),
];

const change = useChange(async () => {
  await session.load();
  emit('changed');
});
async function set(school: School, field: Field, after: string | null): Promise<void> {
  const before = school[field];
  if (after === before) return;
  await change(
    () => call('POST /api/schools/:id/edit', { id: school.id, body: { field, before, after } }),
    t('district.isChanged', { name: school.name }),
  );
}
const offers = (school: School, way: Way) => school.ways === null || school.ways.split(',').includes(way);
function toggle(school: School, way: Way): void {
  const next = allWays.map(([key]) => key).filter((key) => (key === way ? !offers(school, key) : offers(school, key)));
  if (next.length > 0) void set(school, 'ways', next.length === allWays.length ? null : next.join(','));
}
const fresh = ref(false);
function made(): void {
  fresh.value = false;
  emit('changed');
}
</script>

<template>
  <section>
    <header class="row">
      <h1 class="grow">{{ t('district.schools') }}</h1>
      <Button v-if="session.may('schools.make') && !fresh" size="small" @click="fresh = true">
        {{ t('district.newSchool') }}
      </Button>
    </header>
    <SchoolForm v-if="fresh" class="max-w-900px" @made="made" @cancel="fresh = false" />
    <Figures
      class="wide w-full min-w-900px"
      :rows="state.schools"
      :row-key="(s) => s.id"
      :columns="[
        { key: 'name', title: t('common.name') },
        { key: 'code', title: t('district.identifier'), cellClass: () => 'short' },
        { key: 'kind', title: t('district.kind') },
        { key: 'grades', title: t('district.grades'), cellClass: () => 'nowrap' },
        { key: 'students', title: t('common.students'), number: true },
        { key: 'door', title: t('district.addressD'), cellClass: () => 'short' },
        { key: 'ways', title: t('district.signInOptions'), cellClass: () => 'nowrap' },
        { key: 'poster', title: t('district.signInAddressOnCards'), untitled: true },
      ]"
    >
      <template #name="{ row: s }">
        <TextInput
          lazy
          :value="s.name"
          :aria-label="t('district.nameOf2', { name: s.name })"
          maxlength="200"
          @update:value="(name) => set(s, 'name', name || null)"
        />
      </template>
      <template #code="{ row: s }">
        <TextInput
          class="mono"
          lazy
          :value="s.code ?? ''"
          :placeholder="t('common.none')"
          :aria-label="t('district.identifierOf', { name: s.name })"
          maxlength="20"
          @update:value="(code) => set(s, 'code', code || null)"
        />
      </template>
      <template #kind="{ row: s }">
        <Choice
          :value="s.kind"
          :aria-label="t('district.kindOf', { name: s.name })"
          @update:value="(v) => set(s, 'kind', v)"
        >
          <SelectOption v-for="(label, key) in schoolKinds" :key="key" :value="key">{{ label }}</SelectOption>
        </Choice>
      </template>
      <template #grades="{ row: s }">
        <span class="flex items-center gap-4px">
          <Choice
            :value="s.lowGrade"
            :aria-label="t('district.lowestGradeOf', { name: s.name })"
            @update:value="(v) => set(s, 'lowGrade', v)"
          >
            <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
          </Choice>
          –
          <Choice
            :value="s.highGrade"
            :aria-label="t('district.highestGradeOf', { name: s.name })"
            @update:value="(v) => set(s, 'highGrade', v)"
          >
            <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
          </Choice>
        </span>
      </template>
      <template #students="{ row: s }">{{ s.students.toLocaleString(locale) }}</template>
      <template #door="{ row: s }">
        <TextInput
          class="mono"
          lazy
          :value="s.door"
          :placeholder="t('common.none')"
          :aria-label="t('district.signInAddressOf', { name: s.name })"
          maxlength="30"
          @update:value="(door) => set(s, 'door', door || null)"
        />
      </template>
      <template #ways="{ row: s }">
        <Checkbox v-for="[way, label] in allWays" :key="way" :checked="offers(s, way)" @change="toggle(s, way)">
          {{ label }}</Checkbox
        >
      </template>
      <template #poster="{ row: s }">
        <RouterLink v-if="s.door" :to="`/wall/${s.door}`" :aria-label="t('district.posterFor', { name: s.name })">{{
          t('district.poster')
        }}</RouterLink>
      </template>
    </Figures>
  </section>
</template>

<style scoped>
.wide :deep(.short) {
  width: 110px;
}
.wide :deep(.ant-checkbox-wrapper) {
  margin-inline: 0 4px;
  font-size: 13px;
}
</style>
