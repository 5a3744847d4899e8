<script setup lang="ts">
/** Earlier prints. A PDF can be opened again for a while by the person who printed it. */
import type { Handouts } from '../../server/contract';
import { momentWords } from '@/time';
import { t } from '@/words';

defineProps<{ prints: Handouts['prints'] | undefined }>();
</script>

<template>
  <section
    class="flex-none max-h-180px overflow-auto py-8px px-16px ruled-t text-13px"
    :aria-label="t('places.printHistory')"
  >
    <h2>{{ t('places.printHistory') }}</h2>
    <ul>
      <li v-for="p in prints" :key="p.id" class="flex gap-12px py-2px">
        <span class="quiet">{{ momentWords(p.at) }}</span><span class="grow clip">{{
          t('places.cards', { cards: p.cards, what: p.what, paper: p.paper })
        }}</span
        ><span class="quiet">{{ p.by }}</span
        ><a v-if="p.canFetch" :href="`/api/prints/${p.id}/pdf`" target="_blank">{{ t('places.open') }}</a>
      </li>
    </ul>
    <p v-if="prints?.length === 0" class="quiet">{{ t('places.nothingYet') }}</p>
  </section>
</template>
