<script setup lang="ts">
/** The fields of a person, edited in place; each edit is a plan of one change. */
import { SelectOption } from 'ant-design-vue';
import { languages } from '#core/cards/texts';
import { entities, fieldLabel, handFields } from '#core/entities/index';
import type { PersonSheet } from '../../server/contract';
import { call } from '@/api';
import { useChange } from '@/kit/change';
import Choice from '@/kit/Choice.vue';
import DayInput from '@/kit/DayInput.vue';
import EditInPlace from '@/kit/EditInPlace.vue';
import { useAgain } from '@/kit/load';
import { useSession } from '@/stores/session';
import { dayWords } from '@/time';
import { spoken, t } from '@/words';

const props = defineProps<{ person: PersonSheet['person'] }>();
const session = useSession();
const change = useChange(useAgain());
const fields = handFields.map((field) => [field, spoken(fieldLabel('person', field))] as const);

async function edit(field: (typeof fields)[number][0], after: string | null): Promise<void> {
  const before = props.person[field] ?? null;
  await change(
    () => call('POST /api/people/:id/edit', { id: props.person.id, body: { field, before, after } }),
    t('people.saved', { field: fields.find(([key]) => key === field)![1] }),
  );
}
const isDay = (field: (typeof fields)[number][0]) => entities.person.fields[field].kind === 'day';
</script>

<template>
  <dl>
    <template v-for="[field, label] in fields" :key="field">
      <dt>
        <label :for="`f-${field}`">{{ label }}</label>
      </dt>
      <dd>
        <Choice
          v-if="field === 'language'"
          :id="`f-${field}`"
          :value="person.language ?? ''"
          :disabled="!session.isCoordinator"
          @update:value="(code) => edit('language', code || null)"
        >
          <SelectOption value="">—</SelectOption>
          <SelectOption v-for="(name, code) in languages" :key="code" :value="code">{{ name }}</SelectOption>
        </Choice>
        <DayInput
          v-else-if="isDay(field) && session.isCoordinator"
          :id="`f-${field}`"
          :bordered="false"
          :value="person[field] ?? null"
          @update:value="(day) => edit(field, day || null)"
        />
        <span v-else-if="isDay(field)" :id="`f-${field}`">{{ person[field] ? dayWords(person[field]) : '—' }}</span>
        <EditInPlace
          v-else
          :id="`f-${field}`"
          :value="person[field]"
          :save="(after) => edit(field, after)"
          :readonly="!session.isCoordinator"
          placeholder="—"
          :maxlength="entities.person.fields[field].longest ?? undefined"
        />
      </dd>
    </template>
  </dl>
</template>
