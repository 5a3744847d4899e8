<script setup lang="ts">
/** Setting work: for which classes, what, from when to when and under which conditions, all on one sheet. */
import { t } from '@/words';
import DayInput from '@/kit/DayInput.vue';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOptGroup, SelectOption } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, reactive, ref, watch } from 'vue';
import { call } from '@/api';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { answersShown } from '#core/entities/index';
import { fold } from '#core/names/index';
import { fromField, nowThere, toField } from '@/fields';
import { useUnsaved } from '@/kit/unsaved';
import { onShown, useLoad, useLoadOf } from '@/kit/load';

const emit = defineEmits<{ close: []; made: [] }>();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const narrow = ref('');
const classes = useLoad(t('materials.classes'), 'GET /api/classes', () => ({
  query: { school: session.where.school ?? undefined, grade: session.where.grade ?? undefined },
}));
/** Class to group, or to null for all of it. */
const targets = reactive(new Map<string, string | null>());
if (session.where.classId) targets.set(session.where.classId, null);
// Whoever has one class means it.
watch(classes.data, (all) => {
  if (all?.length === 1 && targets.size === 0 && narrow.value === '') targets.set(all[0]!.id, null);
});
const shown = computed(() => {
  const words = narrow.value.split(/\s+/).map(fold);
  const holds = (text: string) => words.every((word) => text.includes(word));
  const all = classes.data.value ?? [];
  return all.filter(({ id, name, school }) => targets.has(id) || holds(fold(`${name} ${school}`))).slice(0, 60);
});
const first = computed(() => [...targets.keys()][0] ?? null);
const materials = useLoad(
  t('materials.materials'),
  'GET /api/materials',
  () => ({ query: { classId: first.value ?? undefined } }),
  {
    enabled: () => first.value !== null,
    keep: false,
  },
);
const byProduct = computed(() => {
  const found = new Map<string, NonNullable<typeof materials.data.value>>();
  for (const one of materials.data.value ?? []) found.set(one.product, [...(found.get(one.product) ?? []), one]);
  return [...found];
});
const groups = useLoadOf(
  t('materials.groups'),
  ['GET /api/groups', t('materials.ofClasses'), computed(() => [...targets.keys()].join())],
  async () =>
    (await Promise.all([...targets.keys()].map((classId) => call('GET /api/groups', { query: { classId } })))).flat(),
);
let isSaved = false;
useUnsaved(() => !isSaved && form.title.trim() !== '');
const form = reactive({
  materialId: '',
  title: '',
  opens: toField(nowThere()),
  due: '',
  closes: '',
  minutes: '' as number | '',
  entryWord: '',
  answers: 'done' as (typeof answersShown)[number],
  library: false,
  gathered: false,
});
const material = computed(() => materials.data.value?.find(({ id }) => id === form.materialId) ?? null);
watch(material, (one, before) => {
  if (one && (!form.title || form.title === before?.title)) form.title = one.title;
});
async function toMidway(field: 'opens' | 'due', hour: string): Promise<void> {
  try {
    form[field] = `${(await call('GET /api/work/midway')).day}T${hour}`;
  } catch (error) {
    work.wrong(error);
  }
}
function toggle(id: string): void {
  if (targets.has(id)) targets.delete(id);
  else targets.set(id, null);
}
const box = ref<HTMLInputElement | null>(null);
onShown(() => box.value?.focus());
const count = computed(() => targets.size);
async function set(): Promise<void> {
  if (!form.materialId || count.value === 0) return;
  try {
    const { planId, sentence } = await call('POST /api/work', {
      body: {
        materialId: form.materialId,
        fields: {
          title: form.title,
          opensAt: fromField(form.opens) ?? nowThere(),
          dueAt: form.library ? null : fromField(form.due),
          closesAt: fromField(form.closes),
          minutes: Number(form.minutes) || null,
          entryWord: form.entryWord.trim() || null,
          paused: 0,
          answers: form.answers,
          library: form.library ? 1 : null,
        },
        targets: [...targets].map(([classId, groupId]) => ({ classId, groupId })),
        gathered: form.gathered,
      },
    });
    isSaved = true;
    emit('made');
    work.say(sentence, { label: t('common.undo'), run: () => void work.undo(planId) });
  } catch (error) {
    work.wrong(error);
  }
}
useCarryOut(set, { first: true });
const words = {
  done: t('materials.whenTheStudentIsDone'),
  closed: t('materials.whenItIsClosed'),
  never: t('materials.notHere'),
} as const;
</script>

