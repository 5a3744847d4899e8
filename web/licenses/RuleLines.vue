<script setup lang="ts">
/** Who is entitled to a product, rule by rule. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import { Button } from 'ant-design-vue';
import { ref } from 'vue';
import type { ProductSheet, RuleFields } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { newRule, urgencies } from './forms';
import RuleForm from './RuleForm.vue';
import { useAgain } from '@/kit/load';

type Rule = ProductSheet['rules'][number];
const props = defineProps<{ sheet: ProductSheet }>();
const session = useSession();
const change = useChange(useAgain());
/** The one that is being written; `id` null: a new one. */
const form = ref<{ id: string | null; fields: RuleFields; classes: Rule['classes'] } | null>(null);
async function keep(fields: RuleFields): Promise<void> {
  const { id } = form.value!;
  const said = id ? t('licenses.theRuleIsSaved') : t('licenses.theRuleIsAdded');
  if (await change(() => call('POST /api/rules', { body: { id, fields } }), said)) form.value = null;
}
const end = (id: string) => change(() => call('POST /api/rules/:id/end', { id }), t('licenses.theRuleEndedSeatsStay'));
function add(): void {
  const school = session.isEverywhere ? session.where.school : (session.me?.schools[0]?.id ?? null);
  form.value = { id: null, fields: newRule(props.sheet.product.id, school), classes: [] };
}
const edit = ({ id, fields, classes }: Rule) => (form.value = { id, fields, classes });
</script>

<template>
  <section>
    <h2>{{ t('licenses.entitled') }}</h2>
    <ul>
      <li v-for="r in sheet.rules" :key="r.id" class="row">
        <span class="grow">{{ r.whom }}</span>
        <span class="quiet">{{ t(urgencies[r.fields.urgency - 1]!) }}</span>
        <span v-if="r.mayEdit" class="row gap-0">
          <Button type="text" size="small" :aria-label="t('licenses.editRule', { rule: r.whom })" @click="edit(r)">{{
            t('common.edit')
          }}</Button>
          <Button type="text" size="small" :aria-label="t('licenses.end', { whom: r.whom })" @click="end(r.id)">{{
            t('common.end')
          }}</Button>
        </span>
      </li>
    </ul>
    <p v-if="sheet.rules.length === 0" class="quiet">{{ t('licenses.noOneYet') }}</p>
    <RuleForm
      v-if="form"
      :key="form.id ?? ''"
      :fields="form.fields"
      :classes="form.classes"
      :is-new="form.id === null"
      @save="keep"
      @cancel="form = null"
    />
    <Button v-else size="small" class="mt-8px" @click="add">{{ t('licenses.newRule') }}</Button>
  </section>
</template>
