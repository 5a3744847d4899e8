<script setup lang="ts">
/**
 * People one above the other, field under field: what differs is set off, and under each field stands what it is
 * worth, in bits to the right for and to the left against.
 */
import { dayWords } from '@/time';
import { t } from '@/words';
import Figures from '@/kit/Figures.vue';
import type { Column } from '@/kit/figures';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { Evidence } from '#core/identity/index';
import { gradeLabel } from '#core/tabular/values';
import { levelInFull, levelWord } from './levels';
import type { PairPerson } from '../../server/contract';

export interface PairLine {
  label: string;
  person: PairPerson;
}
const props = defineProps<{
  top: PairLine;
  below: PairLine[];
  chosen: number;
  evidence: Evidence[];
  /** Of two on record: whose value a merge keeps, by field; absent: nothing is kept or given up. */
  keeps?: Partial<Record<string, 'keep' | 'gone'>>;
}>();
defineEmits<{ choose: [index: number]; keep: [field: string, whose: 'keep' | 'gone'] }>();

const fields: [keyof PairPerson, string, Evidence['what'] | null][] = [
  ['familyName', t('pairs.familyName'), 'family'],
  ['givenName', t('pairs.givenName'), 'given'],
  ['middleName', t('pairs.middle'), 'middle'],
  ['birthDate', t('pairs.birthDate'), 'birth'],
  ['number', t('pairs.number'), 'number'],
  ['grade', t('pairs.grade'), 'grade'],
  ['school', t('pairs.school'), 'school'],
  ['className', t('pairs.class'), 'class'],
  ['guardianEmail', t('pairs.guardiansEmail'), 'guardian'],
];
const shown = (field: keyof PairPerson, person: PairPerson): string =>
  (field === 'grade' && person.grade
    ? gradeLabel(person.grade)
    : field === 'birthDate' && person.birthDate
      ? dayWords(person.birthDate)
      : person[field]) || '—';
const other = computed(() => props.below[props.chosen]?.person);
const differs = (field: keyof PairPerson): boolean => {
  const [a, b] = [props.top.person[field], other.value?.[field] ?? ''];
  return a !== '' && b !== '' && a !== b;
};
const worth = (what: Evidence['what'] | null) => props.evidence.find((e) => e.what === what);
const bar = (bits: number) => `${Math.min(100, Math.abs(bits) * 5)}%`;
const besides = computed(() => props.evidence.filter(({ what }) => what === 'beforehand' || what === 'rivals'));
const total = computed(() => props.evidence.reduce((sum, { bits }) => sum + bits, 0));
const besidesWords: Record<string, string> = {
  beforehand: t('pairs.baseRateHowRarelyTwo'),
  rivals: t('pairs.othersWhoCouldMatchAs'),
};
interface Line {
  key: string;
  label: string;
  /** None: the line says what each field is worth. */
  person: PairPerson | null;
  /** Of those below, which it is. */
  at: number | null;
  side: 'keep' | 'gone';
  isCompared: boolean;
  class: string;
}
const lines = computed<Line[]>(() => [
  {
    key: 'top',
    label: props.top.label,
    person: props.top.person,
    at: null,
    side: 'keep',
    isCompared: true,
    class: 'top',
  },
  ...props.below.map(({ label, person }, at) => ({
    key: person.id,
    label,
    person,
    at,
    side: 'gone' as const,
    isCompared: at === props.chosen,
    class: at === props.chosen ? 'chosen' : 'other',
  })),
  ...(props.evidence.length === 0
    ? []
    : [
        {
          key: 'score',
          label: t('pairs.matchScore', { total: signed(total.value) }),
          person: null,
          at: null,
          side: 'keep' as const,
          isCompared: false,
          class: 'bits',
        },
      ]),
]);
const columns = computed<Column<Line>[]>(() => [
  { key: 'record', title: t('pairs.record'), untitled: true, heading: true },
  ...fields.map(([field, title]) => ({
    key: field,
    title,
    cellClass: (line: Line) => ({
      differs: line.isCompared && differs(field),
      mono: field === 'number' && line.person,
    }),
  })),
]);
const signed = (bits: number) => `${bits > 0 ? '+' : bits < 0 ? '−' : ''}${Math.abs(bits).toFixed(1)}`;
</script>

<template>
  <div class="overflow-x-auto">
    <Figures
      class="wide w-full"
      :rows="lines"
      :row-key="(line) => line.key"
      :row-class="(line) => line.class"
      :columns="columns"
      @choose="(line) => line.at !== null && $emit('choose', line.at)"
    >
      <template #record="{ row: line }">
        <span aria-hidden="true">{{ line.at !== null && line.at === chosen && below.length > 1 ? '▸ ' : '' }}</span>{{
          line.label
        }}
      </template>
      <template v-for="[field, , what] in fields" :key="field" #[field]="{ row: line }">
        <template v-if="!line.person">
          <template v-if="worth(what)">
            <span class="block h-6px bg-fog" aria-hidden="true">
              <span
                class="fill block h-6px"
                :class="worth(what)!.bits >= 0 ? 'for' : 'against'"
                :style="{ width: bar(worth(what)!.bits) }"
              />
            </span>
            <span class="small text-12px" :title="levelInFull(worth(what)!.level)"
              >{{ signed(worth(what)!.bits) }} {{ levelWord(worth(what)!.level) }}</span
            >
          </template>
        </template>
        <Button
          v-else-if="keeps && line.isCompared && differs(field) && keeps[field]"
          type="text"
          size="small"
          class="value"
          :aria-pressed="keeps[field] === line.side"
          @click="$emit('keep', field, line.side)"
        >
          {{ shown(field, line.person) }}
        </Button>
        <span v-else>{{ shown(field, line.person) }}</span>
      </template>
    </Figures>
    <p v-for="e in besides" :key="e.what" class="quiet small text-12px">
      {{ signed(e.bits) }} {{ besidesWords[e.what] }}
    </p>
  </div>
</template>

<style scoped>
.wide :deep(:is(th, td)) {
  vertical-align: top;
}
.wide :deep(tbody th) {
  color: var(--quiet);
  white-space: nowrap;
}
.wide :deep(:is(.top, .chosen) td) {
  font-size: 14px;
}
.wide :deep(.other) {
  color: var(--quiet);
  cursor: pointer;
}
.wide :deep(.differs) {
  background: var(--straw-wash);
  box-shadow: inset 0 -2px 0 var(--straw);
}
.value[aria-pressed='true'] {
  font-weight: 650;
  text-decoration: underline;
  text-decoration-color: var(--stem);
  text-decoration-thickness: 2px;
}
.value[aria-pressed='false'] {
  color: var(--quiet);
}
.wide :deep(.bits td) {
  min-width: 74px;
}
.wide :deep(.bits th) {
  color: var(--ink);
}
.for {
  background: var(--stem);
}
.against {
  background: repeating-linear-gradient(135deg, var(--rust) 0 3px, transparent 3px 5px);
}
p.small {
  padding: 4px 12px;
}
</style>