<template>
  <form class="ordering" :aria-label="t('materials.assign')" @submit.prevent="set" @keydown.esc.stop="emit('close')">
    <div class="grid [grid-template-columns:minmax(240px,1fr)_minmax(320px,1.4fr)] gap-24px text-13px">
      <fieldset class="whom [border:0] p-0 m-0 grid gap-4px content-start">
        <legend>{{ t('materials.for') }}</legend>
        <TextInput
          ref="box"
          v-model:value="narrow"
          type="search"
          :aria-label="t('materials.findClasses')"
          :placeholder="t('materials.classNamePart')"
        />
        <ul class="max-h-190px overflow-auto ruled py-2px px-8px" tabindex="0" :aria-label="t('materials.classes2')">
          <li v-for="c in shown" :key="c.id" class="row min-h-26px">
            <Checkbox :checked="targets.has(c.id)" class="row grow" @change="toggle(c.id)"
              ><span class="clip"
                >{{ c.name }}
                <span class="quiet">{{ c.kind === 'template' ? t('materials.staffOnly') : c.school }}</span></span
              ></Checkbox
            >
            <Choice
              v-if="targets.has(c.id) && groups.data.value?.some((g) => g.classId === c.id)"
              :aria-label="t('materials.groupOf', { name: c.name })"
              :value="targets.get(c.id) ?? ''"
              @update:value="(group) => targets.set(c.id, group || null)"
            >
              <SelectOption value="">{{ t('materials.allOfIt') }}</SelectOption>
              <SelectOption v-for="g in groups.data.value?.filter((g) => g.classId === c.id)" :key="g.id" :value="g.id">
                {{ g.name }}
              </SelectOption>
            </Choice>
          </li>
        </ul>
        <Checkbox v-if="sheaf.state.count > 0" v-model:checked="form.gathered" class="row">
          {{ t('materials.onlyTheGatheredStudents', { count: sheaf.state.count }) }}</Checkbox
        >
      </fieldset>
      <div class="what grid gap-4px content-start">
        <label
          >{{ t('materials.material2') }}
          <Choice v-model:value="form.materialId" :disabled="count === 0">
            <SelectOption value="">{{
              count === 0 ? t('materials.chooseAClassFirst') : t('materials.chooseOne')
            }}</SelectOption>
            <SelectOptGroup v-for="[product, list] in byProduct" :key="product" :label="product">
              <SelectOption v-for="m in list" :key="m.id" :value="m.id">
                {{ m.title }} · {{ m.kind }}{{ m.minutes ? t('materials.min2', { minutes: m.minutes }) : '' }}
              </SelectOption>
            </SelectOptGroup>
          </Choice></label
        >
        <label
          >{{ t('materials.purpose') }}
          <Choice v-model:value="form.library">
            <SelectOption :value="false">{{ t('materials.assignedToStudents') }}</SelectOption>
            <SelectOption :value="true">{{ t('materials.inTheLibrary') }}</SelectOption>
          </Choice></label
        >
        <label>{{ t('materials.title2') }} <TextInput v-model:value="form.title" maxlength="200" required /></label>
        <label
          >{{ t('materials.opens') }}
          <span class="row"
            ><DayInput v-model:value="form.opens" at="08:00" class="w-240px" :aria-label="t('materials.opens')" />
            <Button size="small" @click="toMidway('opens', '08:00')">{{
              t('materials.midwayThroughTheTerm')
            }}</Button></span
          ></label
        >
        <label v-if="!form.library"
          >{{ t('materials.due') }}
          <span class="row"
            ><DayInput v-model:value="form.due" at="15:00" class="w-240px" :aria-label="t('materials.due')" />
            <Button size="small" @click="toMidway('due', '15:00')">{{
              t('materials.midwayThroughTheTerm')
            }}</Button></span
          ></label
        >
        <label
          >{{ t('materials.closes') }}
          <DayInput
            v-model:value="form.closes"
            at="15:00"
            class="w-240px"
            :placeholder="t('materials.staysOpen')"
            allow-clear
        /></label>
        <label
          >{{ t('materials.timeLimit') }}
          <span class="row"
            ><NumberInput
              v-model:value="form.minutes"
              class="w-80px"
              :min="1"
              :max="1440"
              :aria-label="t('materials.timeLimitInMinutes')"
            />
            {{ t('materials.minutes') }}</span
          ></label
        >
        <label
          >{{ t('materials.startCode') }}
          <TextInput v-model:value="form.entryWord" maxlength="40" :placeholder="t('common.none')"
        /></label>
        <label
          >{{ t('materials.answersShown') }}
          <Choice v-model:value="form.answers">
            <SelectOption v-for="a in answersShown" :key="a" :value="a">{{ words[a] }}</SelectOption>
          </Choice></label
        >
        <p v-if="material?.needs" class="quiet">{{ t('materials.studentsNeed', { needs: material.needs }) }}</p>
        <p v-if="first && materials.data.value?.length === 0" class="rust">
          {{ t('materials.thisClassIsNotEntitled') }}
        </p>
        <div class="row">
          <Button html-type="submit" type="primary" :disabled="!form.materialId || count === 0"
            ><span
              >{{ form.library ? t('materials.addToLibraryOf', { count }) : t('materials.assignTo', { count }) }}
              <kbd>{{ t('materials.ctrlEnter') }}</kbd></span
            ></Button
          >
          <Button type="text" size="small" @click="emit('close')"
            ><span
              >{{ t('common.back') }} <kbd>{{ t('materials.esc') }}</kbd></span
            ></Button
          >
        </div>
      </div>
    </div>
  </form>
</template>

<style scoped>
legend {
  font-size: 13px;
  color: var(--quiet);
  border: 0;
  margin: 0;
}
.what label {
  display: grid;
  grid-template-columns: 100px 1fr;
  align-items: center;
  color: var(--quiet);
}
.what :deep(.choice) {
  max-width: 360px;
}
</style>
