<script setup lang="ts">
/** One class: its students as a worksheet, one of them beside it, and what belongs to the class. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import type { PeopleSort, PersonRow } from '../../server/contract';
import { call } from '@/api';
import { gradeLabel } from '#core/tabular/values';
import { givenShown } from '#core/entities/index';
import { useCarryOut } from '@/frame/keys';
import ClassCodes from '@/joining/ClassCodes.vue';
import More from '@/kit/More.vue';
import Page from '@/kit/Page.vue';
import Part from '@/kit/Part.vue';
import { onShown, useAgain, useLoad } from '@/kit/load';
import Missing from '@/people/Missing.vue';
import RecordSheet from '@/people/RecordSheet.vue';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import AddPeople from './AddPeople.vue';
import ClassFacts from './ClassFacts.vue';
import ClassGroups from './ClassGroups.vue';
import ClassNeeds from './ClassNeeds.vue';
import Reshape from './Reshape.vue';
import Teachers from './Teachers.vue';
import { useClassActions } from './actions';

const route = useRoute();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const reload = useAgain();
const id = String(route.params.id);
const page = useLoad(t('classes.thisClass'), 'GET /api/classes/:id', { id });
const one = computed(() => page.data.value ?? null);
const order = ref<{ sort: PeopleSort; desc: boolean }>({ sort: 'family', desc: false });
const list = useLoad(
  t('classes.students'),
  'GET /api/people',
  () => ({ query: { classId: id, limit: 1000, ...order.value } }),
  {
    also: computed(() => sheaf.version),
  },
);
const rows = computed(() => list.data.value?.rows ?? []);
const actions = useClassActions(() => one.value!);

const adding = ref(false);
const reshaping = ref<'split' | 'combine' | null>(null);
const open = ref(false);
const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
onShown(() => sheet.value?.focus());
const back = () => sheet.value?.focus();
const changed = () => reload('GET /api/classes/:id', 'GET /api/people', 'GET /api/classes', 'GET /api/today/classes');

async function remove(personId: string): Promise<void> {
  try {
    const { planId, sentence } = await call('POST /api/classes/:id/people/remove', { id, body: { personId } });
    work.say(sentence, { label: t('common.undo'), run: () => void work.undo(planId).then(changed) });
    await changed();
  } catch (error) {
    work.wrong(error);
  }
}
async function gather(which: PersonRow[], on: boolean): Promise<void> {
  try {
    await sheaf.mark(
      which.map((row) => row.id),
      on,
    );
  } catch (error) {
    work.wrong(error);
  }
}
useCarryOut(() => (adding.value = true));

const columns: Col[] = [
  { key: 'family', label: t('classes.familyName'), width: 'minmax(110px, 1.2fr)', sortable: true },
  { key: 'given', label: t('classes.givenName'), width: 'minmax(100px, 1.1fr)', sortable: true },
  { key: 'number', label: t('common.number'), width: '84px', mono: true, sortable: true },
  { key: 'grade', label: t('common.grade'), width: '48px', align: 'right', sortable: true },
  { key: 'username', label: t('common.username'), width: 'minmax(110px, 1fr)', mono: true, sortable: true },
  { key: 'missing', label: t('classes.missing'), width: 'minmax(110px, 1fr)' },
  { key: 'act', label: '', width: '76px', align: 'right' },
];
const more = computed(() => [
  { label: t('classes.assignments'), run: () => actions.look('/classes/work') },
  { label: t('classes.usage'), run: () => actions.look('/classes/use') },
  { label: t('classes.gatherAllStudents'), run: () => void actions.gather() },
  { label: t('classes.splitClass'), run: () => (reshaping.value = 'split') },
  { label: t('classes.combineWithAnotherClass'), run: () => (reshaping.value = 'combine') },
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
      <Button @click="actions.cards">{{ t('classes.printCards') }}</Button>
      <Button @click="actions.showCode">{{ t('classes.showCode') }}</Button>
      <More :items="more" />
    </template>
    <section class="roster">
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
      <div class="list-below">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          :label="t('classes.studentsOf', { name: one.name })"
          name="roster"
          :rows="rows"
          :columns="columns"
          gatherable
          :is-gathered="sheaf.holds"
          :sort="order.sort"
          :desc="order.desc"
          :empty="t('classes.noStudentsYetAddThem')"
          @open="open = true"
          @gather="gather"
          @gather-all="actions.gather"
          @remove="(row) => remove(row.id)"
          @sort="(key) => (order = { sort: key as PeopleSort, desc: order.sort === key ? !order.desc : false })"
          @keydown.esc="open = false"
        >
          <template #family="{ row }"
            ><RouterLink :to="`/people/${row.id}`" tabindex="-1">{{ row.familyName }}</RouterLink></template
          >
          <template #given="{ row }">{{ givenShown(row) }}</template>
          <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
          <template #missing="{ row }"><Missing :lacks="row.lacks" /></template>
          <template #act="{ row }"
            ><Button
              v-if="row.id === focused"
              type="text"
              size="small"
              tabindex="-1"
              :aria-label="
                t('classes.removeFrom', { row: givenShown(row), familyName: row.familyName, name: one.name })
              "
              @click.stop="remove(row.id)"
              >{{ t('common.remove') }}</Button
            ></template
          >
        </Worksheet>
      </div>
    </section>
    <Part v-if="open && focused" fit
      ><RecordSheet
        :id="focused"
        :class-id="id"
        @open="focused = $event"
        @close="
          open = false;
          back();
        "
    /></Part>
    <aside v-else class="about beside" :aria-label="t('classes.about', { name: one.name })">
      <Teachers :staff="one.staff" @remove="remove" />
      <Part fit><ClassCodes :class-id="id" /></Part>
      <Part fit><ClassGroups :one="one" /></Part>
      <section>
        <h2>{{ t('classes.details') }}</h2>
        <ClassFacts :one="one" @changed="changed" />
      </section>
    </aside>
  </Page>
</template>

<style scoped>
.roster {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.about {
  width: 330px;
}
@media (max-width: 700px) {
  .roster {
    flex: none;
    height: 70vh;
  }
}
</style>
