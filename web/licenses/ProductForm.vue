<script setup lang="ts">
/** A product that is not there yet, or one that is corrected. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import type { ProductRow } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import type { Product } from '#core/entities/index';
import { productFields } from './forms';
import GradeSpan from './GradeSpan.vue';
import { onShown, useAgain } from '@/kit/load';

const props = defineProps<{ products: ProductRow[]; product: Product | null }>();
const emit = defineEmits<{ close: []; made: [id: string] }>();
const work = useWork();
const reload = useAgain();
const fields = ref(productFields(props.product));
const title = computed(() => (props.product ? t('licenses.editProduct') : t('licenses.newProduct')));
const first = ref<HTMLInputElement | null>(null);
onShown(() => first.value?.focus());
async function keep(): Promise<void> {
  try {
    const { name } = fields.value;
    const { planId, id } = await call('POST /api/products', {
      body: { id: props.product?.id ?? null, fields: fields.value },
    });
    const said = props.product ? t('licenses.saved', { name }) : t('licenses.isAddedNextAddIts', { name });
    work.say(said, { label: t('common.undo'), run: () => work.undo(planId) });
    await reload();
    emit('made', id);
  } catch (error) {
    work.wrong(error);
  }
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
      <label>{{ t('licenses.subject') }} <TextInput v-model:value="fields.subject" maxlength="80" /></label>
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
