<script setup lang="ts">
/** Who is entitled to a product, rule by rule. */
import { Button } from 'ant-design-vue';
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
        <button class="plain quiet" type="button" :aria-label="`End: ${r.whom}`" @click="end(r.id)">End</button>
      </li>
    </ul>
    <p v-if="sheet.rules.length === 0" class="quiet">nobody yet</p>
    <form v-if="form" class="form" @submit.prevent="add" @keydown.esc.stop="form = null">
      <label
        ><select v-model="form.role" class="pick" aria-label="Who">
          <option value="student">students</option>
          <option value="teacher">teachers</option>
        </select></label
      >
      <label
        >school
        <select v-model="form.schoolId" class="pick">
          <option v-if="session.isEverywhere" :value="null">any</option>
          <option v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</option>
        </select></label
      >
      <label
        >grade
        <select v-model="form.grade" class="pick">
          <option :value="null">any</option>
          <option v-for="g in grades" :key="g" :value="g">{{ gradeLabel(g) }}</option>
        </select></label
      >
      <label>subject <input v-model="form.subject" class="box subject" placeholder="any" /></label>
      <label>class <ClassPicker v-model="form.classId" :school="form.schoolId" none="any" /></label>
      <label
        >urgency
        <select v-model="form.urgency" class="pick">
          <option v-for="(words, i) in urgencies" :key="words" :value="i + 1">{{ words }}</option>
        </select></label
      >
      <label>from <input v-model="form.begins" class="box date" placeholder="now" /></label>
      <Button html-type="submit" type="primary" size="small">Add the rule</Button>
      <button class="plain quiet" type="button" @click="form = null">Back</button>
    </form>
    <button v-else class="plain dusk" type="button" @click="open">New rule</button>
  </section>
</template>
