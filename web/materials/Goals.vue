<script setup lang="ts">
/** What is expected of a class, or of the student at hand where it is another than that of the class. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import Fields from '@/kit/Fields.vue';
import NumberInput from '@/kit/NumberInput.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { reactive, ref, watch } from 'vue';
import type { ClassProgress } from '../../server/contract';

type Goal = ClassProgress['goal'];
const props = defineProps<{ ofClass: Goal; student: ClassProgress['people'][number] | null }>();
const emit = defineEmits<{ save: [personId: string | null, goal: Goal]; cancel: [] }>();
const whose = ref<'class' | 'student'>('class');
const form = reactive<Goal>({ minutes: null, share: null });
watch(whose, (is) => Object.assign(form, is === 'class' ? props.ofClass : props.student!.own), { immediate: true });
const save = () =>
  emit('save', whose.value === 'class' ? null : props.student!.id, {
    minutes: form.minutes || null,
    share: form.share || null,
  });
</script>

<template>
  <Fields class="px-16px" :label="t('materials.goals')" @save="save" @cancel="emit('cancel')">
    <label
      >{{ t('materials.goals') }}
      <Choice v-model:value="whose">
        <SelectOption value="class">{{ t('materials.goalsForClass') }}</SelectOption>
        <SelectOption v-if="student" value="student">{{
          t('materials.goalsForStudent', { name: student.name })
        }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('materials.goalMinutes') }}
      <NumberInput
        v-model:value="form.minutes"
        :min="1"
        :max="2400"
        :placeholder="whose === 'class' ? t('materials.noGoal') : t('materials.asTheClass')"
    /></label>
    <label
      >{{ t('materials.goalShare') }}
      <NumberInput
        v-model:value="form.share"
        :min="1"
        :max="100"
        :placeholder="whose === 'class' ? t('materials.noGoal') : t('materials.asTheClass')"
    /></label>
    <template #actions>
      <Button html-type="submit" type="primary" size="small">{{ t('materials.saveGoals') }}</Button>
      <Button type="text" size="small" @click="emit('cancel')">{{ t('common.back') }}</Button>
    </template>
  </Fields>
</template>
