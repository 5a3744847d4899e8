<script setup lang="ts">
/** The keys with which products report usage: since when each has one, when it was last used, and a new one. */
import { t } from '@/words';
import Figures from '@/kit/Figures.vue';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { momentWords } from '@/time';
import { useLoad } from '@/kit/load';

const work = useWork();
const products = useLoad(t('use.products'), 'GET /api/product-keys');
const rows = computed(() => products.data.value ?? []);
const made = ref<{ id: string; name: string; secret: string; address: string } | null>(null);
async function make(id: string): Promise<void> {
  try {
    made.value = { id, ...(await call('POST /api/products/:id/key', { id })) };
  } catch (error) {
    work.wrong(error);
  }
  await products.refetch();
}
const whose = computed(() => rows.value.find(({ id }) => id === made.value?.id)?.label ?? '');
</script>

<template>
  <section class="grid gap-12px content-start justify-items-start">
    <h1>{{ t('settings.products') }}</h1>
    <p class="quiet max-w-640px">{{ t('settings.productsHint') }}</p>
    <Figures
      v-if="rows.length > 0"
      :rows="rows"
      :row-key="(row) => row.id"
      :columns="[
        { key: 'label', title: t('settings.product'), heading: true },
        { key: 'madeAt', title: t('settings.keySince') },
        { key: 'lastAt', title: t('settings.lastReport') },
        { key: 'make', title: t('settings.newKey'), untitled: true },
      ]"
    >
      <template #madeAt="{ row }">{{ row.madeAt ? momentWords(row.madeAt) : t('settings.noKey') }}</template>
      <template #lastAt="{ row }">{{ row.lastAt ? momentWords(row.lastAt) : '—' }}</template>
      <template #make="{ row }">
        <Button
          size="small"
          :aria-label="t(row.madeAt ? 'settings.replaceKeyOf' : 'settings.createKeyFor', { name: row.label })"
          @click="make(row.id)"
          >{{ row.madeAt ? t('settings.replaceKey') : t('use.createKey') }}</Button
        >
      </template>
    </Figures>
    <p v-else-if="products.data.value" class="quiet">{{ t('settings.noProducts') }}</p>
    <dl
      v-if="made"
      class="grid [grid-template-columns:max-content_1fr] gap-y-2px gap-x-16px text-13px bg-straw-wash p-12px"
      role="status"
    >
      <dt class="c-quiet">{{ t('settings.product') }}</dt>
      <dd>{{ whose }}</dd>
      <dt class="c-quiet">{{ t('use.sendsXapi103') }}</dt>
      <dd class="mono break-anywhere">{{ made.address }}</dd>
      <dt class="c-quiet">{{ t('use.name') }}</dt>
      <dd class="mono break-anywhere">{{ made.name }}</dd>
      <dt class="c-quiet">{{ t('use.keyShownThisOnce') }}</dt>
      <dd class="mono break-anywhere [user-select:all]">{{ made.secret }}</dd>
    </dl>
  </section>
</template>
