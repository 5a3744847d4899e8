<script setup lang="ts">
/** Groups of one class: what they are called, how many are in them, and what their names do not say rightly. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, ref } from 'vue';
import type { ClassRow, GroupRow } from '../../server/contract';
import { call } from '@/api';
import { useSheaf } from '@/stores/sheaf';
import ClassPicker from './ClassPicker.vue';
import LevelGroups from './LevelGroups.vue';
import { useGroupActions } from './group-actions';
import { useLoad } from '@/kit/load';
import Part from '@/kit/Part.vue';

const props = defineProps<{ one: ClassRow }>();
const sheaf = useSheaf();
const actions = useGroupActions();
const list = useLoad(t('classes.groups'), 'GET /api/groups', () => ({ query: { classId: props.one.id } }), {
  also: computed(() => sheaf.version),
});
const name = ref<string | null>(null);
const copying = ref<{ id: string; to: string | null } | null>(null);
const renaming = ref<{ id: string; name: string } | null>(null);
const byLevel = ref(false);
function leveled(planId: string, sentence: string): void {
  byLevel.value = false;
  void actions.act(
    () => Promise.resolve({ planId }),
    () => sentence,
  );
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
  await actions.act(
    () => call('POST /api/groups', { body }),
    ({ sentence, left }) =>
      sentence +
      (left.length > 0 ? ` ${t('classes.gatheredStudentsAreNotIn', { left: left.length, name: props.one.name })}` : ''),
  );
}
async function copy(): Promise<void> {
  const wanted = copying.value;
  copying.value = null;
  if (!wanted?.to) return;
  await actions.act(
    () => call('POST /api/groups/:id/copy', { id: wanted.id, body: { classId: wanted.to! } }),
    (made) =>
      [
        t('classes.copiedAs', { name: made.name }),
        made.left.length > 0 && t('classes.areNotInThatClass', { left: made.left.length }),
      ]
        .filter(Boolean)
        .join(' '),
  );
}
async function rename(group: GroupRow): Promise<void> {
  const wanted = renaming.value?.name ?? '';
  renaming.value = null;
  await actions.rename(group, wanted);
}
const focusIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();
</script>

<template>
  <section>
    <header class="row">
      <h2 class="grow">{{ t('classes.groups2') }}</h2>
      <Button v-if="!byLevel" size="small" @click="byLevel = true">{{ t('classes.byReadingLevel') }}</Button>
      <Button v-if="name === null" size="small" @click="name = ''">{{ t('classes.newGroup') }}</Button>
    </header>
    <Part v-if="byLevel" fit><LevelGroups :one="one" @close="byLevel = false" @made="leveled" /></Part>
    <form v-if="name !== null" class="row text-13px py-4px px-0" @submit.prevent="make">
      <TextInput
        :ref="focusIt"
        v-model:value="name"
        class="grow"
        maxlength="120"
        :aria-label="t('classes.nameOfTheGroup')"
        :placeholder="t('classes.cohortA')"
        @keydown.esc.stop="name = null"
      />
      <Button html-type="submit" size="small" type="primary">{{
        t('classes.createGroup', {
          gathered: sheaf.state.count > 0 ? ` ${t('classes.ofGathered', { count: sheaf.state.count })}` : '',
        })
      }}</Button>
    </form>
    <ul>
      <li v-for="g in list.data.value" :key="g.id" class="py-2px px-0 text-13px faint-b">
        <div class="row">
          <TextInput
            v-if="renaming?.id === g.id"
            :ref="focusIt"
            v-model:value="renaming.name"
            class="grow"
            maxlength="120"
            :aria-label="t('classes.nameOf', { name: g.name })"
            @keydown.enter="rename(g)"
            @keydown.esc.stop="renaming = null"
            @blur="rename(g)"
          />
          <Button
            v-else
            type="text"
            size="small"
            class="grow clip"
            :aria-label="t('classes.rename', { name: g.name })"
            @click="renaming = { id: g.id, name: g.name }"
          >
            {{ g.name }}
          </Button>
          <Button
            size="small"
            :aria-label="t('classes.gather2', { name: g.name, members: g.members })"
            @click="actions.gather(g)"
          >
            {{ g.members }}
          </Button>
          <Button
            type="text"
            size="small"
            :aria-label="t('classes.copy', { name: g.name })"
            @click="copying = { id: g.id, to: null }"
          >
            {{ t('common.copy') }}
          </Button>
          <Button type="text" size="small" :aria-label="t('classes.end', { name: g.name })" @click="actions.end(g)">{{
            t('common.end')
          }}</Button>
        </div>
        <p v-for="note in g.notes" :key="note" class="rust text-12px">{{ note }}</p>
        <form
          v-if="copying?.id === g.id"
          class="row text-13px py-4px px-0"
          @submit.prevent="copy"
          @keydown.esc.stop="copying = null"
        >
          <label class="row"
            >{{ t('classes.copyFor') }} <ClassPicker v-model="copying.to" :school="one.schoolId"
          /></label>
          <Button html-type="submit" size="small" :disabled="!copying.to">{{ t('classes.copyGroup') }}</Button>
        </form>
      </li>
    </ul>
    <p v-if="list.data.value?.length === 0 && name === null" class="quiet text-12px">
      {{ t('classes.noGroupsYetGatherSome') }}
    </p>
  </section>
</template>
