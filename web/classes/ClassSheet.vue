<script setup lang="ts">
/** Everything about one class, beside the list: its facts, codes, groups and roster, and asking for whoever is missing. */
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, nextTick, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { ClassRow } from '../../server/contract';
import { call } from '@/api';
import ClassCodes from '@/joining/ClassCodes.vue';
import { useSession } from '@/stores/session';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import { gradeLabel, parseGrade } from '#core/tabular/values';
import { classColors } from '#core/entities/index';
import ClassGroups from './ClassGroups.vue';
import ClassPicker from './ClassPicker.vue';
import { useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const props = defineProps<{ one: ClassRow }>();
const emit = defineEmits<{ close: []; changed: [] }>();
const session = useSession();
const sheaf = useSheaf();
const work = useWork();
const router = useRouter();
function lacking(lacks: string): void {
  session.go({ school: props.one.schoolId, grade: null, classId: props.one.id });
  void router.push({ path: '/people', query: { lacks } });
}
const roster = useLoad('people', 'GET /api/people', () => ({ query: { classId: props.one.id, limit: 500 } }), {
  also: computed(() => sheaf.version),
});

type Field = 'name' | 'grade' | 'subject' | 'period';
const edit = ref<{ field: Field; value: string } | null>(null);
const fields: [Field, string][] = [
  ['name', 'name'],
  ['grade', 'grade'],
  ['subject', 'subject'],
  ['period', 'period'],
];
const shown = (field: Field) => (field === 'grade' ? gradeLabel(props.one.grade) : props.one[field]) ?? '—';
async function save(): Promise<void> {
  if (!edit.value) return;
  const { field, value } = edit.value;
  edit.value = null;
  await set(field, (field === 'grade' ? parseGrade(value) : value.trim()) || null);
}
async function set(field: Field | 'color' | 'discuss' | 'invite', after: string | null): Promise<void> {
  const { one } = props;
  if (after === one[field]) return;
  try {
    const body = { field, before: one[field], after };
    const { planId } = await call('POST /api/classes/:id/edit', { id: one.id, body });
    work.say(`${one.name}: ${field} is ${after ?? 'empty'} now.`, { label: 'Undo', run: () => work.undo(planId) });
    emit('changed');
  } catch (error) {
    work.wrong(error);
  }
}
async function plan(ask: () => Promise<{ planId: string }>): Promise<void> {
  try {
    await router.push(`/plans/${(await ask()).planId}`);
  } catch (error) {
    work.wrong(error);
  }
}
const end = () => plan(() => call('POST /api/classes/:id/end', { id: props.one.id }));
const reshaping = ref<{ how: 'split' | 'combine'; names: string; other: string | null } | null>(null);
function reshape(): void {
  const { how, names, other } = reshaping.value!;
  const { id } = props.one;
  if (how === 'split') void plan(() => call('POST /api/classes/:id/split', { id, body: { names } }));
  else if (other) void plan(() => call('POST /api/classes/:id/combine', { id, body: { others: [other] } }));
}
async function keepAsTemplate(): Promise<void> {
  const { id, name, subject } = props.one;
  try {
    await call('POST /api/templates', { body: { name: [subject, name].filter(Boolean).join(' · '), classId: id } });
    work.say(`New classes can be made from ${name}: its kind, subject, period, color, policies and groups.`);
  } catch (error) {
    work.wrong(error);
  }
}
async function gather(): Promise<void> {
  try {
    await sheaf.gatherAll({ classId: props.one.id, role: 'student' });
  } catch (error) {
    work.wrong(error);
  }
}
const missing = ref<{ givenName: string; familyName: string; number: string; note: string } | null>(null);
const missingBox = ref<HTMLFormElement | null>(null);
async function miss(): Promise<void> {
  missing.value = { givenName: '', familyName: '', number: '', note: '' };
  await nextTick();
  missingBox.value?.querySelector('input')?.focus();
}
async function askFor(): Promise<void> {
  if (!missing.value) return;
  try {
    await call('POST /api/requests', { body: { kind: 'missing', classId: props.one.id, ...missing.value } });
    work.say(
      `${missing.value.givenName} ${missing.value.familyName} is asked for; the coordinator sees it under Today.`,
    );
    missing.value = null;
  } catch (error) {
    work.wrong(error);
  }
}
const focusIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();
</script>

<template>
  <aside class="one beside" aria-label="Class" @keydown.esc="$emit('close')">
    <header class="row top">
      <div class="grow">
        <h1>{{ one.name }}</h1>
        <p class="quiet">{{ one.school }} · {{ one.teachers ?? 'no teacher' }}</p>
        <dl class="facts">
          <template v-for="[field, label] in fields" :key="field">
            <dt class="quiet">{{ label }}</dt>
            <dd>
              <TextInput
                v-if="edit?.field === field"
                :ref="focusIt"
                v-model:value="edit.value"
                :aria-label="label"
                @keydown.enter="save"
                @keydown.esc.stop="edit = null"
                @blur="save"
              />
              <Button
                v-else
                type="text"
                size="small"
                :aria-label="`Change the ${label}: ${shown(field)}`"
                @click="
                  edit = { field, value: field === 'grade' && one.grade ? gradeLabel(one.grade) : (one[field] ?? '') }
                "
              >
                {{ shown(field) }}
              </Button>
            </dd>
          </template>
          <dt class="quiet">color</dt>
          <dd class="colors">
            <Button
              v-for="c in classColors"
              :key="c"
              size="small"
              :style="{ background: `var(--${c})` }"
              :aria-label="c"
              :aria-pressed="one.color === c"
              @click="set('color', one.color === c ? null : c)"
            />
          </dd>
          <dt class="quiet">writing</dt>
          <dd>
            <Choice
              :value="one.discuss ?? ''"
              aria-label="Who may write to the class"
              @update:value="(v) => set('discuss', v || null)"
            >
              <SelectOption value="">its teachers</SelectOption>
              <SelectOption value="all">everyone in it</SelectOption>
            </Choice>
          </dd>
          <dt class="quiet">inviting</dt>
          <dd>
            <Choice
              :value="one.invite ?? ''"
              :disabled="!session.isCoordinator"
              aria-label="Who may bring others in"
              @update:value="(v) => set('invite', v || null)"
            >
              <SelectOption value="">its teachers</SelectOption>
              <SelectOption value="coordinators">coordinators alone</SelectOption>
            </Choice>
          </dd>
        </dl>
      </div>
      <Button type="text" size="small" aria-label="Esc, close the class" @click="$emit('close')">Esc</Button>
    </header>
    <p v-if="one.lackCard + one.lackSeats + one.lackDevice > 0" class="lacks">
      <Button v-if="one.lackSeats" danger size="small" @click="lacking('seats')">
        {{ one.lackSeats }} lack a seat
      </Button>
      <Button v-if="one.lackDevice" danger size="small" @click="lacking('device')">
        {{ one.lackDevice }} lack a device
      </Button>
      <Button v-if="one.lackCard" danger size="small" @click="lacking('card')"> {{ one.lackCard }} lack a card </Button>
    </p>
    <div class="row acts">
      <Button @click="gather">Gather {{ one.students }}</Button
      ><Button @click="router.push({ path: '/handouts', query: { class: one.id } })">Cards</Button
      ><Button @click="reshaping = { how: 'split', names: '', other: null }">Split</Button
      ><Button @click="reshaping = { how: 'combine', names: '', other: null }">Combine</Button
      ><Button v-if="session.isCoordinator" @click="keepAsTemplate">Keep as template</Button
      ><Button @click="end">End it</Button>
    </div>
    <form v-if="reshaping" class="reshape" @submit.prevent="reshape" @keydown.esc.stop="reshaping = null">
      <label v-if="reshaping.how === 'split'"
        >further parts
        <TextInput :ref="focusIt" v-model:value="reshaping.names" :placeholder="`${one.name} 2`" required
      /></label>
      <label v-else>with <ClassPicker v-model="reshaping.other" :school="one.schoolId" /></label>
      <div class="row">
        <Button
          html-type="submit"
          size="small"
          type="primary"
          :disabled="reshaping.how === 'combine' && !reshaping.other"
          >{{ reshaping.how === 'split' ? 'Plan the split' : `Plan that all join ${one.name}` }}</Button
        >
        <Button type="text" size="small" @click="reshaping = null">Back</Button>
      </div>
    </form>
    <Part fit><ClassCodes :class-id="one.id" /></Part>
    <Part fit><ClassGroups :one="one" /></Part>
    <section>
      <header class="row">
        <h2 class="grow">Students {{ one.students }}</h2>
        <Button v-if="!missing && !session.isCoordinator" size="small" @click="miss"> Somebody is missing </Button>
      </header>
      <form v-if="missing" ref="missingBox" class="missing" @submit.prevent="askFor" @keydown.esc.stop="missing = null">
        <label>given name <TextInput v-model:value="missing.givenName" required /></label>
        <label>family name <TextInput v-model:value="missing.familyName" required /></label>
        <label>number <TextInput v-model:value="missing.number" placeholder="if known" /></label>
        <label>note <TextInput v-model:value="missing.note" placeholder="since when, from where" /></label>
        <div class="row">
          <Button html-type="submit" size="small" type="primary">Ask for the child</Button>
          <Button type="text" size="small" @click="missing = null">Back</Button>
        </div>
      </form>
      <ul>
        <li v-for="p in roster.data.value?.rows" :key="p.id">
          <span class="grow clip">{{ p.familyName }}, {{ p.givenName }}</span
          ><span class="mono quiet">{{ p.username }}</span
          ><span class="lack rust">{{ p.lacks.includes('card') ? 'card' : '' }}</span>
        </li>
      </ul>
      <p v-if="roster.data.value?.rows.length === 0" class="quiet">
        Nobody yet. A code lets students join; the office’s file brings them, too.
      </p>
    </section>
  </aside>
</template>

<style scoped>
.lacks {
  display: flex;
  gap: 16px;
}
.one {
  width: 360px;
}
h1 {
  overflow-wrap: anywhere;
}
li {
  display: flex;
  gap: 8px;
  padding: 2px 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
  font-size: 13px;
}

.top {
  align-items: flex-start;
}
.acts {
  flex-wrap: wrap;
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
.colors {
  display: flex;
  gap: 4px;
}
.colors button {
  width: 24px;
  height: 24px;
  border: 1px solid var(--rule);
  border-radius: 2px;
  cursor: pointer;
}
.colors button[aria-pressed='true'] {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
}
.reshape {
  display: grid;
  gap: 6px;
  font-size: 13px;
}
.missing {
  display: grid;
  gap: 4px;
  padding: 6px 0;
  font-size: 13px;
}
.missing label {
  display: grid;
  grid-template-columns: 90px 1fr;
  align-items: center;
  color: var(--quiet);
}
</style>
