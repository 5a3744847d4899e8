<script setup lang="ts">
/** One class: its students as a worksheet, one of them beside it, and what belongs to the class. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { call } from '@/api';
import { gradeLabel } from '#core/tabular/values';
import { givenShown } from '#core/entities/index';
import { useCarryOut } from '@/frame/keys';
import ClassCodes from '@/joining/ClassCodes.vue';
import { useChange } from '@/kit/change';
import More from '@/kit/More.vue';
import Page from '@/kit/Page.vue';
import Part from '@/kit/Part.vue';
import { useAgain, useLoad } from '@/kit/load';
import Roster from '@/people/Roster.vue';
import { useSession } from '@/stores/session';
import AddPeople from './AddPeople.vue';
import ClassFacts from './ClassFacts.vue';
import ClassGroups from './ClassGroups.vue';
import ClassNeeds from './ClassNeeds.vue';
import Reshape from './Reshape.vue';
import Teachers from './Teachers.vue';
import { useClassActions } from './actions';

const route = useRoute();
const router = useRouter();
const session = useSession();
const reload = useAgain();
const id = String(route.params.id);
const page = useLoad(t('classes.thisClass'), 'GET /api/classes/:id', { id });
const one = computed(() => page.data.value ?? null);
const actions = useClassActions(() => one.value!);

const adding = ref(false);
const reshaping = ref<'split' | 'combine' | null>(null);
const sheet = ref<{ focus: () => void } | null>(null);
const back = () => sheet.value?.focus();
const changed = () => reload('GET /api/classes/:id', 'GET /api/people', 'GET /api/classes', 'GET /api/today/classes');

const change = useChange(changed);
const remove = (personId: string) =>
  change(
    () => call('POST /api/classes/:id/people/remove', { id, body: { personId } }),
    ({ sentence }) => sentence,
  );
useCarryOut(() => (adding.value = true));

/** It has teachers alone, who keep assignments in it to copy. */
const isForStaff = computed(() => one.value?.kind === 'template');
const more = computed(() => [
  { label: t('classes.assignments'), run: () => actions.look('/classes/work') },
  ...(isForStaff.value
    ? []
    : [
        { label: t('classes.progress'), run: () => void router.push(`/classes/${id}/progress`) },
        { label: t('classes.usage'), run: () => actions.look('/classes/use') },
        { label: t('classes.forNextYear'), run: () => void router.push(`/classes/${id}/notes`) },
        { label: t('classes.gatherAllStudents'), run: () => void actions.gather() },
        { label: t('classes.splitClass'), run: () => (reshaping.value = 'split') },
        { label: t('classes.combineWithAnotherClass'), run: () => (reshaping.value = 'combine') },
      ]),
  ...(session.may('classes.templates')
    ? [{ label: t('classes.saveAsTemplate'), run: () => void actions.saveAsTemplate() }]
    : []),
  { label: t('classes.endClass'), run: () => void actions.end(), danger: true },
]);
</script>

<template>
  <Page v-if="one" :title="one.name" :count="t('classes.countStudents', { n: one.students })">
    <template #back
      ><RouterLink to="/classes">{{ t('classes.classes2') }}</RouterLink></template
    >
    <template #about>
      {{
        [
          one.school,
          one.grade && t('classes.grade2', { grade: gradeLabel(one.grade) }),
          one.subject,
          one.teachers ?? t('classes.noTeacher'),
        ]
          .filter(Boolean)
          .join(' · ')
      }}
    </template>
    <template #actions>
      <Button type="primary" @click="adding = true">{{ t('classes.addPeople') }}</Button>
      <template v-if="!isForStaff">
        <Button @click="actions.cards">{{ t('classes.printCards') }}</Button>
        <Button @click="actions.showCode">{{ t('classes.showCode') }}</Button>
      </template>
      <Button v-else @click="actions.look('/classes/work')">{{ t('classes.assignments') }}</Button>
      <More :items="more" />
    </template>
    <Roster
      ref="sheet"
      :filter="{ classId: id }"
      :label="t('classes.studentsOf', { name: one.name })"
      :empty="isForStaff ? t('classes.forTeachersAlone') : t('classes.noStudentsYetAddThem')"
      :removable="
        (row) => t('classes.removeFrom', { row: givenShown(row), familyName: row.familyName, name: one!.name })
      "
      @remove="(row) => remove(row.id)"
    >
      <template #above>
        <AddPeople
          v-if="adding"
          :one="one"
          @close="
            adding = false;
            back();
          "
          @changed="changed"
        />
        <Reshape
          v-if="reshaping"
          :key="reshaping"
          :one="one"
          :how="reshaping"
          @close="
            reshaping = null;
            back();
          "
        />
        <ClassNeeds class="bar" :one="one" />
      </template>
      <template #beside>
        <section class="about beside" :aria-label="t('classes.about', { name: one.name })">
          <Teachers :staff="one.staff" @remove="remove" />
          <Part v-if="!isForStaff" fit><ClassCodes :class-id="id" /></Part>
          <Part fit><ClassGroups :one="one" /></Part>
          <section>
            <h2>{{ t('classes.details') }}</h2>
            <ClassFacts :one="one" @changed="changed" />
          </section>
        </section>
      </template>
    </Roster>
  </Page>
</template>

<style scoped>
.about {
  width: 330px;
}
</style>
