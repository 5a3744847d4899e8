<script setup lang="ts">
/**
 * One grade split into classes: the children with what is balanced, by hand (a number key puts the one under the
 * cursor into that class, where they stay) and by itself; beside it how even the classes are. Kept as it is changed.
 */
import { t } from '@/words';
import Figures from '@/kit/Figures.vue';
import Choice from '@/kit/Choice.vue';
import { useDebounceFn } from '@vueuse/core';
import { Button, Checkbox, SelectOption } from 'ant-design-vue';
import NumberInput from '@/kit/NumberInput.vue';
import TextInput from '@/kit/TextInput.vue';
import { computed, onBeforeUnmount, reactive, ref, watch } from 'vue';
import { RouterLink, useRoute } from 'vue-router';
import type { Split, SplitChild } from '../../server/contract';
import { call } from '@/api';
import { useCarryOut } from '@/frame/keys';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { gradeLabel } from '#core/tabular/values';
import { scoreSplit, type SplitQuestion } from '#core/year/index';
import ExportLine from '@/worksheet/ExportLine.vue';
import Worksheet, { type Col, type WorksheetHandle } from '@/worksheet/Worksheet.vue';
import type { SplitWord } from './split-worker';
import { useLoad } from '@/kit/load';

const session = useSession();
const work = useWork();
const [schoolId, grade] = String(useRoute().params.key).split(':') as [string, string];
const query = useLoad(
  t('year.theGrade'),
  'GET /api/year/split',
  { query: { school: schoolId, grade } },
  { onFocus: false },
);
const split = reactive<Split>({ classes: [], placed: {}, fixed: [], wishes: [], balance: [], marks: {} });
const savedAt = ref<string | null>(null);
let isRead = false;
watch(
  () => query.data.value,
  (sheet) => {
    if (!sheet || isRead) return;
    isRead = true;
    Object.assign(split, JSON.parse(JSON.stringify(sheet.split)));
    savedAt.value = sheet.savedAt;
  },
  { immediate: true },
);
const children = computed(() => query.data.value?.children ?? []);
const school = computed(() => session.me?.schools.find(({ id }) => id === query.data.value?.schoolId)?.name ?? '');

/** Changes since the page was opened, and how many of them the server has. */
const made = ref(0);
const kept = ref(0);
const unsaved = computed(() => kept.value < made.value);
let sending = false;
/** One at a time, so that what is older never arrives last; what changed meanwhile is sent after it. */
async function keepNow(): Promise<void> {
  if (sending) return;
  sending = true;
  try {
    while (kept.value < made.value) {
      const upTo = made.value;
      ({ savedAt: savedAt.value } = await call('POST /api/year/split', { body: { schoolId, grade, split } }));
      kept.value = upTo;
    }
  } catch (error) {
    work.wrong(error);
  } finally {
    sending = false;
  }
}
const save = useDebounceFn(keepNow, 400);
function changed(): void {
  made.value++;
  void save();
}
// Whoever goes elsewhere at once loses nothing.
onBeforeUnmount(() => void keepNow());

const names = {
  level: t('year.level'),
  language: t('year.language'),
  support: t('year.support'),
  from: t('year.classBefore'),
} as const;
type Attribute = Split['balance'][number];
const levelOf = ({ id, level }: SplitChild) => split.marks[id]?.level ?? level;
const valueOf = (child: SplitChild, attribute: Attribute): string | null =>
  attribute === 'level'
    ? levelOf(child) || null
    : attribute === 'support'
      ? split.marks[child.id]?.support
        ? 'support'
        : 'none'
      : child[attribute];
const index = computed(() => new Map(children.value.map(({ id }, i) => [id, i])));
const wishes = computed(() => split.wishes.filter(({ a, b }) => index.value.has(a) && index.value.has(b)));
const question = computed((): SplitQuestion => {
  const fixed = new Set(split.fixed);
  return {
    children: children.value.length,
    attributes: split.balance.map((attribute) => children.value.map((child) => valueOf(child, attribute))),
    most: split.classes.map(({ most }) => most),
    wishes: wishes.value.map(({ a, b, together }) => ({ a: index.value.get(a)!, b: index.value.get(b)!, together })),
    fixed: children.value.map(({ id }) => (fixed.has(id) ? (split.placed[id] ?? -1) : -1)),
  };
});
const isWhole = computed(
  () => children.value.length > 0 && children.value.every(({ id }) => split.placed[id] !== undefined),
);
const score = computed(() =>
  isWhole.value
    ? scoreSplit(
        question.value,
        children.value.map(({ id }) => split.placed[id]!),
      )
    : null,
);
const labelOf = (id: string) => {
  const child = children.value[index.value.get(id) ?? -1];
  return child ? `${child.givenName} ${child.familyName}` : '';
};
const broken = computed(() => (score.value?.broken ?? []).map((i) => wishes.value[i]!));

