<script setup lang="ts">
/** A product that is not there yet, or one that is corrected. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import Suggest from '@/kit/Suggest.vue';
import TextInput from '@/kit/TextInput.vue';
import { useUnsaved } from '@/kit/unsaved';
import { computed, ref } from 'vue';
import type { ProductRow } from '../../server/contract';
import { call } from '@/api';
import type { Product } from '#core/entities/index';
import { productFields } from './forms';
import GradeSpan from './GradeSpan.vue';
import { onShown, useAgain, useLoad } from '@/kit/load';

const props = defineProps<{ products: ProductRow[]; product: Product | null }>();
const emit = defineEmits<{ close: []; made: [id: string] }>();
const change = useChange(useAgain());
const fields = ref(productFields(props.product));
const before = JSON.stringify(fields.value);
let isSaved = false;
useUnsaved(() => !isSaved && JSON.stringify(fields.value) !== before);
const known = useLoad(t('licenses.subjects'), 'GET /api/subjects', () => ({}), { alone: true });
/** Those that have what is typed. */
const subjects = computed(() =>
  (known.data.value?.subjects ?? [])
    .filter((value) => value.toLowerCase().includes(subject.value.toLowerCase()) && value !== subject.value)
    .map((value) => ({ value })),
);
const subject = computed({ get: () => fields.value.subject ?? '', set: (typed) => (fields.value.subject = typed) });
const title = computed(() => (props.product ? t('licenses.editProduct') : t('licenses.newProduct')));
const first = ref<HTMLInputElement | null>(null);
onShown(() => first.value?.focus());
async function keep(): Promise<void> {
  const { name } = fields.value;
  const body = { id: props.product?.id ?? null, fields: fields.value };
  const said = props.product ? t('licenses.saved', { name }) : t('licenses.isAddedNextAddIts', { name });
  const made = await change(() => call('POST /api/products', { body }), said);
  if (!made) return;
  isSaved = true;
  emit('made', made.id);
}
</script>

<template>
  <form class="ordering" :aria-label="title" @submit.prevent="keep" @keydown.esc.stop="emit('close')">
    <div class="ask row">
      <h2>{{ title }}</h2>
      <label
        >{{ t('licenses.name') }} <TextInput ref="first" v-model:value="fields.name" required maxlength="120"
      /></label>
      <label>{{ t('licenses.publisher') }} <TextInput v-model:value="fields.publisher" maxlength="120" /></label>
      <label>{{ t('licenses.edition') }} <TextInput v-model:value="fields.edition" maxlength="40" /></label>
      <label
        >{{ t('licenses.subject') }} <Suggest v-model:value="subject" :options="subjects" :maxlength="80" loose
      /></label>
      <GradeSpan v-model:low="fields.lowGrade" v-model:high="fields.highGrade" />
      <label
        >{{ t('licenses.replaces') }}
        <Choice v-model:value="fields.supersedes">
          <SelectOption :value="null">{{ t('common.none') }}</SelectOption>
          <SelectOption v-for="p in products.filter(({ id }) => id !== product?.id)" :key="p.id" :value="p.id">
            {{ p.label }}
          </SelectOption>
        </Choice></label
      >
      <Button html-type="submit" type="primary">{{ product ? t('licenses.save2') : t('licenses.addProduct') }}</Button>
      <Button type="text" size="small" @click="emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('licenses.esc') }}</kbd></span
        ></Button
      >
    </div>
  </form>
</template>
