<script setup lang="ts">
/**
 * People typed in, one or a few: lines that go the way of any file, so that someone alike is found, the plan is seen
 * and all can be undone. What is typed stays here until it is taken in.
 */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import Suggest from '@/kit/Suggest.vue';
import TextInput from '@/kit/TextInput.vue';
import { fold } from '#core/names/index';
import Papa from 'papaparse';
import { useMediaQuery } from '@vueuse/core';
import { computed, nextTick, ref } from 'vue';
import { useRouter } from 'vue-router';
import { useCarryOut } from '@/frame/keys';
import { upload } from '@/api';
import { useDraft } from '@/drafts';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { template } from '#core/tabular/template';
import { onShown, useLoad } from '@/kit/load';

defineEmits<{ close: [] }>();
const session = useSession();
const work = useWork();
const router = useRouter();
const columns = [
  ['familyName', t('intake.familyName'), '1.2fr'],
  ['givenName', t('intake.givenName'), '1.2fr'],
  ['className', t('common.class'), '0.8fr'],
  ['grade', t('common.grade'), '0.5fr'],
  ['number', t('common.number'), '0.8fr'],
  ['birthDate', t('intake.birthDate'), '1fr'],
  ['guardianEmail', t('intake.guardiansEmail'), '1.5fr'],
] as const;
type Typed = Record<(typeof columns)[number][0], string>;
const blank = (): Typed => ({
  familyName: '',
  givenName: '',
  birthDate: '',
  number: '',
  grade: '',
  className: '',
  guardianEmail: '',
});
const { body: typed, state: kept, clear } = useDraft<Typed[]>('new-students', () => [blank()]);
const schoolId = ref(session.usualSchool);
const school = computed(() => session.me?.schools.find(({ id }) => id === schoolId.value));
const classes = useLoad(t('intake.classes'), 'GET /api/classes/names', () => ({
  query: { school: schoolId.value || undefined },
}));
const homerooms = computed(() => (classes.data.value ?? []).filter(({ subject }) => !subject));
/** Until a school is chosen, classes are told with theirs: choosing one chooses it. */
const homeroomsLike = (typed: string) =>
  homerooms.value
    .filter(({ name }) => fold(name).startsWith(fold(typed)))
    .map(({ name, school: at }) => ({ value: school.value ? name : t('intake.classAtSchool', { name, school: at }) }));
function chooseClass(row: Typed, chosen: string): void {
  if (school.value) return;
  const one = homerooms.value.find(
    ({ name, school: at }) => t('intake.classAtSchool', { name, school: at }) === chosen,
  );
  const its = session.me?.schools.find(({ name }) => name === one?.school);
  if (!one || !its) return;
  schoolId.value = its.id;
  row.className = one.name;
}
const filled = computed(() => typed.value.filter((row) => Object.values(row).some((value) => value.trim() !== '')));

const box = ref<HTMLElement | null>(null);
const focusRow = (i: number) => box.value?.querySelector<HTMLInputElement>(`[data-row="${i}"] input`)?.focus();
onShown(() => focusRow(0));
async function next(i: number): Promise<void> {
  if (i === typed.value.length - 1) typed.value = [...typed.value, blank()];
  await nextTick();
  focusRow(i + 1);
}
function drop(i: number): void {
  typed.value = typed.value.length === 1 ? [blank()] : typed.value.filter((_, k) => k !== i);
}

/** On a phone the fields of a line stand two by two, each with its name in it. */
const isNarrow = useMediaQuery('(max-width: 700px)');

const busy = ref(false);
async function takeIn(): Promise<void> {
  if (busy.value || filled.value.length === 0 || !schoolId.value) return;
  busy.value = true;
  try {
    // A column in which nothing was typed says nothing.
    const used = columns.filter(([key]) => filled.value.some((row) => row[key].trim() !== ''));
    const header = [...used.map(([key]) => template[key]), template.schoolName];
    const rows = filled.value.map((row) => [...used.map(([key]) => row[key].trim()), school.value?.name ?? '']);
    const text = Papa.unparse([header, ...rows]);
    const { id } = await upload(new Blob([text]), `${t('intake.newStudents')}, ${session.me?.today}.csv`);
    await clear();
    await router.push(`/imports/${id}`);
  } catch (error) {
    work.wrong(error);
  } finally {
    busy.value = false;
  }
}
useCarryOut(takeIn, { first: true });
</script>

<template>
  <section
    ref="box"
    class="typed ordering [border-bottom:2px_solid_var(--ink)] max-h-60vh overflow-auto"
    :aria-label="t('intake.newPeople')"
    @keydown.esc.stop="$emit('close')"
  >
    <div class="row flex-wrap">
      <h2>{{ t('intake.newStudents') }}</h2>
      <label class="quiet"
        >{{ t('intake.school') }}
        <Choice v-model:value="schoolId" :placeholder="t('intake.chooseASchool')">
          <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <span class="quiet">{{ t('intake.aNameAndAClass') }}</span>
      <span class="grow" />
      <span v-if="kept === 'failed'" class="rust" role="status">{{ t('intake.draftNotSavedTheServer') }}</span>
      <Button type="text" size="small" @click="$emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('intake.esc') }}</kbd></span
        ></Button
      >
    </div>
    <div
      v-if="!isNarrow"
      class="head quiet grid gap-6px py-4px px-0 text-13px mt-8px"
      :style="{ gridTemplateColumns: `${columns.map(([, , w]) => w).join(' ')} 28px` }"
    >
      <span v-for="[key, label] in columns" :key="key">{{ label }}</span>
    </div>
    <div
      v-for="(row, i) in typed"
      :key="i"
      class="grid gap-6px py-4px px-0"
      :data-row="i"
      :style="{ gridTemplateColumns: isNarrow ? '1fr 1fr' : `${columns.map(([, , w]) => w).join(' ')} 28px` }"
    >
      <template v-for="[key, label] in columns" :key="key">
        <div v-if="key === 'className'" @keydown.enter.exact="next(i)">
          <Suggest
            v-model:value="row.className"
            :options="homeroomsLike(row.className)"
            :placeholder="isNarrow ? label : undefined"
            :aria-label="t('intake.line', { label, i: i + 1 })"
            @select="(chosen) => chooseClass(row, chosen)"
          />
        </div>
        <TextInput
          v-else
          v-model:value="row[key]"
          autocomplete="off"
          :placeholder="isNarrow ? label : undefined"
          :aria-label="t('intake.line', { label, i: i + 1 })"
          @keydown.enter.exact.prevent="next(i)"
        />
      </template>
      <Button type="text" size="small" :aria-label="t('intake.removeLine', { i: i + 1 })" @click="drop(i)">×</Button>
    </div>
    <div class="row flex-wrap foot mt-6px">
      <span class="quiet grow"
        ><kbd>{{ t('intake.enter') }}</kbd> {{ t('intake.startsTheNextLineWhat') }}</span
      >
      <span v-if="filled.length > 0 && !schoolId" class="rust" role="status">{{ t('intake.chooseASchoolFirst') }}</span>
      <Button type="primary" :disabled="filled.length === 0 || !schoolId || busy" @click="takeIn"
        ><span
          >{{ t('intake.continueWith', { filled: filled.length }) }} <kbd>{{ t('intake.ctrlEnter') }}</kbd></span
        ></Button
      >
    </div>
  </section>
</template>

<style scoped>
.row {
  gap: 16px;
}
.foot :deep(kbd),
.row kbd {
  color: inherit;
}
</style>
