<script setup lang="ts">
/** How a product tells of its use: by statements that it sends with a key of its own, or by a list. */
import { t } from '@/words';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import { ref } from 'vue';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { onShown, useLoad } from '@/kit/load';

const emit = defineEmits<{ close: [] }>();
const work = useWork();
const products = useLoad(t('use.products'), 'GET /api/products');
const product = ref('');
const made = ref<{ name: string; secret: string; address: string } | null>(null);
const first = ref<{ focus: () => void } | null>(null);
onShown(() => first.value?.focus());
async function make(): Promise<void> {
  try {
    made.value = await call('POST /api/products/:id/key', { id: product.value });
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <form class="ordering" :aria-label="t('use.usageReporting')" @submit.prevent="make" @keydown.esc.stop="emit('close')">
    <div class="ask row">
      <h2>{{ t('use.usageReporting') }}</h2>
      <label
        >{{ t('use.from2') }}
        <Choice ref="first" v-model:value="product" @update:value="made = null">
          <SelectOption value="">{{ t('use.chooseOne') }}</SelectOption>
          <SelectOption v-for="p in products.data.value?.products" :key="p.id" :value="p.id">{{
            p.label
          }}</SelectOption>
        </Choice></label
      >
      <Button html-type="submit" type="primary" :disabled="!product">{{ t('use.createKey') }}</Button>
      <span class="quiet">{{ t('use.olderKeysOfTheProduct') }}</span>
      <span class="grow" />
      <Button type="text" size="small" @click="emit('close')"
        ><span
          >{{ t('common.back') }} <kbd>{{ t('use.esc') }}</kbd></span
        ></Button
      >
    </div>
    <dl v-if="made" class="key grid [grid-template-columns:max-content_1fr] gap-y-2px gap-x-16px mt-8px text-13px">
      <dt class="c-quiet">{{ t('use.sendsXapi103') }}</dt>
      <dd class="mono break-anywhere">{{ made.address }}</dd>
      <dt class="c-quiet">{{ t('use.name') }}</dt>
      <dd class="mono break-anywhere">{{ made.name }}</dd>
      <dt class="c-quiet">{{ t('use.keyShownThisOnce') }}</dt>
      <dd class="mono break-anywhere">{{ made.secret }}</dd>
    </dl>
  </form>
</template>
