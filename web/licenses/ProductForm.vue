<script setup lang="ts">
/** A product that is not there yet, or one that is corrected. */
import { Button } from 'ant-design-vue';
import { computed, onMounted, ref } from 'vue';
import type { ProductRow } from '../../server/contract';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import type { Product } from '#core/entities/index';
import { productFields } from './forms';
import GradeSpan from './GradeSpan.vue';
import { useAgain } from '@/kit/load';

const props = defineProps<{ products: ProductRow[]; product: Product | null }>();
const emit = defineEmits<{ close: []; made: [id: string] }>();
const work = useWork();
const reload = useAgain();
const fields = ref(productFields(props.product));
const title = computed(() => (props.product ? 'Edit the product' : 'New product'));
const first = ref<HTMLInputElement | null>(null);
onMounted(() => first.value?.focus());
async function keep(): Promise<void> {
  try {
    const { name } = fields.value;
    const { planId, id } = await call('POST /api/products', {
      body: { id: props.product?.id ?? null, fields: fields.value },
    });
    const said = props.product ? `${name} is corrected.` : `${name} is added. Now its license and who is entitled.`;
    work.say(said, { label: 'Undo', run: () => work.undo(planId) });
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
      <label>name <input ref="first" v-model="fields.name" class="box" required maxlength="120" /></label>
      <label>publisher <input v-model="fields.publisher" class="box" maxlength="120" /></label>
      <label>edition <input v-model="fields.edition" class="box" maxlength="40" /></label>
      <label>subject <input v-model="fields.subject" class="box" maxlength="80" /></label>
      <GradeSpan v-model:low="fields.lowGrade" v-model:high="fields.highGrade" />
      <label
        >takes the place of
        <select v-model="fields.supersedes" class="pick">
          <option :value="null">none</option>
          <option v-for="p in products.filter(({ id }) => id !== product?.id)" :key="p.id" :value="p.id">
            {{ p.label }}
          </option>
        </select></label
      >
      <Button html-type="submit" type="primary">{{ product ? 'Keep it so' : 'Add the product' }}</Button>
      <button class="plain quiet" type="button" @click="emit('close')">Back <kbd>Esc</kbd></button>
    </div>
  </form>
</template>
