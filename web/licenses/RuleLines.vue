<script setup lang="ts">
/** Who is entitled to a product, rule by rule. */
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { ref } from 'vue';
import type { ProductSheet, RuleFields } from '../../server/contract';
import { call } from '@/api';
import ClassPicker from '@/classes/ClassPicker.vue';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { gradeLabel, grades } from '#core/tabular/values';
import { newRule } from './forms';
import { useAgain } from '@/kit/load';

const props = defineProps<{ sheet: ProductSheet }>();
const session = useSession();
const work = useWork();
const reload = useAgain();
const urgencies = ['good to have', 'taught with it', 'lessons stop without it'];
const form = ref<RuleFields | null>(null);
async function add(): Promise<void> {
  try {
    const { planId } = await call('POST /api/rules', {
      body: { fields: { ...form.value!, subject: form.value!.subject || null } },
    });
    form.value = null;
    work.say('The rule is added.', { label: 'Undo', run: () => work.undo(planId) });
    await reload();
  } catch (error) {
    work.wrong(error);
  }
}
async function end(id: string): Promise<void> {
  try {
    const { planId } = await call('POST /api/rules/:id/end', { id });
    work.say('The rule ends. Seats stay until a proposal takes them back.', {
      label: 'Undo',
      run: () => work.undo(planId),
    });
    await reload();
  } catch (error) {
    work.wrong(error);
  }
}
const open = () => {
  const school = session.isEverywhere ? session.where.school : (session.me?.schools[0]?.id ?? null);
  form.value = { ...newRule(props.sheet.product.id), schoolId: school };
};
</script>

<template>
  <section>
    <h2>Entitled</h2>
    <ul>
      <li v-for="r in sheet.rules" :key="r.id" class="row">
        <span class="grow">{{ r.whom }}</span>
        <span class="quiet">{{ urgencies[r.urgency - 1] }}</span>
        <Button type="text" size="small" :aria-label="`End: ${r.whom}`" @click="end(r.id)">End</Button>
      </li>
    </ul>
    <p v-if="sheet.rules.length === 0" class="quiet">nobody yet</p>
    <form v-if="form" class="form" @submit.prevent="add" @keydown.esc.stop="form = null">
      <label
        ><Choice v-model:value="form.role" aria-label="Who">
          <SelectOption value="student">students</SelectOption>
          <SelectOption value="teacher">teachers</SelectOption>
        </Choice></label
      >
      <label
        >school
        <Choice v-model:value="form.schoolId">
          <SelectOption v-if="session.isEverywhere" :value="null">any</SelectOption>
          <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <label
        >grade
        <Choice v-model:value="form.grade">
          <SelectOption :value="null">any</SelectOption>
          <SelectOption v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</SelectOption>
        </Choice></label
      >
      <label>subject <TextInput v-model:value="form.subject" class="subject" placeholder="any" /></label>
      <label>class <ClassPicker v-model="form.classId" :school="form.schoolId" none="any" /></label>
      <label
        >urgency
        <Choice v-model:value="form.urgency">
          <SelectOption v-for="(words, i) in urgencies" :key="words" :value="i + 1">{{ words }}</SelectOption>
        </Choice></label
      >
      <label>from <TextInput v-model:value="form.begins" class="date" placeholder="now" /></label>
      <Button html-type="submit" type="primary" size="small">Add the rule</Button>
      <Button type="text" size="small" @click="form = null">Back</Button>
    </form>
    <Button v-else size="small" @click="open">New rule</Button>
  </section>
</template>
