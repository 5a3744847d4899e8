<script setup lang="ts">
/** For whom a rule is: of each list that names something one must fit, and no exception. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { useLoad } from '@/kit/load';
import DayInput from '@/kit/DayInput.vue';
import Fields from '@/kit/Fields.vue';
import Several from '@/kit/Several.vue';
import Tags from '@/kit/Tags.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import type { RuleFields } from '../../server/contract';
import SeveralClasses from '@/classes/SeveralClasses.vue';
import { useSession } from '@/stores/session';
import { gradeLabel, grades as all } from '#core/tabular/values';
import { urgencies } from './forms';

const props = defineProps<{ fields: RuleFields; classes: { id: string; name: string }[]; isNew: boolean }>();
const emit = defineEmits<{ save: [fields: RuleFields]; cancel: [] }>();
const session = useSession();
const form = ref<RuleFields>({ ...props.fields, except: { ...props.fields.except } });
const excepts = ref(Object.values(props.fields.except).some((list) => list.length > 0));
const schools = computed(() => (session.me?.schools ?? []).map(({ id, name }) => ({ value: id, label: name })));
const grades = all.map((value) => ({ value, label: gradeLabel(value) }));
const known = useLoad(t('licenses.subjects'), 'GET /api/subjects', () => ({}), { alone: true });
const subjects = computed(() => (known.data.value?.subjects ?? []).map((value) => ({ value })));
const only = computed(() => (form.value.schools.length === 1 ? form.value.schools[0]! : null));
const box = useTemplateRef<{ $el: HTMLElement }>('box');
async function addExceptions(): Promise<void> {
  excepts.value = true;
  await nextTick();
  box.value?.$el.querySelector<HTMLElement>('.except input')?.focus();
}
const save = () => emit('save', { ...form.value, begins: form.value.begins || null });
</script>

<template>
  <Fields ref="box" :label="t('licenses.theRuleForm')" @save="save" @cancel="emit('cancel')">
    <label
      >{{ t('licenses.who') }}
      <Choice v-model:value="form.role">
        <SelectOption value="student">{{ t('licenses.students') }}</SelectOption>
        <SelectOption value="teacher">{{ t('licenses.teachers') }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('licenses.schools') }}
      <Several v-model:value="form.schools" class="w-full" :options="schools" :placeholder="t('licenses.any')"
    /></label>
    <label
      >{{ t('licenses.grades') }}
      <Several v-model:value="form.grades" class="w-full" :options="grades" :placeholder="t('licenses.any')"
    /></label>
    <label
      >{{ t('licenses.subjects') }}
      <Tags
        v-model:value="form.subjects"
        class="w-full"
        :separators="[',']"
        :options="subjects"
        size="small"
        :placeholder="t('licenses.any')"
    /></label>
    <label
      >{{ t('licenses.classes') }}
      <SeveralClasses
        v-model:value="form.classes"
        class="w-full"
        :school="only"
        :known="classes"
        :placeholder="t('licenses.any')"
    /></label>
    <template v-if="excepts">
      <label class="except"
        >{{ t('licenses.exceptSchools') }}
        <Several
          v-model:value="form.except.schools"
          class="w-full"
          :options="schools"
          :placeholder="t('licenses.noOne')"
      /></label>
      <label
        >{{ t('licenses.exceptGrades') }}
        <Several v-model:value="form.except.grades" class="w-full" :options="grades" :placeholder="t('licenses.noOne')"
      /></label>
      <label
        >{{ t('licenses.exceptClasses') }}
        <SeveralClasses
          v-model:value="form.except.classes"
          class="w-full"
          :school="only"
          :known="classes"
          :placeholder="t('licenses.noOne')"
      /></label>
    </template>
    <label
      >{{ t('licenses.urgency') }}
      <Choice v-model:value="form.urgency">
        <SelectOption v-for="(words, i) in urgencies" :key="words" :value="i + 1">{{ t(words) }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('licenses.from') }} <DayInput v-model:value="form.begins" :placeholder="t('licenses.now')" allow-clear
    /></label>
    <template #actions>
      <Button html-type="submit" type="primary" size="small">{{
        isNew ? t('licenses.addRule') : t('licenses.saveRule')
      }}</Button>
      <Button v-if="!excepts" size="small" @click="addExceptions">{{ t('licenses.addExceptions') }}</Button>
      <Button type="text" size="small" @click="emit('cancel')">{{ t('common.back') }}</Button>
    </template>
  </Fields>
</template>
