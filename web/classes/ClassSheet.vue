<script setup lang="ts">
/** One class beside the list: what is missing, its code, its groups and its facts. Its students are on its page. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { RouterLink } from 'vue-router';
import type { ClassRow } from '../../server/contract';
import ClassCodes from '@/joining/ClassCodes.vue';
import Part from '@/kit/Part.vue';
import ClassFacts from './ClassFacts.vue';
import ClassGroups from './ClassGroups.vue';
import ClassNeeds from './ClassNeeds.vue';
import { useClassActions } from './actions';

const props = defineProps<{ one: ClassRow }>();
defineEmits<{ close: []; changed: [] }>();
const actions = useClassActions(() => props.one);
</script>

<template>
  <section class="one beside" :aria-label="t('common.class')" @keydown.esc="$emit('close')">
    <header class="row top items-start">
      <div class="grow">
        <h2 class="title">
          <RouterLink :to="`/classes/${one.id}`">{{ one.name }}</RouterLink>
        </h2>
        <p class="quiet">
          {{ one.school }} · {{ one.teachers ?? t('classes.noTeacher') }} ·
          {{ t('classes.countStudents', { n: one.students }) }}
        </p>
      </div>
      <Button type="text" size="small" :aria-label="t('classes.closeTheClass')" @click="$emit('close')">{{
        t('common.close')
      }}</Button>
    </header>
    <ClassNeeds :one="one" />
    <div v-if="one.kind === 'template'" class="row flex-wrap">
      <Button @click="actions.look('/classes/work')">{{ t('classes.assignments') }}</Button>
    </div>
    <div v-else class="row flex-wrap">
      <Button @click="actions.gather">{{
        t('classes.gather', { students: t('classes.countStudents', { n: one.students }) })
      }}</Button><Button @click="actions.cards">{{ t('classes.printCards') }}</Button
      ><Button @click="actions.showCode">{{ t('classes.showCode') }}</Button>
    </div>
    <Part v-if="one.kind !== 'template'" fit><ClassCodes :class-id="one.id" /></Part>
    <Part fit><ClassGroups :one="one" /></Part>
    <section>
      <h2>{{ t('classes.details') }}</h2>
      <ClassFacts :one="one" @changed="$emit('changed')" />
    </section>
  </section>
</template>

<style scoped>
.one {
  width: 360px;
}
</style>
