<script setup lang="ts">
/** Classes made by hand: several names in one line, each shown as it would be; what clashes says with whom. */
import { spoken, t } from '@/words';
import { useChange } from '@/kit/change';
import Choice from '@/kit/Choice.vue';
import { refDebounced } from '@vueuse/core';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { useUnsaved } from '@/kit/unsaved';
import { computed, reactive, ref, watch } from 'vue';
import type { ClassesOrder } from '../../server/contract';
import { classPatternError, namesByPattern, usualPattern } from '#core/classes/make';
import { gradeLabel, grades } from '#core/tabular/values';
import { useCarryOut } from '@/frame/keys';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import ClassPicker from './ClassPicker.vue';
import { onShown, useLoad } from '@/kit/load';

/** `school`: where the focus was, to begin with. */
const props = defineProps<{ school?: string | null }>();
const emit = defineEmits<{ close: []; made: []; open: [name: string] }>();
const session = useSession();
const work = useWork();
const schools = computed(() => session.me?.schools ?? []);
const form = reactive<ClassesOrder>({
  schoolId: session.where.school ?? props.school ?? session.usualSchool,
  names: '',
  kind: 'homeroom',
  grade: null,
  subject: null,
  likeId: null,
  template: null,
  people: false,
});
useUnsaved(() => form.names.trim() !== '');
const models = useLoad(t('classes.templates'), 'GET /api/templates');
/** Names made by the school's pattern, for so many sections of some grades. */
const byPattern = ref<{ pattern: string; from: string; to: string; sections: number } | null>(null);
const chosen = computed(() => schools.value.find(({ id }) => id === form.schoolId));
function beginPattern(): void {
  const { lowGrade = 'KG', highGrade = '05' } = chosen.value ?? {};
  const pattern = models.data.value?.patterns[form.schoolId] ?? usualPattern;
  byPattern.value = { pattern, from: lowGrade, to: highGrade, sections: 2 };
}
const patternNames = computed(() => {
  if (!byPattern.value || classPatternError(byPattern.value.pattern)) return [];
  const { pattern, from, to, sections } = byPattern.value;
  const [low, high] = [grades.findIndex((g) => g === from), grades.findIndex((g) => g === to)];
  return namesByPattern(
    pattern,
    grades.slice(low, high + 1),
    Math.min(26, Number(sections) || 0),
    session.me?.year.name ?? '',
  );
});
watch(patternNames, (names) => {
  if (names.length > 0) form.names = names.join(', ');
});
async function keepPattern(): Promise<void> {
  if (!byPattern.value) return;
  try {
    await call('POST /api/templates/pattern', { body: { schoolId: form.schoolId, pattern: byPattern.value.pattern } });
    work.say(t('classes.willNameItsClassesThis', { name: chosen.value?.name }));
    await models.refetch();
  } catch (error) {
    work.wrong(error);
  }
}
const asked = refDebounced(
  computed(() => ({ ...form })),
  150,
);
const preview = useLoad(t('classes.thePreview'), 'POST /api/classes/preview', () => ({ body: asked.value }), {
  enabled: () => asked.value.names.trim() !== '' && asked.value.schoolId !== '',
  alone: true,
  retry: false,
});
const shown = computed(() => (form.names.trim() === '' || !form.schoolId ? null : (preview.data.value ?? null)));
const busy = ref(false);
const change = useChange(() => emit('made'));
async function make(): Promise<void> {
  if (busy.value || !shown.value?.changes) return;
  busy.value = true;
  const made = await change(
    () => call('POST /api/classes', { body: { ...form } }),
    ({ sentence }) => sentence,
  );
  busy.value = false;
  if (!made) return;
  form.names = '';
  emit('close');
}
async function askToTeach(classId: string, name: string): Promise<void> {
  try {
    await call('POST /api/requests', { body: { kind: 'teach', classId } });
    work.say(t('classes.requestSentATeacherOf', { name }));
  } catch (error) {
    work.wrong(error);
  }
}
const first = ref<HTMLInputElement | null>(null);
onShown(() => first.value?.focus());
useCarryOut(make, { first: true });
</script>

