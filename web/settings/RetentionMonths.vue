<script setup lang="ts">
/** For how many months each kind of data is kept, and what of it is due today. */
import { locale, spoken, t } from '@/words';
import Figures from '@/kit/Figures.vue';
import NumberInput from '@/kit/NumberInput.vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { call } from '@/api';
import { useWork } from '@/stores/work';
import { type RetentionKind, retentionWords } from '#core/retention/index';
import { useAgain, useLoad } from '@/kit/load';

const work = useWork();
const reload = useAgain();
const query = useLoad(t('year.retention'), 'GET /api/retention');
const sheet = computed(() => query.data.value);
async function set(kind: RetentionKind, months: number | null): Promise<void> {
  if (!months || months === sheet.value?.retention[kind]) return;
  try {
    await call('POST /api/retention', { body: { [kind]: months } });
    work.say(t('year.savedNothingIsPurgedUntil'));
  } catch (error) {
    work.wrong(error);
  }
  await reload('GET /api/retention', 'GET /api/ribbon');
}
const n = (count: number) => count.toLocaleString(locale);
</script>

<template>
  <section v-if="sheet" class="grid gap-12px content-start justify-items-start">
    <h1>{{ t('settings.retention') }}</h1>
    <Figures
      :rows="sheet.kinds"
      :row-key="(k) => k.kind"
      :columns="[
        { key: 'what', title: t('year.what'), heading: true },
        { key: 'months', title: t('year.keepForMonths') },
        { key: 'due', title: t('year.dueToday'), number: true },
      ]"
    >
      <template #what="{ row: k }">{{ spoken(retentionWords[k.kind]) }}</template>
      <template #months="{ row: k }">
        <NumberInput
          class="w-70px"
          lazy
          :min="1"
          :max="240"
          :value="sheet.retention[k.kind]"
          :aria-label="t('year.monthsFor', { kind: spoken(retentionWords[k.kind]) })"
          @update:value="(months) => set(k.kind, months || null)"
        />
      </template>
      <template #due="{ row: k }"
        ><b :class="{ rust: k.due }">{{ n(k.due) }}</b></template
      >
    </Figures>
    <p class="quiet max-w-640px">
      {{ t('settings.purgedIn') }} <RouterLink to="/year/retention">{{ t('settings.toRetention') }}</RouterLink>
    </p>
  </section>
</template>
