<script setup lang="ts">
/** Classes: the worksheet, and beside it the roster of the focused one. */
import { useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { Button } from 'ant-design-vue';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { ClassRow } from '../../server/api/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import NewClasses from '@/classes/NewClasses.vue';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import { gradeLabel, parseGrade } from '#core/tabular/values';

const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const router = useRouter();
const narrow = ref('');
const q = refDebounced(narrow, 120);
const query = computed(() => ({
  school: session.where.school ?? undefined,
  grade: session.where.grade ?? undefined,
  q: q.value || undefined,
}));
const list = useQuery({
  queryKey: ['classes', query],
  queryFn: () => call('GET /api/classes', { query: query.value }),
  placeholderData: (before) => before,
});
const rows = computed(() => list.data.value ?? []);
const focused = ref<string | null>(null);
const chosen = computed(() => rows.value.find(({ id }) => id === focused.value) ?? null);
const open = ref(false);
const roster = useQuery({
  queryKey: ['roster', computed(() => chosen.value?.id ?? ''), computed(() => sheaf.version)],
  queryFn: () => call('GET /api/people', { query: { classId: chosen.value!.id, limit: 500 } }),
  enabled: computed(() => open.value && chosen.value !== null),
  placeholderData: (before) => before,
});
const sheet = ref<WorksheetHandle | null>(null);
onMounted(() => sheet.value?.focus());

const columns: Col[] = [
  { key: 'name', label: 'Class', width: 'minmax(130px, 1.2fr)' },
  { key: 'school', label: 'School', width: 'minmax(120px, 1fr)' },
  { key: 'grade', label: 'Gr', width: '32px', align: 'right' },
  { key: 'subject', label: 'Subject', width: 'minmax(90px, 0.8fr)' },
  { key: 'teachers', label: 'Teachers', width: 'minmax(140px, 1.2fr)' },
  { key: 'students', label: 'Students', width: '70px', align: 'right' },
  { key: 'lackCard', label: 'Lack a card', width: '86px', align: 'right' },
];
async function gatherClass(row: ClassRow): Promise<void> {
  try {
    await sheaf.gatherAll({ classId: row.id, role: 'student' });
  } catch (error) {
    work.wrong(error);
  }
}
const making = ref(false);
const schoolOfChosen = computed(() => session.me?.schools.find(({ name }) => name === chosen.value?.school)?.id);
/** Shows the class of that name, to be joined instead of made once more. */
function show(name: string): void {
  making.value = false;
  narrow.value = name;
  sheet.value?.focus();
}
type Field = 'name' | 'grade' | 'subject';
const edit = ref<{ field: Field; value: string } | null>(null);
const fields: [Field, string][] = [
  ['name', 'name'],
  ['grade', 'grade'],
  ['subject', 'subject'],
];
async function save(row: ClassRow): Promise<void> {
  if (!edit.value) return;
  const { field, value } = edit.value;
  edit.value = null;
  const after = (field === 'grade' ? parseGrade(value) : value.trim()) || null;
  if (after === row[field]) return;
  try {
    const { planId } = await call('POST /api/classes/:id/edit', {
      id: row.id,
      body: { field, before: row[field], after },
    });
    work.say(`${row.name}: ${field} is ${after ?? 'empty'} now.`, { label: 'Undo', run: () => work.undo(planId) });
    await list.refetch();
  } catch (error) {
    work.wrong(error);
  }
}
async function end(row: ClassRow): Promise<void> {
  try {
    const { planId } = await call('POST /api/classes/:id/end', { id: row.id });
    await router.push(`/plans/${planId}`);
  } catch (error) {
    work.wrong(error);
  }
}
const focusIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();
const cards = (row: ClassRow) => router.push({ path: '/handouts', query: { class: row.id } });
</script>

<template>
  <div class="classes">
    <section class="middle">
      <NewClasses v-if="making" :school="schoolOfChosen" @close="making = false" @made="list.refetch()" @open="show" />
      <div class="line">
        <label class="quiet">name or subject begins with <input v-model="narrow" class="pick" /></label
        ><span class="grow" /><ExportLine list="classes" :filter="query" /><span class="quiet"
          ><b>{{ rows.length.toLocaleString('en-US') }}</b> classes</span
        >
        <button v-if="session.isCoordinator && !making" class="plain dusk" type="button" @click="making = true">
          New classes
        </button>
      </div>
      <div class="sheet">
        <Worksheet
          ref="sheet"
          v-model:focused="focused"
          label="Classes"
          :rows="rows"
          :columns="columns"
          empty="No class yet. Classes come with the files of the intake, or are made here."
          @open="open = true"
          @act="gatherClass"
          @keydown.esc="open = false"
        >
          <template #grade="{ row }">{{ row.grade ? gradeLabel(row.grade) : '' }}</template>
          <template #teachers="{ row }"
            ><span v-if="row.teachers">{{ row.teachers }}</span
            ><span v-else class="rust">no teacher</span></template
          >
          <template #students="{ row }"
            ><span :class="{ rust: row.students === 0 }">{{ row.students }}</span></template
          >
          <template #lackCard="{ row }"
            ><span v-if="row.lackCard" class="rust">{{ row.lackCard }}</span
            ><span v-else class="quiet">—</span></template
          >
        </Worksheet>
      </div>
    </section>
    <aside v-if="open && chosen" class="roster" aria-label="Class" @keydown.esc="open = false">
      <header class="row">
        <div class="grow">
          <h1>{{ chosen.name }}</h1>
          <p class="quiet">{{ chosen.school }} · {{ chosen.teachers ?? 'no teacher' }}</p>
          <dl v-if="session.isCoordinator" class="facts">
            <template v-for="[field, label] in fields" :key="field">
              <dt class="quiet">{{ label }}</dt>
              <dd>
                <input
                  v-if="edit?.field === field"
                  :ref="focusIt"
                  v-model="edit.value"
                  class="box"
                  :aria-label="label"
                  @keydown.enter="save(chosen)"
                  @keydown.esc.stop="edit = null"
                  @blur="save(chosen)"
                />
                <button
                  v-else
                  class="plain"
                  type="button"
                  :aria-label="`Change the ${label}: ${chosen[field] ?? 'empty'}`"
                  @click="
                    edit = {
                      field,
                      value: field === 'grade' && chosen.grade ? gradeLabel(chosen.grade) : (chosen[field] ?? ''),
                    }
                  "
                >
                  {{ field === 'grade' ? gradeLabel(chosen.grade) : (chosen[field] ?? '—') }}
                </button>
              </dd>
            </template>
          </dl>
        </div>
        <button
          class="plain quiet"
          type="button"
          aria-label="Close the class"
          @click="
            open = false;
            sheet?.focus();
          "
        >
          Esc
        </button>
      </header>
      <div class="row">
        <Button @click="gatherClass(chosen)">Gather {{ chosen.students }}</Button
        ><Button @click="cards(chosen)">Cards</Button
        ><Button v-if="session.isCoordinator" @click="end(chosen)">End it</Button>
      </div>
      <ul>
        <li v-for="p in roster.data.value?.rows" :key="p.id">
          <span class="grow clip">{{ p.familyName }}, {{ p.givenName }}</span
          ><span class="mono quiet">{{ p.username }}</span
          ><span class="lack rust">{{ p.lacks.includes('card') ? 'card' : '' }}</span>
        </li>
      </ul>
    </aside>
  </div>
</template>

<style scoped>
.classes {
  display: flex;
  min-height: 0;
}
.middle {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.line {
  display: flex;
  gap: 8px;
  padding: 5px 16px;
  font-size: 13px;
  border-bottom: 1px solid var(--rule);
}
.sheet {
  flex: 1;
  min-height: 0;
}
.roster {
  width: 340px;
  flex: none;
  border-left: 1px solid var(--rule);
  background: var(--sheet);
  overflow: auto;
  padding: 12px 16px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.roster li {
  display: flex;
  gap: 8px;
  padding: 2px 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
  font-size: 13px;
}
.lack {
  width: 32px;
}
.facts {
  display: grid;
  grid-template-columns: 60px 1fr;
  gap: 2px 8px;
  margin-top: 8px;
  font-size: 13px;
}
</style>
