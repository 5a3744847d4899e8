<script setup lang="ts">
/** Whom the school reaches for a child, each line edited in place, and the siblings who share them. */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { useChange } from '@/kit/change';
import TextInput from '@/kit/TextInput.vue';
import { ref } from 'vue';
import type { PersonSheet } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { gradeLabel } from '#core/tabular/values';
import { useAgain } from '@/kit/load';

const props = defineProps<{ sheet: PersonSheet }>();
const emit = defineEmits<{ open: [id: string] }>();
const session = useSession();
const change = useChange(useAgain());
interface Form {
  id: string | null;
  name: string;
  email: string;
  phone: string;
  relation: string;
}
const form = ref<Form | null>(null);
const fields = [
  ['name', t('people.name')],
  ['relation', t('people.relation')],
  ['email', t('people.email')],
  ['phone', t('people.phone')],
] as const;
const called = ({ name, relation, email, phone }: PersonSheet['contacts'][number]) =>
  [name, relation].filter(Boolean).join(', ') || email || phone;
const begin = (one: PersonSheet['contacts'][number] | null) =>
  (form.value = {
    id: one?.id ?? null,
    name: one?.name ?? '',
    email: one?.email ?? '',
    phone: one?.phone ?? '',
    relation: one?.relation ?? '',
  });
async function save(remove: boolean): Promise<void> {
  if (!form.value) return;
  const { id, name, email, phone, relation } = form.value;
  const fields = { name: name || null, email: email || null, phone: phone || null, relation: relation || null };
  const made = await change(
    () => call('POST /api/people/:id/contacts', { id: props.sheet.person.id, body: { id, remove, ...fields } }),
    remove ? t('people.theContactIsRemoved') : t('people.theContactIsSaved'),
  );
  if (made) form.value = null;
}
const focusIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();
</script>

<template>
  <section class="grid gap-2px">
    <header class="row">
      <h2 class="grow">{{ t('people.contacts') }}</h2>
      <Button v-if="session.isCoordinator && !form" size="small" @click="begin(null)">
        {{ t('people.newContact') }}
      </Button>
    </header>
    <ul>
      <li v-for="c in sheet.contacts" :key="c.id" class="flex flex-wrap gap-y-0 gap-x-8px text-13px break-anywhere">
        <Button v-if="session.isCoordinator" type="link" size="small" class="flush" @click="begin(c)">{{
          called(c)
        }}</Button>
        <span v-else>{{ called(c) }}</span>
        <span class="quiet">{{ [c.email, c.phone].filter(Boolean).join(' · ') }}</span>
      </li>
    </ul>
    <form v-if="form" class="grid gap-4px text-13px" @submit.prevent="save(false)" @keydown.esc.stop="form = null">
      <label v-for="([key, label], i) in fields" :key="key"
        >{{ label }} <TextInput :ref="i === 0 ? focusIt : undefined" v-model:value.lazy="form[key]"
      /></label>
      <div class="row">
        <Button html-type="submit" size="small" type="primary">{{ t('people.save') }}</Button>
        <Button v-if="form.id" danger size="small" @click="save(true)">{{ t('people.remove') }}</Button>
        <Button type="text" size="small" @click="form = null">{{ t('common.back') }}</Button>
      </div>
    </form>
    <p v-if="sheet.contacts.length === 0 && !form" class="quiet text-12px">
      {{ t('people.noContactsBesidesTheGuardians') }}
    </p>
    <template v-if="sheet.siblings.length > 0">
      <h2>{{ t('people.siblings') }}</h2>
      <ul>
        <li v-for="s in sheet.siblings" :key="s.id" class="flex flex-wrap gap-y-0 gap-x-8px text-13px break-anywhere">
          <Button size="small" @click="emit('open', s.id)">{{ s.name }}</Button>
          <span class="quiet" :title="t('people.bothHave', { by: s.by })">{{
            [s.grade ? t('people.grade2', { grade: gradeLabel(s.grade) }) : null, s.school].filter(Boolean).join(' · ')
          }}</span>
        </li>
      </ul>
    </template>
  </section>
</template>

<style scoped>
form label {
  display: grid;
  grid-template-columns: 70px 1fr;
  align-items: center;
  color: var(--quiet);
}
</style>
