<script setup lang="ts">
/**
 * People one above the other, field under field: what differs is set off, and under each field stands what it is
 * worth, in bits to the right for and to the left against.
 */
import { t } from '@/words';
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { Evidence } from '#core/identity/index';
import { gradeLabel } from '#core/tabular/values';
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
  (field === 'grade' && person.grade ? gradeLabel(person.grade) : person[field]) || '—';
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
const signed = (bits: number) => `${bits > 0 ? '+' : bits < 0 ? '−' : ''}${Math.abs(bits).toFixed(1)}`;
</script>

<template>
  <div class="pair">
    <table>
      <thead>
        <tr>
          <th scope="col">
            <span class="sr">{{ t('pairs.record') }}</span>
          </th>
          <th v-for="[field, label] in fields" :key="field" scope="col">{{ label }}</th>
        </tr>
      </thead>
      <tbody>
        <tr class="top">
          <th scope="row">{{ top.label }}</th>
          <td v-for="[field] in fields" :key="field" :class="{ differs: differs(field), mono: field === 'number' }">
            <Button
              v-if="keeps && differs(field) && keeps[field]"
              type="text"
              size="small"
              class="value"
              :aria-pressed="keeps[field] === 'keep'"
              @click="$emit('keep', field, 'keep')"
            >
              {{ shown(field, top.person) }}
            </Button>
            <span v-else>{{ shown(field, top.person) }}</span>
          </td>
        </tr>
        <tr
          v-for="(line, i) in below"
          :key="line.person.id"
          :class="{ chosen: i === chosen }"
          @click="$emit('choose', i)"
        >
          <th scope="row">
            <span aria-hidden="true">{{ i === chosen && below.length > 1 ? '▸ ' : '' }}</span>{{ line.label }}
          </th>
          <td
            v-for="[field] in fields"
            :key="field"
            :class="{ differs: i === chosen && differs(field), mono: field === 'number' }"
          >
            <Button
              v-if="keeps && i === chosen && differs(field) && keeps[field]"
              type="text"
              size="small"
              class="value"
              :aria-pressed="keeps[field] === 'gone'"
              @click="$emit('keep', field, 'gone')"
            >
              {{ shown(field, line.person) }}
            </Button>
            <span v-else>{{ shown(field, line.person) }}</span>
          </td>
        </tr>
        <tr v-if="evidence.length > 0" class="bits">
          <th scope="row">{{ t('pairs.matchScore', { total: signed(total) }) }}</th>
          <td v-for="[field, , what] in fields" :key="field">
            <template v-if="worth(what)">
              <span class="track" :title="worth(what)!.level" aria-hidden="true">
                <span
                  class="fill"
                  :class="worth(what)!.bits >= 0 ? 'for' : 'against'"
                  :style="{ width: bar(worth(what)!.bits) }"
                />
              </span>
              <span class="small">{{ signed(worth(what)!.bits) }} {{ worth(what)!.level }}</span>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-for="e in besides" :key="e.what" class="quiet small">{{ signed(e.bits) }} {{ besidesWords[e.what] }}</p>
  </div>
</template>

<style scoped>
.pair {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
  background: var(--sheet);
}
th,
td {
  text-align: left;
  padding: 5px 8px;
  vertical-align: top;
  font-weight: 400;
}
thead th {
  color: var(--quiet);
  font-size: 13px;
  border-bottom: 1px solid var(--rule);
}
tbody th {
  color: var(--quiet);
  font-size: 13px;
  white-space: nowrap;
  padding-left: 12px;
}
tr.top td,
tr.chosen td {
  font-size: 15px;
}
tbody tr:not(.top, .chosen, .bits) {
  color: var(--quiet);
  cursor: pointer;
}
.differs {
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
.bits td {
  border-top: 1px solid var(--rule);
  min-width: 74px;
}
.bits th {
  border-top: 1px solid var(--rule);
  color: var(--ink);
}
.track {
  display: block;
  height: 6px;
  background: var(--fog);
}
.fill {
  display: block;
  height: 6px;
}
.for {
  background: var(--stem);
}
.against {
  background: repeating-linear-gradient(135deg, var(--rust) 0 3px, transparent 3px 5px);
}
.small {
  font-size: 12px;
}
p.small {
  padding: 4px 12px;
}
</style>
