<script setup lang="ts">
/** The people behind a count of the summary: the first of them by name, and all of them to be gathered. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import type { YearGroup } from '#core/year/index';
import { gradeLabel } from '#core/tabular/values';
import { useLoad } from '@/kit/load';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';

const props = defineProps<{ group: YearGroup; school: string | null; title: string }>();
defineEmits<{ close: [] }>();
const sheaf = useSheaf();
const work = useWork();
const list = useLoad(t('year.thePreview'), 'GET /api/year/rehearsal/people', () => ({
  query: { group: props.group, school: props.school ?? undefined },
}));
const found = computed(() => list.data.value ?? null);
async function gather(): Promise<void> {
  try {
    await sheaf.mark(found.value!.ids, true);
    sheaf.version++;
  } catch (error) {
    work.wrong(error);
  }
}
</script>

<template>
  <section
    v-if="found"
    class="ruled py-8px px-12px grid gap-8px"
    :aria-label="title"
    @keydown.esc.stop="$emit('close')"
  >
    <div class="row">
      <h3 class="grow">{{ title }} · {{ found.ids.length }}</h3>
      <Button size="small" @click="gather">{{ t('year.gatherThem', { count: found.ids.length }) }}</Button>
      <Button type="text" size="small" @click="$emit('close')">{{ t('common.close') }}</Button>
    </div>
    <ul
      class="max-h-140px overflow-auto grid [grid-template-columns:repeat(auto-fill,minmax(240px,1fr))] gap-x-16px"
      tabindex="0"
      :aria-label="title"
    >
      <li v-for="one in found.people" :key="one.id">
        <RouterLink :to="`/people/${one.id}`">{{ one.label }}</RouterLink>
        <span v-if="one.grade" class="quiet">{{ ` · ${t('year.inGrade', { grade: gradeLabel(one.grade) })}` }}</span>
      </li>
      <li v-if="found.ids.length > found.people.length" class="quiet">
        {{ t('year.andMore', { list: found.ids.length - found.people.length }) }}
      </li>
    </ul>
  </section>
</template>