/** Each class by what is balanced: how many there, of all. */
const table = computed(() =>
  split.balance.flatMap((attribute) => {
    const values = [
      ...new Set(children.value.map((child) => valueOf(child, attribute)).filter((v) => v !== null)),
    ].sort();
    return values
      .filter((value) => !(attribute === 'support' && value === 'none'))
      .map((value) => ({
        name: attribute === 'support' ? t('year.support') : `${names[attribute]} ${value}`,
        counts: split.classes.map(
          (_, room) =>
            children.value.filter((c) => split.placed[c.id] === room && valueOf(c, attribute) === value).length,
        ),
      }));
  }),
);
const sizes = computed(() =>
  split.classes.map((_, room) => children.value.filter(({ id }) => split.placed[id] === room).length),
);

const progress = ref<{ share: number; best: number } | null>(null);
let worker: Worker | null = null;
onBeforeUnmount(() => worker?.terminate());
let seed = 0;
function run(): void {
  if (progress.value || children.value.length === 0) return;
  progress.value = { share: 0, best: Infinity };
  worker = new Worker(new URL('./split-worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<SplitWord>) => {
    if ('share' in data) {
      progress.value = data;
      return;
    }
    stop();
    if ('error' in data) return work.wrong(new Error(data.error));
    split.placed = Object.fromEntries(children.value.map(({ id }, i) => [id, data.at[i]!]));
    changed();
  };
  worker.onerror = (event) => {
    stop();
    work.wrong(new Error(event.message));
  };
  worker.postMessage(JSON.parse(JSON.stringify({ question: question.value, seed: ++seed })));
}
function stop(): void {
  worker?.terminate();
  worker = null;
  progress.value = null;
}
useCarryOut(run);

function put(id: string, room: number | null): void {
  if (room === null) {
    split.placed = Object.fromEntries(Object.entries(split.placed).filter(([one]) => one !== id));
    split.fixed = split.fixed.filter((one) => one !== id);
  } else {
    split.placed = { ...split.placed, [id]: room };
    if (!split.fixed.includes(id)) split.fixed = [...split.fixed, id];
  }
  changed();
}
function loose(id: string): void {
  split.fixed = split.fixed.filter((one) => one !== id);
  changed();
}
function mark(id: string, change: { level?: string; support?: boolean }): void {
  split.marks = { ...split.marks, [id]: { ...split.marks[id], ...change } };
  changed();
}
function toggle(attribute: Attribute): void {
  split.balance = split.balance.includes(attribute)
    ? split.balance.filter((one) => one !== attribute)
    : [...split.balance, attribute];
  changed();
}
const wishOf = (a: string, b: string) => split.wishes.find((w) => (w.a === a && w.b === b) || (w.a === b && w.b === a));
function wish(a: string, b: string, together: boolean | null): void {
  const others = split.wishes.filter((w) => w !== wishOf(a, b));
  split.wishes = together === null || a === b ? others : [...others, { a, b, together }];
  changed();
}
const pair = reactive({ a: '', b: '' });
function addWish(together: boolean): void {
  if (!pair.a || !pair.b || pair.a === pair.b) return;
  wish(pair.a, pair.b, together);
  Object.assign(pair, { a: '', b: '' });
}
/** Each pair of twins once. */
const twins = computed(() =>
  children.value.flatMap(({ id, twins: all }) =>
    all.filter((other) => id < other).map((other) => [id, other] as const),
  ),
);

function addClass(): void {
  const last = split.classes.at(-1)?.name ?? '';
  const letter = last.at(-1) ?? '';
  const name = /[A-Y]/.test(letter) ? last.slice(0, -1) + String.fromCharCode(letter.charCodeAt(0) + 1) : `${last} 2`;
  split.classes = [...split.classes, { name, most: null }];
  changed();
}
function dropClass(room: number): void {
  split.classes = split.classes.filter((_, i) => i !== room);
  split.placed = Object.fromEntries(
    Object.entries(split.placed).flatMap(([id, at]) => (at === room ? [] : [[id, at > room ? at - 1 : at]])),
  );
  split.fixed = split.fixed.filter((id) => split.placed[id] !== undefined);
  changed();
}

const focused = ref<string | null>(null);
const sheet = ref<WorksheetHandle | null>(null);
watch(
  () => children.value.length > 0,
  (there) => there && setTimeout(() => sheet.value?.focus(), 0),
  { immediate: true },
);
function key123(event: KeyboardEvent): void {
  const room = Number(event.key) - 1;
  if (
    !focused.value ||
    event.ctrlKey ||
    event.altKey ||
    event.metaKey ||
    (event.target as HTMLElement).closest('input, select')
  )
    return;
  if (event.key === '0') put(focused.value, null);
  else if (room >= 0 && room < Math.min(9, split.classes.length)) put(focused.value, room);
}
const shown = computed(() =>
  [...children.value].sort((a, b) => (split.placed[a.id] ?? -1) - (split.placed[b.id] ?? -1)),
);
const byName = ref(true);
const rows = computed(() => (byName.value ? children.value : shown.value));
const columns: Col[] = [
  { key: 'name', label: t('year.student'), width: 'minmax(150px, 1.5fr)' },
  { key: 'from', label: t('year.from2'), width: '58px' },
  { key: 'level', label: t('year.level2'), width: '74px' },
  { key: 'language', label: t('year.language2'), width: '72px' },
  { key: 'support', label: t('year.support2'), width: '66px' },
  { key: 'class', label: t('common.class'), width: 'minmax(92px, 0.8fr)' },
  { key: 'stays', label: t('year.byHand'), width: '72px' },
];
</script>

<template>
  <div v-if="query.data.value" class="sections">
    <section class="list" @keydown="key123">
      <div class="line">
        <RouterLink to="/year/sections">{{ t('year.allGrades') }}</RouterLink>
        <h1 class="name">{{ t('year.grade4', { grade: gradeLabel(query.data.value.grade), school }) }}</h1>
        <span class="quiet">{{ t('year.students', { children: children.length }) }}</span>
        <span class="grow" />
        <Checkbox v-model:checked="byName" class="row"> {{ t('year.byName') }}</Checkbox>
        <span class="quiet" role="status">{{
          unsaved
            ? t('year.saving')
            : savedAt
              ? t('year.saved', { slice: savedAt.slice(11, 16) })
              : t('year.nothingSavedYet')
        }}</span>
      </div>
      <Worksheet
        ref="sheet"
        v-model:focused="focused"
        class="sheet"
        :label="t('year.gradeOf', { grade: gradeLabel(query.data.value.grade), school })"
        :rows="rows"
        :columns="columns"
        :empty="t('year.noOneComesIntoThis')"
      >
        <template #name="{ row }"
          ><span class="clip" :title="`${row.familyName}, ${row.givenName}`"
            >{{ row.familyName }}, {{ row.givenName }}</span
          ><span v-if="row.twins.length > 0" class="quiet"> {{ t('year.twin') }}</span></template
        >
        <template #level="{ row }"
          ><TextInput
            class="cell"
            lazy
            tabindex="-1"
            maxlength="20"
            :value="levelOf(row)"
            :aria-label="t('year.levelOf', { givenName: row.givenName, familyName: row.familyName })"
            @update:value="(level) => mark(row.id, { level: level ?? '' })"
        /></template>
        <template #support="{ row }"
          ><Checkbox
            tabindex="-1"
            :checked="split.marks[row.id]?.support ?? false"
            :aria-label="t('year.hasSupport', { givenName: row.givenName, familyName: row.familyName })"
            @update:checked="(support: boolean) => mark(row.id, { support })"
        /></template>
        <template #class="{ row }"
          ><Choice
            tabindex="-1"
            :value="split.placed[row.id] ?? ''"
            :aria-label="t('year.classOf', { givenName: row.givenName, familyName: row.familyName })"
            @update:value="(room) => put(row.id, room === '' ? null : Number(room))"
          >
            <SelectOption value="">{{ t('year.noneYet') }}</SelectOption>
            <SelectOption v-for="(c, room) in split.classes" :key="room" :value="room">{{ c.name }}</SelectOption>
          </Choice></template
        >
        <template #stays="{ row }"
          ><Button
            v-if="split.fixed.includes(row.id)"
            size="small"
            tabindex="-1"
            :aria-label="t('year.release', { givenName: row.givenName, familyName: row.familyName })"
            @click.stop="loose(row.id)"
          >
            {{ t('year.release2') }}
          </Button></template
        >
      </Worksheet>
      <div class="hint row">
        <span class="quiet grow">{{ t('year.1ToPutsTheStudent', { min: Math.min(9, split.classes.length) }) }}</span>
        <ExportLine v-if="!unsaved" list="sections" :filter="{ school: schoolId, grade }" />
      </div>
    </section>
    <section class="beside" :aria-label="t('year.theClasses')">
      <div class="act">
        <Button v-if="!progress" type="primary" :disabled="children.length === 0" @click="run"
          ><span>
            {{ t('year.splitStudents', { fixed: children.length - split.fixed.length }) }}
            <kbd>{{ t('year.ctrlEnter') }}</kbd></span
          >
        </Button>
        <template v-else>
          <progress :value="progress.share" max="1" :aria-label="t('year.splitting')" />
          <Button @click="stop">{{ t('year.stop') }}</Button>
        </template>
        <span role="status">
          <template v-if="progress">{{
            progress.best < 1e6 ? t('year.bestSoFar', { toFixed: progress.best.toFixed(1) }) : t('year.beginning')
          }}</template>
          <template v-else-if="score"
            >{{ t('year.score') }} <b>{{ score.total.toFixed(1) }}</b>{{
              t('year.text0WouldBePerfectlyEven', {
                toFixed: split.balance.map((a, i) => `${names[a]} ${score!.uneven[i]!.toFixed(1)}`).join(', '),
                broken: score.broken.length > 0 ? t('year.requestsNotMet', { broken: score.broken.length }) : '',
              })
            }}</template
          >
          <template v-else>{{
            t('year.areNotInAClass', { undefined: children.filter(({ id }) => split.placed[id] === undefined).length })
          }}</template>
        </span>
      </div>
      <p v-for="w in broken" :key="w.a + w.b" class="rust">
        {{
          t('year.andAre', {
            a: labelOf(w.a),
            b: labelOf(w.b),
            together: w.together ? t('year.apart') : t('year.together'),
          })
        }}
      </p>
      <h2>{{ t('year.classes') }}</h2>
      <div class="scroll" tabindex="0" role="region" :aria-label="t('year.classesAndWhatIsIn')">
        <Figures
          :rows="split.classes"
          :row-key="(_, room) => room"
          :columns="[
            { key: 'key', title: t('year.key') },
            { key: 'name', title: t('year.name') },
            { key: 'most', title: t('year.atMost') },
            {
              key: 'students',
              title: t('year.students2'),
              number: true,
              cellClass: (c, room) => ({ rust: c.most !== null && sizes[room]! > c.most }),
            },
            ...table.map(({ name }, i) => ({ key: `fact-${i}`, title: name, number: true })),
            { key: 'act', title: t('year.drop'), untitled: true },
          ]"
        >
          <template #key="{ index: room }"
            ><span class="quiet">{{ room < 9 ? room + 1 : '' }}</span></template
          >
          <template #name="{ row: c, index: room }">
            <TextInput
              v-model:value="c.name"
              class="cell"
              maxlength="120"
              :aria-label="t('year.nameOfClass', { room: room + 1 })"
              @change="changed"
            />
          </template>
          <template #most="{ row: c }">
            <NumberInput
              class="cell most"
              lazy
              :min="1"
              :max="500"
              :value="c.most"
              :aria-label="t('year.mostIn', { name: c.name })"
              @update:value="(most: number | '' | null) => ((c.most = most || null), changed())"
            />
          </template>
          <template #students="{ index: room }">{{ sizes[room] }}</template>
          <template v-for="(fact, i) in table" :key="fact.name" #[`fact-${i}`]="{ index: room }">{{
            fact.counts[room]
          }}</template>
          <template #act="{ row: c, index: room }">
            <Button
              v-if="split.classes.length > 1"
              size="small"
              :aria-label="t('year.remove', { name: c.name })"
              @click="dropClass(room)"
            >
              {{ t('year.remove2') }}
            </Button>
          </template>
        </Figures>
      </div>
      <Button size="small" @click="addClass">{{ t('year.addAClass') }}</Button>
      <h2>{{ t('year.balancedBy') }}</h2>
      <div class="row">
        <Checkbox
          v-for="(label, attribute) in names"
          :key="attribute"
          :checked="split.balance.includes(attribute)"
          class="row"
          @change="toggle(attribute)"
        >
          {{ label }}
        </Checkbox>
      </div>
      <h2>{{ t('year.togetherAndApart') }}</h2>
      <ul>
        <li v-for="[a, b] in twins" :key="`${a}${b}`" class="row">
          <span class="grow">{{ t('year.andTwins', { a: labelOf(a), b: labelOf(b) }) }}</span>
          <Choice
            :aria-label="t('year.and', { a: labelOf(a), b: labelOf(b) })"
            :value="wishOf(a, b) === undefined ? '' : wishOf(a, b)!.together ? 'together' : 'apart'"
            @update:value="(how) => wish(a, b, how === '' ? null : how === 'together')"
          >
            <SelectOption value="">{{ t('year.automatic') }}</SelectOption>
            <SelectOption value="together">{{ t('year.togetherAtTheFamilysRequest') }}</SelectOption>
            <SelectOption value="apart">{{ t('year.apartAtTheFamilysRequest') }}</SelectOption>
          </Choice>
        </li>
        <li
          v-for="w in wishes.filter(
            ({ a, b }) => !twins.some(([x, y]) => (x === a && y === b) || (x === b && y === a)),
          )"
          :key="w.a + w.b"
          class="row"
        >
          <span class="grow">{{
            t('year.and2', {
              a: labelOf(w.a),
              b: labelOf(w.b),
              apart: w.together ? t('year.together') : t('year.apart'),
            })
          }}</span>
          <Button
            size="small"
            :aria-label="t('year.removeTheRequestForAnd', { a: labelOf(w.a), b: labelOf(w.b) })"
            @click="wish(w.a, w.b, null)"
          >
            {{ t('year.remove2') }}
          </Button>
        </li>
      </ul>
      <div class="pair">
        <Choice v-model:value="pair.a" :aria-label="t('year.oneStudent')">
          <SelectOption value="">{{ t('year.one') }}</SelectOption>
          <SelectOption v-for="c in children" :key="c.id" :value="c.id"
            >{{ c.familyName }}, {{ c.givenName }}</SelectOption
          >
        </Choice>
        <Choice v-model:value="pair.b" :aria-label="t('year.anotherStudent')">
          <SelectOption value="">{{ t('year.andAnother') }}</SelectOption>
          <SelectOption v-for="c in children" :key="c.id" :value="c.id"
            >{{ c.familyName }}, {{ c.givenName }}</SelectOption
          >
        </Choice>
        <Button size="small" :disabled="!pair.a || !pair.b || pair.a === pair.b" @click="addWish(true)">{{
          t('year.together2')
        }}</Button>
        <Button size="small" :disabled="!pair.a || !pair.b || pair.a === pair.b" @click="addWish(false)">{{
          t('year.apart2')
        }}</Button>
      </div>
      <p class="quiet small">
        {{ t('year.theRollOverPutsEach') }}
      </p>
    </section>
  </div>
