<script setup lang="ts">
/** The licenses of a product, edited in place: each change is a plan of its own, with Undo. */
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { ref } from 'vue';
import type { LicenseFields, ProductSheet } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { cents, money, newLicense } from './forms';
import { useAgain } from '@/kit/load';

const props = defineProps<{ sheet: ProductSheet }>();
const session = useSession();
const work = useWork();
const reload = useAgain();
/** The one that is being written; `id` null: a new one. */
const form = ref<{ id: string | null; fields: LicenseFields; cost: string; wide: boolean } | null>(null);

function open(license: ProductSheet['licenses'][number] | null): void {
  const { id, fields } = license
    ? fieldsOf(license)
    : { id: null, fields: newLicense(props.sheet.product.id, session.me!.year) };
  const cost = fields.costCents === null ? '' : String(fields.costCents / 100);
  form.value = { id, fields: { ...fields }, cost, wide: fields.seats === null };
}
function fieldsOf(license: ProductSheet['licenses'][number]): { id: string; fields: LicenseFields } {
  const { productId, schoolId, seats, begins, ends, costCents, orderNumber, trial } = license;
  return { id: license.id, fields: { productId, schoolId, seats, begins, ends, costCents, orderNumber, trial } };
}

async function keep(): Promise<void> {
  const { id, fields, cost, wide } = form.value!;
  try {
    const body = { id, fields: { ...fields, seats: wide ? null : fields.seats, costCents: cents(cost) } };
    const { planId } = await call('POST /api/licenses', { body });
    form.value = null;
    work.say(id ? 'The license is changed.' : 'The license is added.', { label: 'Undo', run: () => work.undo(planId) });
    await reload();
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section>
    <h2>Licenses</h2>
    <table v-if="sheet.licenses.length > 0">
      <thead>
        <tr>
          <th scope="col">whose</th>
          <th scope="col" class="n">seats</th>
          <th scope="col" class="n">held</th>
          <th scope="col">from</th>
          <th scope="col">to</th>
          <th scope="col" class="n">cost</th>
          <th scope="col">order</th>
          <th scope="col"><span class="sr">edit</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in sheet.licenses" :key="l.id">
          <td>{{ l.school ?? 'district' }}<span v-if="l.trial" class="dusk"> · trial</span></td>
          <td class="n">{{ l.seats ?? 'site-wide' }}</td>
          <td class="n" :class="{ rust: l.seats !== null && l.held > l.seats }">{{ l.held }}</td>
          <td>{{ l.begins }}</td>
          <td>{{ l.ends }}</td>
          <td class="n">{{ l.costCents === null ? '—' : money(l.costCents) }}</td>
          <td class="mono">{{ l.orderNumber }}</td>
          <td>
            <Button size="small" :aria-label="`Edit the license to ${l.ends}`" @click="open(l)"> Edit </Button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">none yet: nobody can have a seat</p>
    <form v-if="form" class="form" @submit.prevent="keep" @keydown.esc.stop="form = null">
      <label
        >whose
        <Choice v-model:value="form.fields.schoolId">
          <SelectOption v-if="session.isEverywhere" :value="null">district</SelectOption>
          <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <label
        >seats <NumberInput v-model:value="form.fields.seats" class="number" :min="1" :disabled="form.wide"
      /></label>
      <Checkbox v-model:checked="form.wide"> site-wide</Checkbox>
      <label
        >from <TextInput v-model:value="form.fields.begins" class="date" required placeholder="yyyy-mm-dd"
      /></label>
      <label>to <TextInput v-model:value="form.fields.ends" class="date" required placeholder="yyyy-mm-dd" /></label>
      <label>cost <TextInput v-model:value="form.cost" class="number" inputmode="decimal" /></label>
      <label>order <TextInput v-model:value="form.fields.orderNumber" class="date" /></label>
      <Checkbox :checked="form.fields.trial === 1" @update:checked="(is) => form && (form.fields.trial = is ? 1 : 0)"
        >for trying out</Checkbox
      >
      <Button html-type="submit" type="primary" size="small">{{ form.id ? 'Change it' : 'Add it' }}</Button>
      <Button type="text" size="small" @click="form = null">Back</Button>
    </form>
    <Button v-else size="small" @click="open(null)">New license</Button>
  </section>
</template>