<template>
  <section
    class="new ordering [border-bottom:2px_solid_var(--ink)]"
    :aria-label="t('classes.newClasses')"
    @keydown.esc.stop="$emit('close')"
  >
    <div class="row ask">
      <h2>{{ t('classes.newClasses') }}</h2>
      <label class="names"
        >{{ t('classes.names') }}
        <TextInput ref="first" v-model:value="form.names" :placeholder="t('classes.exampleNames')" autocomplete="off"
      /></label>
      <label
        >{{ t('classes.school') }}
        <Choice v-model:value="form.schoolId" :placeholder="t('classes.chooseASchool')">
          <SelectOption v-for="s in schools" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('classes.grade') }}
        <Choice v-model:value="form.grade">
          <SelectOption :value="null">{{ t('classes.fromTheName') }}</SelectOption>
          <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('classes.kind') }}
        <Choice v-model:value="form.kind" :disabled="form.likeId !== null">
          <SelectOption value="homeroom">{{ t('classes.homeroom') }}</SelectOption>
          <SelectOption value="course">{{ t('classes.course') }}</SelectOption>
          <SelectOption value="template">{{ t('classes.staffOnly') }}</SelectOption>
        </Choice></label
      >
      <label v-if="form.kind === 'course'"
        >{{ t('classes.subject') }} <TextInput v-model:value="form.subject" class="short w-110px"
      /></label>
      <label
        >{{ t('classes.likeClass') }} <ClassPicker v-model="form.likeId" :none="t('classes.noOtherClass')"
      /></label>
      <label v-if="models.data.value?.templates.length"
        >{{ t('classes.template') }}
        <Choice v-model:value="form.template" :disabled="form.likeId !== null">
          <SelectOption :value="null">{{ t('common.none') }}</SelectOption>
          <SelectOption v-for="one in models.data.value.templates" :key="one.name" :value="one.name">{{
            one.name
          }}</SelectOption>
        </Choice></label
      >
      <Button v-if="!byPattern" size="small" @click="beginPattern">{{ t('classes.fromAPattern') }}</Button>
      <Checkbox v-if="form.likeId" v-model:checked="form.people"> {{ t('classes.withItsPeopleAHomeroom') }}</Checkbox>
      <span class="grow" />
      <Button type="text" size="small" @click="$emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('classes.esc') }}</kbd></span
        ></Button
      >
    </div>
    <div v-if="byPattern" class="row ask pattern">
      <label
        >{{ t('classes.pattern') }} <TextInput v-model:value="byPattern.pattern" class="mono" spellcheck="false"
      /></label>
      <label
        >{{ t('classes.grades') }}
        <Choice v-model:value="byPattern.from">
          <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
        </Choice>
        {{ t('classes.to') }}
        <Choice v-model:value="byPattern.to" :aria-label="t('classes.toGrade')">
          <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('classes.classesPerGrade') }}
        <NumberInput v-model:value="byPattern.sections" class="w-60px" :min="1" :max="26"
      /></label>
      <span v-if="classPatternError(byPattern.pattern)" class="rust">{{
        spoken(classPatternError(byPattern.pattern)!)
      }}</span>
      <Button
        v-else-if="
          session.isCoordinator && byPattern.pattern !== (models.data.value?.patterns[form.schoolId] ?? usualPattern)
        "
        size="small"
        @click="keepPattern"
      >
        {{ t('classes.saveForTheSchool') }}
      </Button>
      <Button type="text" size="small" @click="byPattern = null">{{ t('classes.withoutItsPeople') }}</Button>
    </div>
    <div class="row then" aria-live="polite">
      <ul v-if="shown" class="grow shown">
        <li v-for="c in shown.classes" :key="c.name" class="flex gap-6px" :class="{ rust: c.clash }">
          <b>{{ c.name }}</b>
          <template v-if="c.clash">
            {{
              t('classes.alreadyExists', {
                teacher: c.clash.teachers
                  ? t('classes.theClassOf', { teachers: c.clash.teachers })
                  : t('classes.withoutATeacher'),
              })
            }}
            <Button v-if="session.isCoordinator" size="small" @click="$emit('open', c.name)">
              {{ t('classes.openIt') }}
            </Button>
            <Button v-else size="small" @click="askToTeach(c.clash.classId, c.name)">
              {{ t('classes.askToCoTeachIt') }}
            </Button>
          </template>
          <span v-else class="quiet">
            {{ c.grade ? t('classes.grade2', { grade: gradeLabel(c.grade) }) : t('classes.noGrade') }}</span
          >
        </li>
      </ul>
      <p v-else class="grow quiet">
        {{ preview.error.value?.message ?? t('classes.separateNamesWithCommas3a') }}
      </p>
      <Button type="primary" :disabled="!shown?.changes || busy" @click="make"
        ><span
          >{{ t('classes.create', { clash: shown?.classes.filter((c) => !c.clash).length ?? 0 }) }}
          <kbd>{{ t('classes.ctrlEnter') }}</kbd></span
        ></Button
      >
    </div>
  </section>
</template>

<style scoped>
.names input {
  width: 220px;
}
.pattern {
  margin-top: 6px;
}
.shown {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  max-height: 72px;
  overflow: auto;
}
</style>
