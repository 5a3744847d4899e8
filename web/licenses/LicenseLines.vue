<script setup lang="ts">
/** The licenses of a product, edited in place: each change is a plan of its own, with Undo. */
import { dayWords } from '@/time';
import { inWords, t } from '@/words';
import { useChange } from '@/kit/change';
import Fields from '@/kit/Fields.vue';
import Figures from '@/kit/Figures.vue';
import Choice from '@/kit/Choice.vue';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import DayInput from '@/kit/DayInput.vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { ref } from 'vue';
import type { LicenseFields, ProductSheet } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { cents, money, newLicense, renewal } from './forms';
import { useAgain } from '@/kit/load';

const props = defineProps<{ sheet: ProductSheet }>();
const session = useSession();
const change = useChange(useAgain());
/** The one that is being written; `id` null: a new one. */
const form = ref<{ id: string | null; fields: LicenseFields; cost: string; wide: boolean } | null>(null);

type License = ProductSheet['licenses'][number];
function fill(id: string | null, fields: LicenseFields): void {
  const cost = fields.costCents === null ? '' : String(fields.costCents / 100);
  form.value = { id, fields: { ...fields }, cost, wide: fields.seats === null };
}
const add = () => fill(null, newLicense(props.sheet.product.id, session.me!.year));
const edit = (license: License) => fill(license.id, fieldsOf(license));
const renew = (license: License) => fill(null, renewal(fieldsOf(license)));
function fieldsOf(license: License): LicenseFields {
  const { productId, schoolId, seats, begins, ends, costCents, orderNumber, trial } = license;
  return { productId, schoolId, seats, begins, ends, costCents, orderNumber, trial };
}

async function keep(): Promise<void> {
  const { id, fields, cost, wide } = form.value!;
  const body = { id, fields: { ...fields, seats: wide ? null : fields.seats, costCents: cents(cost) } };
  const said = id ? t('licenses.theLicenseIsSaved') : t('licenses.theLicenseIsAdded');
  if (await change(() => call('POST /api/licenses', { body }), said)) form.value = null;
}
</script>

<template>
  <section>
    <h2>{{ t('licenses.licenses') }}</h2>
    <Figures
      v-if="sheet.licenses.length > 0"
      :rows="sheet.licenses"
      :row-key="(l) => l.id"
      :columns="[
        { key: 'owner', title: t('licenses.owner'), heading: true },
        { key: 'seats', title: t('licenses.seats'), number: true },
        {
          key: 'held',
          title: t('licenses.assigned'),
          number: true,
          cellClass: (l) => ({ rust: l.seats !== null && l.held > l.seats }),
        },
        { key: 'begins', title: t('licenses.from') },
        { key: 'ends', title: t('licenses.to') },
        ...(sheet.licenses.some(({ mayEdit }) => mayEdit)
          ? [
              { key: 'cost', title: t('licenses.cost'), number: true },
              { key: 'orderNumber', title: t('licenses.order'), mono: true },
              { key: 'act', title: t('licenses.edit'), untitled: true },
            ]
          : []),
      ]"
    >
      <template #owner="{ row: l }">
        {{ l.school ?? t('licenses.district') }} <span v-if="l.trial" class="dusk">{{ t('licenses.trial') }}</span>
      </template>
      <template #begins="{ row: l }">{{ dayWords(l.begins) }}</template>
      <template #ends="{ row: l }">{{ dayWords(l.ends) }}</template>
      <template #seats="{ row: l }">{{ inWords(l.seats ?? t('licenses.siteLicense')) }}</template>
      <template #cost="{ row: l }">{{ l.costCents === null ? '—' : money(l.costCents) }}</template>
      <template #act="{ row: l }">
        <span v-if="l.mayEdit" class="row gap-0">
          <Button
            type="text"
            size="small"
            :aria-label="t('licenses.renewTheLicenseThatEnds', { ends: dayWords(l.ends) })"
            @click="renew(l)"
            >{{ t('licenses.renew') }}</Button
          >
          <Button
            type="text"
            size="small"
            :aria-label="t('licenses.editTheLicenseThatEnds', { ends: dayWords(l.ends) })"
            @click="edit(l)"
          >
            {{ t('common.edit') }}
          </Button>
        </span>
      </template>
    </Figures>
    <p v-else class="quiet">{{ t('licenses.noLicenseYetNoSeats') }}</p>
    <Fields v-if="form" :label="t('licenses.theLicense')" @save="keep" @cancel="form = null">
      <label
        >{{ t('licenses.owner') }}
        <Choice v-model:value="form.fields.schoolId">
          <SelectOption v-if="session.isEverywhere" :value="null">{{ t('licenses.district') }}</SelectOption>
          <SelectOption v-for="s in session.me?.schools ?? []" :key="s.id" :value="s.id">{{ s.name }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('licenses.seats') }} <NumberInput v-model:value="form.fields.seats" :min="1" :disabled="form.wide"
      /></label>
      <Checkbox v-model:checked="form.wide"> {{ t('licenses.siteLicense') }}</Checkbox>
      <label>{{ t('licenses.from') }} <DayInput v-model:value="form.fields.begins" required /></label>
      <label>{{ t('licenses.to') }} <DayInput v-model:value="form.fields.ends" required /></label>
      <label>{{ t('licenses.cost') }} <TextInput v-model:value="form.cost" inputmode="decimal" /></label>
      <label>{{ t('licenses.order') }} <TextInput v-model:value="form.fields.orderNumber" /></label>
      <Checkbox :checked="form.fields.trial === 1" @update:checked="(is) => form && (form.fields.trial = is ? 1 : 0)">{{
        t('licenses.trial2')
      }}</Checkbox>
      <template #actions>
        <Button html-type="submit" type="primary" size="small">{{
          form.id ? t('licenses.save') : t('licenses.add')
        }}</Button>
        <Button type="text" size="small" @click="form = null">{{ t('common.back') }}</Button>
      </template>
    </Fields>
    <Button v-else size="small" class="mt-8px" @click="add">{{ t('licenses.newLicense') }}</Button>
  </section>
</template>
