<script setup lang="ts">
/** What is on record of one class, corrected in place; each correction is a plan of one change. */
import { t } from '@/words';
import { useChange } from '@/kit/change';
import Choice from '@/kit/Choice.vue';
import { Button, SelectOption } from 'ant-design-vue';
import TextInput from '@/kit/TextInput.vue';
import { ref } from 'vue';
import type { ClassRow } from '../../server/contract';
import { call } from '@/api';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { gradeLabel, parseGrade } from '#core/tabular/values';
import { classColors } from '#core/entities/index';

const props = defineProps<{ one: ClassRow }>();
const emit = defineEmits<{ changed: [] }>();
const session = useSession();
const work = useWork();

type Field = 'name' | 'grade' | 'subject' | 'period';
const edit = ref<{ field: Field; value: string } | null>(null);
const fields: [Field, string][] = [
  ['name', t('common.name')],
  ['grade', t('common.grade')],
  ['subject', t('classes.subject2')],
  ['period', t('classes.period')],
];
const shown = (field: Field) => (field === 'grade' ? gradeLabel(props.one.grade) : props.one[field]) || '—';
async function save(): Promise<void> {
  if (!edit.value) return;
  const { field, value } = edit.value;
  const typed = value.trim();
  const after = field === 'grade' ? parseGrade(typed) : typed;
  // What cannot be read stays in the field.
  if (field === 'grade' && typed && !after) return work.wrong(new Error(t('classes.isNotAGradeType', { typed })));
  edit.value = null;
  await set(field, after || null);
}
const change = useChange(() => emit('changed'));
async function set(field: Field | 'color' | 'discuss' | 'invite', after: string | null): Promise<void> {
  const { one } = props;
  if (after === one[field]) return;
  const body = { field, before: one[field], after };
  await change(
    () => call('POST /api/classes/:id/edit', { id: one.id, body }),
    t('classes.saved', { name: one.name, field }),
  );
}
const focusIt = (el: unknown) => (el as HTMLInputElement | null)?.focus();
const colors: Record<(typeof classColors)[number], string> = {
  straw: t('classes.colorYellow'),
  stem: t('classes.colorGreen'),
  rust: t('classes.colorRed'),
  dusk: t('classes.colorBlue'),
  ink: t('classes.colorBlack'),
};
</script>

<template>
  <dl class="grid [grid-template-columns:92px_1fr] items-center gap-y-2px gap-x-8px text-13px">
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
          class="flush"
          :aria-label="t('classes.edit', { toLowerCase: label.toLowerCase(), field: shown(field) })"
          @click="edit = { field, value: field === 'grade' && one.grade ? gradeLabel(one.grade) : (one[field] ?? '') }"
        >
          {{ shown(field) }}
        </Button>
      </dd>
    </template>
    <dt class="quiet">{{ t('classes.color') }}</dt>
    <dd class="colors flex gap-4px">
      <Button
        v-for="c in classColors"
        :key="c"
        size="small"
        :style="{ background: `var(--${c})` }"
        :aria-label="colors[c]"
        :aria-pressed="one.color === c"
        @click="set('color', one.color === c ? null : c)"
      />
    </dd>
    <dt class="quiet">{{ t('classes.whoMayPost') }}</dt>
    <dd>
      <Choice
        :value="one.discuss ?? ''"
        :aria-label="t('classes.whoMayPostToThe')"
        @update:value="(v) => set('discuss', v || null)"
      >
        <SelectOption value="">{{ t('common.teachers') }}</SelectOption>
        <SelectOption value="all">{{ t('classes.everyoneInTheClass') }}</SelectOption>
      </Choice>
    </dd>
    <dt class="quiet">{{ t('classes.whoMayInvite') }}</dt>
    <dd>
      <Choice
        :value="one.invite ?? ''"
        :disabled="!session.may('classes.all')"
        :aria-label="t('classes.whoMayInviteToThe')"
        @update:value="(v) => set('invite', v || null)"
      >
        <SelectOption value="">{{ t('common.teachers') }}</SelectOption>
        <SelectOption value="coordinators">{{ t('classes.coordinatorsOnly') }}</SelectOption>
      </Choice>
    </dd>
  </dl>
</template>

<style scoped>
.colors button {
  width: 24px;
  border: 1px solid var(--rule);
}
.colors button[aria-pressed='true'] {
  outline: 2px solid var(--ink);
  outline-offset: 1px;
}
</style>
