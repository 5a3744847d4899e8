<script setup lang="ts">
/** What would happen, recounted as the reading changes; each count shows just its rows. */
import { Button } from 'ant-design-vue';
import { computed } from 'vue';
import type { IntakePreview } from '../../server/contract';
import type { Choice } from '#core/intake/index';
import { linesOf } from '#core/intake/waiting';
import { counted } from '#core/plan/counted';
import AskList from './AskList.vue';
import type { Only } from './rows';

const props = defineProps<{ data: IntakePreview; only: Only | null; pending: boolean; planning: boolean }>();
defineEmits<{
  only: [only: Only];
  takeAll: [code: string];
  plan: [];
  setAside: [];
  next: [];
  pairs: [];
  answer: [line: number, field: string, choice: Choice | null];
}>();
const o = computed(() => props.data.outcome);
const counts = computed<[Only, string, number, string][]>(() =>
  o.value
    ? [
        [
          'new',
          'new',
          o.value.fresh,
          o.value.newClasses.length ? `in ${o.value.newClasses.length} new classes too` : '',
        ],
        [
          'changed',
          'changed',
          o.value.changed,
          o.value.byReason.map(({ reason, count }) => `${reason} ${count}`).join(' · '),
        ],
        ['same', 'the same', o.value.same, ''],
        ['waits', 'wait for you', o.value.waitingCount, ''],
      ]
    : [],
);
const words: Record<string, string> = {
  'number-short': 'numbers without their zeros',
  'number-form': 'numbers of another form',
  'digits-lost': 'numbers with lost digits',
  'no-number': 'no number',
  date: 'dates that cannot be',
  'date-range': 'dates out of range',
  grade: 'no grade',
  'grade-range': 'grades not taught here',
  role: 'unknown roles',
  'role-guardian': 'guardians',
  'no-family-name': 'no family name',
  'no-given-name': 'no given name',
  'mis-decoded': 'mis-decoded names',
  'digit-in-name': 'digits in names',
  capitals: 'names in capitals',
  email: 'no e-mail address',
  duplicate: 'the same number twice',
  ragged: 'cells out of step',
  'too-long': 'cells that are too long',
  'left-out': 'lines that are no people',
  repeated: 'rows that stand there twice',
  formula: 'formulas in place of names',
  'roster-reference': 'references to what is not there',
  'roster-required': 'fields that are empty',
  'roster-value': 'words that the standard lacks',
  'roster-duplicate': 'records twice',
  'roster-left-out': 'files that are left out',
  'roster-manifest': 'the manifest',
  'roster-column': 'columns missing',
  'roster-encoding': 'letters that cannot be read',
};
</script>

