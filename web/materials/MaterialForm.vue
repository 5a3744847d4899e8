<script setup lang="ts">
/** A material that is not there yet, or one that is corrected. */
import { t } from '@/words';
import { Button, SelectOption } from 'ant-design-vue';
import { ref } from 'vue';
import type { MaterialFields, ProductRow } from '../../server/contract';
import Choice from '@/kit/Choice.vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import GradeSpan from '@/licenses/GradeSpan.vue';
import { materialKinds } from '#core/entities/index';
import { onShown } from '@/kit/load';

defineProps<{ id: string | null; products: ProductRow[] }>();
const fields = defineModel<MaterialFields>('fields', { required: true });
defineEmits<{ keep: []; close: [] }>();
const first = ref<{ focus: () => void } | null>(null);
onShown(() => first.value?.focus());
</script>

<template>
  <form
    class="ordering"
    :aria-label="id ? t('materials.editMaterial') : t('materials.newMaterial')"
    @submit.prevent="$emit('keep')"
    @keydown.esc.stop="$emit('close')"
  >
    <div class="ask row">
      <h2>{{ id ? t('materials.save') : t('materials.newMaterial') }}</h2>
      <label
        >{{ t('materials.title') }} <TextInput ref="first" v-model:value="fields.title" required maxlength="200"
      /></label>
      <label
        >{{ t('materials.from') }}
        <Choice v-model:value="fields.productId">
          <SelectOption v-for="p in products" :key="p.id" :value="p.id">{{ p.label }}</SelectOption>
        </Choice></label
      >
      <label
        >{{ t('materials.kind2') }}
        <Choice v-model:value="fields.kind">
          <SelectOption v-for="k in materialKinds" :key="k" :value="k">{{ k }}</SelectOption>
        </Choice></label
      >
      <GradeSpan v-model:low="fields.lowGrade" v-model:high="fields.highGrade" />
      <label>{{ t('materials.subject2') }} <TextInput v-model:value="fields.subject" maxlength="80" /></label>
      <label
        >{{ t('materials.minutes') }} <NumberInput v-model:value="fields.minutes" class="w-70px" :min="1" :max="6000"
      /></label>
      <label
        >{{ t('materials.needs2') }}
        <TextInput v-model:value="fields.needs" maxlength="120" :placeholder="t('materials.headphones')"
      /></label>
      <label
        >{{ t('materials.opens3') }}
        <TextInput
          v-model:value="fields.address"
          type="url"
          required
          maxlength="300"
          :placeholder="t('materials.https')"
      /></label>
      <Button html-type="submit" type="primary">{{ id ? t('materials.save2') : t('materials.addMaterial') }}</Button>
      <Button type="text" size="small" @click="$emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('materials.esc') }}</kbd></span
        ></Button
      >
    </div>
  </form>
</template>
