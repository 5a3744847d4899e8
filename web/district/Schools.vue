<script setup lang="ts">
/** Schools, one a line, each cell edited in place; the last line sets up another one. */
import { locale, t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { reactive, ref } from 'vue';
import { RouterLink } from 'vue-router';
import type { DistrictState, Way } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { gradeLabel, grades } from '#core/tabular/values';

type School = DistrictState['schools'][number];
type Field = 'name' | 'code' | 'kind' | 'lowGrade' | 'highGrade' | 'door' | 'ways' | 'cardText';
const props = defineProps<{ state: DistrictState }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const work = useWork();
const taught = grades.slice(2);
const kinds = {
  primary: t('district.primary'),
  k8: 'K–8',
  middle: t('district.middle'),
  high: t('district.high'),
  evening: t('district.evening'),
};
const allWays: [Way, string][] = [
  ['secret', t('district.password')],
  ['pictures', t('district.pictures')],
  ['card', t('district.card')],
  ...(props.state.signOn ? ([['sign-on', t('district.districtSignOn')]] as [Way, string][]) : []),
];

async function set(school: School, field: Field, after: string | null): Promise<void> {
  const before = school[field];
  if (after === before) return;
  try {
    const { planId } = await call('POST /api/schools/:id/edit', { id: school.id, body: { field, before, after } });
    work.say(t('district.isChanged', { name: school.name }), {
      label: t('common.undo'),
      run: () => void work.undo(planId).then(() => emit('changed')),
    });
  } catch (error) {
    work.wrong(error);
  }
  await session.load();
  emit('changed');
}
const typed = (event: Event) => (event.target as HTMLInputElement).value.trim() || null;
const offers = (school: School, way: Way) => school.ways === null || school.ways.split(',').includes(way);
function toggle(school: School, way: Way): void {
  const next = allWays.map(([key]) => key).filter((key) => (key === way ? !offers(school, key) : offers(school, key)));
  if (next.length > 0) void set(school, 'ways', next.length === allWays.length ? null : next.join(','));
}
const fresh = ref(false);
const form = reactive({ name: '', code: '', kind: 'primary', lowGrade: 'KG', highGrade: '05', door: '' });
async function make(): Promise<void> {
  try {
    const { planId } = await call('POST /api/schools', { body: { ...form, door: form.door || null } });
    work.say(t('district.isSetUp', { name: form.name }), {
      label: t('common.undo'),
      run: () => void work.undo(planId).then(() => emit('changed')),
    });
    Object.assign(form, { name: '', code: '', door: '' });
    fresh.value = false;
    await session.load();
    emit('changed');
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section>
    <header class="row">
      <h2 class="grow">{{ t('district.schools') }}</h2>
      <Button v-if="session.may('schools.make') && !fresh" size="small" @click="fresh = true">
        {{ t('district.newSchool') }}
      </Button>
    </header>
    <table>
      <thead>
        <tr>
          <th scope="col">{{ t('common.name') }}</th>
          <th scope="col">{{ t('district.code') }}</th>
          <th scope="col">{{ t('district.kind') }}</th>
          <th scope="col">{{ t('district.grades') }}</th>
          <th scope="col" class="num">{{ t('common.students') }}</th>
          <th scope="col">{{ t('district.addressD') }}</th>
          <th scope="col">{{ t('district.signInOptions') }}</th>
          <th scope="col" colspan="2">{{ t('district.signInAddressOnCards') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in state.schools" :key="s.id">
          <td>
            <input
              :value="s.name"
              :aria-label="t('district.nameOf2', { name: s.name })"
              maxlength="200"
              @change="set(s, 'name', typed($event))"
            />
          </td>
          <td class="short">
            <input
              :value="s.code"
              class="mono"
              :aria-label="t('district.codeOf', { name: s.name })"
              maxlength="20"
              @change="set(s, 'code', typed($event))"
            />
          </td>
          <td>
            <Choice
              :value="s.kind"
              :aria-label="t('district.kindOf', { name: s.name })"
              @update:value="(v) => set(s, 'kind', v)"
            >
              <SelectOption v-for="(label, key) in kinds" :key="key" :value="key">{{ label }}</SelectOption>
            </Choice>
          </td>
          <td class="grades">
            <Choice
              :value="s.lowGrade"
              :aria-label="t('district.lowestGradeOf', { name: s.name })"
              @update:value="(v) => set(s, 'lowGrade', v)"
            >
              <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption></Choice
            >–<Choice
              :value="s.highGrade"
              :aria-label="t('district.highestGradeOf', { name: s.name })"
              @update:value="(v) => set(s, 'highGrade', v)"
            >
              <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
            </Choice>
          </td>
          <td class="num">{{ s.students.toLocaleString(locale) }}</td>
          <td class="short">
            <input
              :value="s.door ?? ''"
              class="mono"
              :placeholder="t('common.none')"
              :aria-label="t('district.signInAddressOf', { name: s.name })"
              maxlength="30"
              @change="set(s, 'door', typed($event))"
            />
          </td>
          <td class="ways">
            <Checkbox v-for="[way, label] in allWays" :key="way" :checked="offers(s, way)" @change="toggle(s, way)">
              {{ label }}</Checkbox
            >
          </td>
          <td>
            <RouterLink v-if="s.door" :to="`/wall/${s.door}`" :aria-label="t('district.posterFor', { name: s.name })">{{
              t('district.poster')
            }}</RouterLink>
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="fresh" class="row new" @submit.prevent="make" @keydown.esc="fresh = false">
      <label>{{ t('district.name') }} <TextInput v-model:value="form.name" required maxlength="200" /></label>
      <label
        >{{ t('district.code2') }} <TextInput v-model:value="form.code" class="few" required maxlength="20"
      /></label>
      <label
        >{{ t('district.kind2') }}
        <Choice v-model:value="form.kind">
          <SelectOption v-for="(label, key) in kinds" :key="key" :value="key">{{ label }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('district.grades2') }}
        <Choice v-model:value="form.lowGrade">
          <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
        </Choice>
        {{ t('district.to') }}
        <Choice v-model:value="form.highGrade" :aria-label="t('district.highestGrade')">
          <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
        </Choice></label
      >
      <label>{{ t('district.address') }} <TextInput v-model:value="form.door" class="few" maxlength="30" /></label>
      <Button type="primary" html-type="submit">{{ t('district.createSchool') }}</Button>
      <Button type="text" size="small" @click="fresh = false">{{ t('common.back') }}</Button>
    </form>
  </section>
</template>

<style scoped>
table {
  border-collapse: collapse;
  width: 100%;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
th {
  text-align: left;
  font-weight: 400;
  font-size: 13px;
  color: var(--quiet);
  background: var(--fog);
}
td,
th {
  padding: 2px 8px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
td input:not([type='checkbox']) {
  font: inherit;
  color: inherit;
  width: 100%;
  border: 0;
  border-bottom: 1px solid transparent;
  background: transparent;
  padding: 3px 2px;
}
td input:hover {
  border-color: var(--rule);
}
.short {
  width: 110px;
}
.short input {
  font-family: var(--mono);
}
.num {
  text-align: right;
}
.grades {
  white-space: nowrap;
}
.ways {
  font-size: 13px;
  white-space: nowrap;
}
.ways :deep(.ant-checkbox-wrapper) {
  margin-inline: 0 4px;
  font-size: 13px;
}
.few {
  width: 90px;
}
.new {
  margin-top: 8px;
  flex-wrap: wrap;
  gap: 8px 14px;
  font-size: 13px;
}
</style>
