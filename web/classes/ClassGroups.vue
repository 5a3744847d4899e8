<script setup lang="ts">
/** Groups of one class: what they are called, how many are in them, and what their names do not say rightly. */
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import type { ClassRow, GroupRow } from '../../server/contract';
import { call } from '@/api';
import { useSheaf } from '@/stores/sheaf';
import { useWork } from '@/stores/work';
import ClassPicker from './ClassPicker.vue';
import LevelGroups from './LevelGroups.vue';
import { useAgain, useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const props = defineProps<{ one: ClassRow }>();
const sheaf = useSheaf();
const work = useWork();
const reload = useAgain();
const list = useLoad('groups', 'GET /api/groups', () => ({ query: { classId: props.one.id } }), {
  also: computed(() => sheaf.version),
});
const name = ref<string | null>(null);
const copying = ref<{ id: string; to: string | null } | null>(null);
const renaming = ref<{ id: string; name: string } | null>(null);
const byLevel = ref(false);
function leveled(planId: string, sentence: string): void {
  byLevel.value = false;
  void act(
    () => Promise.resolve({ planId }),
    () => sentence,
  );
}
const again = async () => {
  sheaf.version++;
  await reload('GET /api/groups');
};
async function act<T extends { planId: string }>(run: () => Promise<T>, say: (made: T) => string): Promise<void> {
  try {
    const made = await run();
    work.say(say(made), { label: 'Undo', run: () => void work.undo(made.planId).then(again) });
    await again();
  } catch (error) {
    work.wrong(error);
  }
}
async function make(): Promise<void> {
  const wanted = name.value?.trim();
  name.value = null;
  if (!wanted) return;
  const body = {
    classId: props.one.id,
    schoolId: null,
    name: wanted,
    kind: 'other',
    rule: null,
    gathered: true,
  } as const;
  await act(
    () => call('POST /api/groups', { body }),
    ({ sentence, left }) =>
      sentence + (left.length > 0 ? ` ${left.length} gathered are not in ${props.one.name}.` : ''),
  );
}
async function copy(): Promise<void> {
  const wanted = copying.value;
  copying.value = null;
  if (!wanted?.to) return;
  await act(
    () => call('POST /api/groups/:id/copy', { id: wanted.id, body: { classId: wanted.to! } }),
    (made) => `Copied as ${made.name}.${made.left.length > 0 ? ` ${made.left.length} are not in that class.` : ''}`,
  );
}
async function rename(group: GroupRow): Promise<void> {
  const after = renaming.value?.name.trim();
  renaming.value = null;
  if (!after || after === group.name) return;
  await act(
    () => call('POST /api/groups/:id/rename', { id: group.id, body: { before: group.name, after } }),
    () => `${group.name} is ${after} now.`,
  );
}
const end = (group: GroupRow) =>
  act(
    () => call('POST /api/groups/:id/end', { id: group.id }),
    () => `${group.name} ended.`,
  );
async function gather(group: GroupRow): Promise<void> {
  try {
    await sheaf.gatherAll({ group: group.id });
  } catch (error) {
    work.wrong(error);
  }
}
const focusIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();
</script>

<template>
  <section>
    <header class="row">
      <h2 class="grow">Groups</h2>
      <Button v-if="!byLevel" size="small" @click="byLevel = true">By level</Button>
      <Button v-if="name === null" size="small" @click="name = ''">New group</Button>
    </header>
    <Part v-if="byLevel" fit><LevelGroups :one="one" @close="byLevel = false" @made="leveled" /></Part>
    <form v-if="name !== null" class="row" @submit.prevent="make">
      <TextInput
        :ref="focusIt"
        v-model:value="name"
        class="grow"
        maxlength="120"
        aria-label="Name of the group"
        placeholder="Cohort A"
        @keydown.esc.stop="name = null"
      />
      <Button html-type="submit" size="small" type="primary"
        >Make it{{ sheaf.state.count > 0 ? ` of ${sheaf.state.count} gathered` : '' }}</Button
      >
    </form>
    <ul>
      <li v-for="g in list.data.value" :key="g.id">
        <div class="row">
          <TextInput
            v-if="renaming?.id === g.id"
            :ref="focusIt"
            v-model:value="renaming.name"
            class="grow"
            maxlength="120"
            :aria-label="`Name of ${g.name}`"
            @keydown.enter="rename(g)"
            @keydown.esc.stop="renaming = null"
            @blur="rename(g)"
          />
          <Button
            v-else
            type="text"
            size="small"
            class="grow clip"
            :aria-label="`Rename ${g.name}`"
            @click="renaming = { id: g.id, name: g.name }"
          >
            {{ g.name }}
          </Button>
          <Button size="small" :aria-label="`Gather ${g.name}, ${g.members}`" @click="gather(g)">
            {{ g.members }}
          </Button>
          <Button type="text" size="small" :aria-label="`Copy ${g.name}`" @click="copying = { id: g.id, to: null }">
            Copy
          </Button>
          <Button type="text" size="small" :aria-label="`End ${g.name}`" @click="end(g)">End</Button>
        </div>
        <p v-for="note in g.notes" :key="note" class="rust small">{{ note }}</p>
        <form v-if="copying?.id === g.id" class="row" @submit.prevent="copy" @keydown.esc.stop="copying = null">
          <label class="row">for <ClassPicker v-model="copying.to" :school="one.schoolId" /></label>
          <Button html-type="submit" size="small" :disabled="!copying.to">Copy it</Button>
        </form>
      </li>
    </ul>
    <p v-if="list.data.value?.length === 0 && name === null" class="quiet small">
      None. Gather some of the class and make a group of them.
    </p>
  </section>
</template>

<style scoped>
li {
  padding: 2px 0;
  font-size: 13px;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
.small {
  font-size: 12px;
}
form {
  font-size: 13px;
  padding: 4px 0;
}
</style>
