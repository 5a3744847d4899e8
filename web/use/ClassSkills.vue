<script setup lang="ts">
/** What a class has not reached yet, as products report it: skills with who is where in them, and words that were missed. */
import type { ClassSkills } from '../../server/contract';
import { useLoad } from '@/kit/load';
import { t } from '@/words';

const props = defineProps<{ classId: string; group?: string; product?: string }>();
const load = useLoad(t('use.skillsAndWords'), 'GET /api/use/skills', () => ({
  query: { classId: props.classId, group: props.group, product: props.product },
}));
type Named = ClassSkills['words'][number]['people'];
/** Steps of a skill that is not reached, each with who is there. */
const steps = (of: { notYet: Named; nearly: Named }) =>
  [
    { label: t('use.notYet', { count: of.notYet.length }), people: of.notYet },
    { label: t('use.nearly', { count: of.nearly.length }), people: of.nearly },
  ].filter(({ people }) => people.length > 0);
</script>

<template>
  <div v-if="load.data.value" class="overflow-auto flex-1 py-4px px-16px" tabindex="0">
    <p v-if="load.data.value.skills.length + load.data.value.words.length === 0" class="quiet">
      {{ t('use.noSkillsReported') }}
    </p>
    <section v-if="load.data.value.skills.length > 0">
      <h2>{{ t('use.skills') }}</h2>
      <ul class="grid gap-8px pb-12px">
        <li v-for="one in load.data.value.skills" :key="`${one.product} ${one.skill}`">
          <h3>
            {{ one.skill }} <span class="quiet">{{ one.product }}</span>
          </h3>
          <p v-for="step in steps(one)" :key="step.label">
            <b>{{ step.label }}</b>:
            <template v-for="(who, i) in step.people" :key="who.id"
              ><template v-if="i > 0"> · </template
              ><RouterLink :to="`/people/${who.id}`">{{ who.name }}</RouterLink></template
            >
          </p>
          <p class="quiet">{{ t('use.reachedIt', { count: one.reached }) }}</p>
        </li>
      </ul>
    </section>
    <section v-if="load.data.value.words.length > 0">
      <h2>{{ t('use.wordsMissed') }}</h2>
      <ul class="grid gap-6px pb-12px">
        <li v-for="one in load.data.value.words" :key="`${one.product} ${one.word}`">
          <b>{{ one.word }}</b>&nbsp;<span class="quiet">{{
            t('use.missedBy', { students: one.people.length, times: one.times, product: one.product })
          }}</span>
          <p>
            <template v-for="(who, i) in one.people" :key="who.id"
              ><template v-if="i > 0"> · </template
              ><RouterLink :to="`/people/${who.id}`">{{ who.name }}</RouterLink></template
            >
          </p>
        </li>
      </ul>
    </section>
  </div>
</template>
