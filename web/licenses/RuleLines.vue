<script setup lang="ts">
/** Who is entitled to a product, rule by rule. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import Choice from '@/kit/Choice.vue';
import DayInput from '@/kit/DayInput.vue';
import Fields from '@/kit/Fields.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { ref } from 'vue';
import type { ProductSheet, RuleFields } from '../../server/contract';
import { call } from '@/api';
import ClassPicker from '@/classes/ClassPicker.vue';
import { useSession } from '@/stores/session';
import { gradeLabel, grades } from '#core/tabular/values';
import { newRule } from './forms';
import { useAgain } from '@/kit/load';

const props = defineProps<{ sheet: ProductSheet }>();
const session = useSession();
const change = useChange(useAgain());
const urgencies = [t('licenses.goodToHave'), t('licenses.taughtWith'), t('licenses.lessonsStopWithoutIt')];
const form = ref<RuleFields | null>(null);
async function add(): Promise<void> {
  const body = { fields: { ...form.value!, subject: form.value!.subject || null, begins: form.value!.begins || null } };
  if (await change(() => call('POST /api/rules', { body }), t('licenses.theRuleIsAdded'))) form.value = null;
}
const end = (id: string) => change(() => call('POST /api/rules/:id/end', { id }), t('licenses.theRuleEndedSeatsStay'));
const open = () => {
  const school = session.isEverywhere ? session.where.school : (session.me?.schools[0]?.id ?? null);
  form.value = { ...newRule(props.sheet.product.id), schoolId: school };
};
</script>

<template>
  <section>
    <h2>{{ t('licenses.entitled') }}</h2>
    <ul>
      <li v-for="r in sheet.rules" :key="r.id" class="row">
        <span class="grow">{{ r.whom }}</span>
        <span class="quiet">{{ urgencies[r.urgency - 1] }}</span>
        <Button
          v-if="r.mayEdit"
          type="text"
          size="small"
          :aria-label="t('licenses.end', { whom: r.whom })"
          @click="end(r.id)"
          >{{ t('common.end') }}</Button
        >
      </li>
    </ul>
    <p v-if="sheet.rules.length === 0" class="quiet">{{ t('licenses.noOneYet') }}</p>
    <Fields v-if="form" :label="t('licenses.theRuleForm')" @save="add" @cancel="form = null">
      <label
        >{{ t('licenses.who') }}
        <Choice v-model:value="form.role">
          <SelectOption value="student">{{ t('licenses.students') }}</SelectOption>
          <SelectOption value="teacher">{{ t('licenses.teachers') }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('licenses.school') }}
        <Choice v-model:value="form.schoolId">
          <SelectOption v-if="session.isEverywhere" :value="null">{{ t('licenses.any') }}</SelectOption>
          <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('licenses.grade') }}
        <Choice v-model:value="form.grade">
          <SelectOption :value="null">{{ t('licenses.any') }}</SelectOption>
          <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('licenses.subject') }} <TextInput v-model:value="form.subject" :placeholder="t('licenses.any')"
      /></label>
      <label
        >{{ t('licenses.class') }}
        <ClassPicker v-model="form.classId" :school="form.schoolId" :none="t('licenses.any')"
      /></label>
      <label
        >{{ t('licenses.urgency') }}
        <Choice v-model:value="form.urgency">
          <SelectOption v-for="(words, i) in urgencies" :key="words" :value="i + 1">{{ words }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('licenses.from') }} <DayInput v-model:value="form.begins" :placeholder="t('licenses.now')" allow-clear
      /></label>
      <template #actions>
        <Button html-type="submit" type="primary" size="small">{{ t('licenses.addRule') }}</Button>
        <Button type="text" size="small" @click="form = null">{{ t('common.back') }}</Button>
      </template>
    </Fields>
    <Button v-else size="small" class="mt-8px" @click="open">{{ t('licenses.newRule') }}</Button>
  </section>
</template>
