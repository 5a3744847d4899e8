<script setup lang="ts">
/** Sheaves that a person saved under a name: pressed, one takes the place of what is gathered. */
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { KeptSheaf } from '../../server/contract';
import { call } from '@/api';
import { useLoad } from '@/kit/load';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { t } from '@/words';

const sheaf = useSheaf();
const work = useWork();
const kept = useLoad(t('places.savedSheaves'), 'GET /api/sheaves', undefined, {
  also: computed(() => sheaf.version),
  alone: true,
});
async function run(what: () => Promise<unknown>): Promise<void> {
  try {
    await what();
  } catch (error) {
    work.wrong(error);
  }
}
const take = (one: KeptSheaf) => run(() => sheaf.takeKept(one.id));
const forget = (one: KeptSheaf) =>
  run(async () => {
    await call('POST /api/sheaves/:id/drop', { id: one.id });
    await kept.refetch();
  });
</script>

<template>
  <section v-if="kept.data.value?.length" class="px-12px pt-8px pb-4px text-13px">
    <h2>{{ t('places.savedSheaves2') }}</h2>
    <div v-for="one in kept.data.value" :key="one.id" class="flex gap-4px">
      <Button
        type="text"
        size="small"
        class="grow clip text-left"
        :title="t('places.gatherTheOf', { count: one.count, name: one.name })"
        @click="take(one)"
      >
        {{ one.name }}
      </Button>
      <span class="quiet">{{ one.count }}</span>
      <Button type="text" size="small" :aria-label="t('places.delete', { name: one.name })" @click="forget(one)">
        ×
      </Button>
    </div>
  </section>
</template>