<template>
  <aside class="outcome" aria-label="What would happen" :aria-busy="pending">
    <h2>What would happen</h2>
    <ul class="counts">
      <li v-for="[key, label, count, detail] in counts" :key="key">
        <Button
          type="text"
          size="small"
          :aria-pressed="only === key"
          :class="{ chosen: only === key, none: count === 0 }"
          @click="$emit('only', key)"
        >
          <span
            ><b>{{ count.toLocaleString('en-US') }}</b> {{ label }}</span
          >
        </Button>
        <p v-if="detail" class="quiet">{{ detail }}</p>
      </li>
      <li v-if="o && o.leaving.length > 0" class="rust">
        <details>
          <summary>
            <b>{{ o.leaving.length }}</b> leave
          </summary>
          <ul class="names">
            <li v-for="name in o.leaving" :key="name">{{ name }}</li>
          </ul>
        </details>
      </li>
    </ul>
    <div v-for="q in data.questions" :key="q.code" class="question">
      <b>? an answer is needed</b>
      <p>{{ q.message }}</p>
    </div>
    <div v-if="data.changedReading.length > 0" class="question">
      <b>not as this feed’s last file</b>
      <p v-for="text in data.changedReading" :key="text">{{ text }}</p>
    </div>
    <Button v-if="o && o.pairs > 0" size="small" class="pairs" @click="$emit('pairs')">
      <span
        ><b>{{ o.pairs }}</b> {{ o.pairs === 1 ? 'row' : 'rows' }} to tell apart: settle them
      </span></Button
    >
    <AskList v-if="o && o.asks.length > 0" :asks="o.asks" @answer="(...args) => $emit('answer', ...args)" />
    <div v-for="h in o?.held" :key="h.code" class="held">
      <b>⚑ a guard will hold it</b>
      <p>{{ h.message }}</p>
    </div>
    <template v-if="data.problems.total > 0">
      <h2>
        Problems in {{ counted(data.problems.rows, ['row', 'rows']) }}
        <Button size="small" :aria-pressed="only === 'problems'" @click="$emit('only', 'problems')">
          {{ only === 'problems' ? 'show all rows' : 'show them' }}
        </Button>
      </h2>
      <ul class="problems">
        <li v-for="p in data.problems.byCode" :key="p.code">
          <span class="clip grow"
            ><b>{{ p.count.toLocaleString('en-US') }}</b> {{ words[p.code] ?? p.code }}</span
          ><Button v-if="p.repairs > 0" size="small" @click="$emit('takeAll', p.code)">
            take {{ p.repairs }} {{ p.repairs === 1 ? 'repair' : 'repairs' }}
          </Button>
        </li>
      </ul>
      <p class="quiet small"><kbd>Alt+↓</kbd> goes to the next one</p>
    </template>
    <template v-if="o && o.waitingCount > 0">
      <h2>Wait for you</h2>
      <ul class="waiting">
        <li v-for="w in o.waiting" :key="w.line">
          <span class="quiet">{{ linesOf(w) }}</span> {{ w.message }}
        </li>
      </ul>
    </template>
    <span class="grow" />
    <footer>
      <p>{{ o?.sentence }}</p>
      <Button type="primary" block :loading="planning" :disabled="!o || o.changes === 0" @click="$emit('plan')"
        ><span
          >{{ o && o.changes > 0 ? `Plan ${counted(o.changes, ['change', 'changes'])}` : 'Nothing to change' }}
          <kbd v-if="o && o.changes > 0">Ctrl+Enter</kbd></span
        ></Button
      >
      <Button type="text" size="small" @click="$emit('setAside')">Set the file aside</Button>
    </footer>
  </aside>
</template>

<style scoped>
.outcome {
  width: 300px;
  flex: none;
  border-left: 1px solid var(--rule);
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 0 0;
  overflow: auto;
}
.outcome > * {
  padding-left: 16px;
  padding-right: 16px;
}
.counts b {
  display: inline-block;
  min-width: 40px;
  text-align: right;
}
.counts button {
  width: 100%;
  padding: 2px 4px;
}
.counts .none {
  color: var(--quiet);
}
.chosen {
  background: var(--ink);
  color: var(--paper);
}
.counts p {
  padding-left: 48px;
  font-size: 13px;
}
summary {
  padding: 2px 4px;
  cursor: pointer;
}
.names {
  max-height: 180px;
  overflow: auto;
  padding-left: 16px;
  font-size: 13px;
}
.held {
  background: var(--rust-wash);
  padding-top: 8px;
  padding-bottom: 8px;
  font-size: 13px;
  border-left: 4px solid var(--rust);
}
.question {
  background: var(--straw-wash);
  border-left: 4px solid var(--straw);
  padding-top: 6px;
  padding-bottom: 6px;
  font-size: 13px;
}
.pairs {
  padding-top: 4px;
  padding-bottom: 4px;
}
.problems li {
  display: flex;
  align-items: center;
  min-height: 24px;
  gap: 8px;
  font-size: 13px;
  padding: 1px 0;
  white-space: nowrap;
}
.problems b {
  display: inline-block;
  min-width: 24px;
  text-align: right;
}
.waiting {
  font-size: 13px;
}
.waiting li {
  padding: 3px 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 45%, transparent);
}
.small {
  font-size: 12px;
}
footer {
  position: sticky;
  bottom: 0;
  background: var(--paper);
  border-top: 1px solid var(--rule);
  padding-top: 8px;
  padding-bottom: 8px;
  display: grid;
  gap: 6px;
  font-size: 13px;
}
footer kbd {
  color: inherit;
  margin-left: 6px;
}
</style>