</template>

<style scoped>
.sections {
  display: flex;
  min-height: 0;
}
.list {
  flex: 1 1 54%;
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.line {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 5px 16px;
  font-size: 13px;
  border-bottom: 1px solid var(--rule);
}
.sheet {
  flex: 1;
  min-height: 0;
}
.hint {
  padding: 4px 16px;
  font-size: 13px;
  border-top: 1px solid var(--rule);
}
.beside {
  flex: 1 1 46%;
  min-width: 0;
  overflow: auto;
  border-left: 1px solid var(--rule);
  background: var(--sheet);
  padding: 8px 16px 16px;
  display: grid;
  gap: 8px;
  align-content: start;
  justify-items: start;
}
.beside > ul,
.scroll {
  justify-self: stretch;
}
.scroll {
  overflow-x: auto;
}
.act {
  display: flex;
  gap: 12px;
  align-items: center;
}
.cell {
  font: inherit;
  color: inherit;
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--rule);
  width: 100%;
  min-width: 48px;
  min-height: 24px;
}
.cell.most {
  width: 64px;
}
.n {
  text-align: right;
}
.pair {
  display: flex;
  gap: 8px;
  max-width: 100%;
  align-items: center;
}
.pair .choice {
  min-width: 0;
  flex: 1;
}
.small {
  font-size: 13px;
}
</style>
