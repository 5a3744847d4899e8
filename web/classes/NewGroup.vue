<script setup lang="ts">
/** A new group of those who are gathered, or by a rule: of one class, or across the classes of a school. */
import { spoken, t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, onMounted, reactive, ref } from 'vue';
import { useRouter } from 'vue-router';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { groupKinds } from '#core/classes/groups';
import { gradeLabel, grades } from '#core/tabular/values';
import ClassPicker from './ClassPicker.vue';
import { useAgain } from '@/kit/load';

const router = useRouter();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const reload = useAgain();
const form = reactive({
  name: '',
  kind: 'other' as keyof typeof groupKinds,
  of: (session.isCoordinator ? 'school' : 'class') as 'school' | 'class' | 'rule',
  schoolId: session.usualSchool,
  classId: null as string | null,
  grade: '03',
});
const ready = computed(
  () =>
    form.name.trim() !== '' &&
    (form.of === 'school' || (form.of === 'class' ? form.classId !== null : form.schoolId !== '')),
);
async function make(): Promise<void> {
  const { name, kind, of, schoolId, classId, grade } = form;
  try {
    const made = await call('POST /api/groups', {
      body: {
        name: name.trim(),
        kind,
        classId: of === 'class' ? classId : null,
        schoolId: of === 'class' ? null : schoolId || null,
        rule: of === 'rule' ? { grade, classIds: [] } : null,
        gathered: of !== 'rule',
      },
    });
    sheaf.version++;
    await reload('GET /api/groups');
    // A notice goes away with the place that it was given in.
    await router.push(`/groups/${made.id}`);
    work.say(
      made.left.length > 0
        ? t('classes.doNotFit', {
            sentence: made.sentence,
            left: made.left.length,
            slice: made.left.slice(0, 3).join('; '),
          })
        : made.sentence,
      { label: t('common.undo'), run: () => work.undo(made.planId) },
    );
  } catch (error) {
    work.wrong(error);
  }
}
const nameBox = ref<HTMLInputElement | null>(null);
onMounted(() => nameBox.value?.focus());
</script>

<template>
  <form class="row" @submit.prevent="make">
    <label>{{ t('classes.newGroup') }} <TextInput ref="nameBox" v-model:value="form.name" maxlength="120" /></label>
    <label
      >{{ t('classes.kind') }}
      <Choice v-model:value="form.kind">
        <SelectOption v-for="(label, key) in groupKinds" :key="key" :value="key">{{ spoken(label) }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('classes.from') }}
      <Choice v-model:value="form.of">
        <SelectOption v-if="session.isCoordinator" value="school">{{
          t('classes.gatheredStudentsAcrossClasses')
        }}</SelectOption>
        <SelectOption value="class">{{ t('classes.gatheredStudentsOfOneClass') }}</SelectOption>
        <SelectOption v-if="session.isCoordinator" value="rule">{{ t('classes.wholeGrade') }}</SelectOption>
      </Choice></label
    >
    <label v-if="form.of === 'class'"
      >{{ t('classes.class') }} <ClassPicker v-model="form.classId" :school="session.where.school"
    /></label>
    <label v-else
      >{{ t('classes.school') }}
      <Choice
        v-model:value="form.schoolId"
        :placeholder="form.of === 'rule' ? t('classes.chooseASchool') : t('classes.theirSchool')"
      >
        <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
      </Choice></label
    >
    <label v-if="form.of === 'rule'"
      >{{ t('classes.grade') }}
      <Choice v-model:value="form.grade">
        <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
      </Choice></label
    >
    <Button html-type="submit" size="small" :disabled="!ready">{{ t('classes.create2') }}</Button>
  </form>
</template>
