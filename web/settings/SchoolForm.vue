<script setup lang="ts">
/** A school that is set up; a roster that names it begins the form. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import Fields from '@/kit/Fields.vue';
import TextInput from '@/kit/TextInput.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { reactive, ref } from 'vue';
import { call } from '@/api';
import { useChange } from '@/kit/change';
import { useSession } from '@/stores/session';
import type { NewSchool } from '#core/intake/index';
import { gradeLabel } from '#core/tabular/values';
import { formOf, schoolKinds, taught } from './kinds';

const props = defineProps<{ start?: NewSchool }>();
const emit = defineEmits<{ made: []; cancel: [] }>();
const session = useSession();
const start = formOf(props.start ?? { name: '', identifier: null, grades: [], rows: 0 });
const form = reactive({ ...start, code: start.code ?? '', door: '' });
const change = useChange(() => session.load());
const busy = ref(false);
async function make(): Promise<void> {
  busy.value = true;
  const body = { ...form, code: form.code.trim() || null, door: form.door || null };
  const made = await change(() => call('POST /api/schools', { body }), t('district.isSetUp', { name: form.name }));
  busy.value = false;
  if (made) emit('made');
}
</script>

<template>
  <Fields :label="t('district.newSchool')" @save="make" @cancel="emit('cancel')">
    <label>{{ t('district.name') }} <TextInput v-model:value="form.name" required maxlength="200" /></label>
    <label :title="t('district.identifierHint')"
      >{{ t('district.identifier') }}
      <TextInput v-model:value="form.code" class="mono" maxlength="20" :placeholder="t('common.none')"
    /></label>
    <label
      >{{ t('district.kind2') }}
      <Choice v-model:value="form.kind">
        <SelectOption v-for="(label, key) in schoolKinds" :key="key" :value="key">{{ label }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('district.lowestGrade') }}
      <Choice v-model:value="form.lowGrade">
        <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('district.highestGrade') }}
      <Choice v-model:value="form.highGrade">
        <SelectOption v-for="g in taught" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
      </Choice></label
    >
    <label
      >{{ t('district.addressD') }}
      <TextInput v-model:value="form.door" class="mono" maxlength="30" :placeholder="t('common.none')"
    /></label>
    <template #actions>
      <Button type="primary" html-type="submit" :loading="busy">{{ t('district.createSchool') }}</Button>
      <Button type="text" size="small" @click="emit('cancel')">{{ t('common.back') }}</Button>
    </template>
  </Fields>
</template>
