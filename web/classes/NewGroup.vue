<script setup lang="ts">
/** A new group of those who are gathered, or by a rule: of one class, or across the classes of a school. */
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, nextTick, reactive, ref } from 'vue';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { groupKinds } from '#core/classes/groups';
import { gradeLabel, grades } from '#core/tabular/values';
import ClassPicker from './ClassPicker.vue';
import { useAgain } from '@/kit/load';

const emit = defineEmits<{ made: [id: string] }>();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const reload = useAgain();
const open = ref(false);
const form = reactive({
  name: '',
  kind: 'days' as keyof typeof groupKinds,
  of: (session.isCoordinator ? 'school' : 'class') as 'school' | 'class' | 'rule',
  schoolId: session.usualSchool,
  classId: null as string | null,
  grade: '03',
});
const ready = computed(
  () => form.name.trim() !== '' && (form.of === 'class' ? form.classId !== null : form.schoolId !== ''),
);
async function make(): Promise<void> {
  const { name, kind, of, schoolId, classId, grade } = form;
  try {
    const made = await call('POST /api/groups', {
      body: {
        name: name.trim(),
        kind,
        classId: of === 'class' ? classId : null,
        schoolId: of === 'class' ? null : schoolId,
        rule: of === 'rule' ? { grade, classIds: [] } : null,
        gathered: of !== 'rule',
      },
    });
    work.say(
      made.left.length > 0
        ? `${made.sentence} ${made.left.length} do not fit: ${made.left.slice(0, 3).join('; ')}.`
        : made.sentence,
      { label: 'Undo', run: () => work.undo(made.planId) },
    );
    open.value = false;
    form.name = '';
    sheaf.version++;
    await reload('GET /api/groups');
    if (form.of !== 'rule') emit('made', made.id);
  } catch (error) {
    work.wrong(error);
  }
}
const nameBox = ref<HTMLInputElement | null>(null);
async function begin(): Promise<void> {
  open.value = true;
  await nextTick();
  nameBox.value?.focus();
}
</script>

<template>
  <Button v-if="!open" size="small" @click="begin">New group</Button>
  <form v-else class="row" @submit.prevent="make" @keydown.esc.stop="open = false">
    <label>named <TextInput ref="nameBox" v-model:value="form.name" maxlength="120" /></label>
    <label
      >a
      <Choice v-model:value="form.kind">
        <SelectOption v-for="(label, key) in groupKinds" :key="key" :value="key">{{ label }}</SelectOption>
      </Choice></label
    >
    <label
      >of
      <Choice v-model:value="form.of">
        <SelectOption v-if="session.isCoordinator" value="school">the gathered, across classes</SelectOption>
        <SelectOption value="class">the gathered, in a class</SelectOption>
        <SelectOption v-if="session.isCoordinator" value="rule">a whole grade, always</SelectOption>
      </Choice></label
    >
    <label v-if="form.of === 'class'"
      >class <ClassPicker v-model="form.classId" :school="session.where.school"
    /></label>
    <label v-else
      >school
      <Choice v-model:value="form.schoolId" placeholder="Choose a school">
        <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
      </Choice></label
    >
    <label v-if="form.of === 'rule'"
      >grade
      <Choice v-model:value="form.grade">
        <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
      </Choice></label
    >
    <Button html-type="submit" size="small" :disabled="!ready">Make it</Button>
  </form>
</template>
