/**
 * A grade that is split into classes: its students with what is balanced, who goes where and who stays there, what was
 * asked for, and how even the classes are. Kept on the server as it is changed.
 */
import { useDebounceFn } from '@vueuse/core';
import { computed, onBeforeUnmount, reactive, ref, watch } from 'vue';
import type { Split, SplitChild } from '../../server/contract';
import { call } from '@/api';
import { useLoad } from '@/kit/load';
import { useSession } from '@/stores/session';
import { useWork } from '@/stores/work';
import { t } from '@/words';
import { scoreSplit, type SplitQuestion } from '#core/year/index';
import type { SplitWord } from './split-worker';

export type Attribute = Split['balance'][number];
/** What can be balanced. */
export const names = {
  level: t('year.level'),
  language: t('year.language'),
  support: t('year.support'),
  from: t('year.classBefore'),
} as const;

export function useSections(schoolId: string, grade: string) {
  const session = useSession();
  const work = useWork();
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
  // Changes not sent yet are saved when the page is left.
  onBeforeUnmount(() => void keepNow());

  const levelOf = ({ id, level }: SplitChild) => split.marks[id]?.level ?? level;
  /** null: nobody said. */
  const supportOf = ({ id, support }: SplitChild) => {
    const is = split.marks[id]?.support ?? support;
    return is === null ? null : is ? 'support' : 'none';
  };
  const valueOf = (child: SplitChild, attribute: Attribute): string | null =>
    attribute === 'level' ? levelOf(child) || null : attribute === 'support' ? supportOf(child) : child[attribute];
  const index = computed(() => new Map(children.value.map(({ id }, i) => [id, i])));
  const wishes = computed(() => split.wishes.filter(({ a, b }) => index.value.has(a) && index.value.has(b)));
  /** Of how many children each attribute that is to be balanced is not known. */
  const unknown = computed(() =>
    split.balance.map((attribute) => ({
      attribute,
      n: children.value.filter((child) => valueOf(child, attribute) === null).length,
    })),
  );
  /** Those that are known of somebody; the others are left out. */
  const balanced = computed(() =>
    unknown.value.filter(({ n }) => n < children.value.length).map(({ attribute }) => attribute),
  );
  const question = computed((): SplitQuestion => {
    const fixed = new Set(split.fixed);
    return {
      children: children.value.length,
      attributes: balanced.value.map((attribute) => children.value.map((child) => valueOf(child, attribute))),
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
    balanced.value.flatMap((attribute) => {
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
  const wishOf = (a: string, b: string) =>
    split.wishes.find((w) => (w.a === a && w.b === b) || (w.a === b && w.b === a));
  function wish(a: string, b: string, together: boolean | null): void {
    const others = split.wishes.filter((w) => w !== wishOf(a, b));
    split.wishes = together === null || a === b ? others : [...others, { a, b, together }];
    changed();
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

  return {
    query,
    split,
    savedAt,
    unsaved,
    children,
    school,
    changed,
    levelOf,
    supportOf,
    unknown,
    balanced,
    question,
    wishes,
    score,
    labelOf,
    broken,
    table,
    sizes,
    put,
    loose,
    mark,
    toggle,
    wishOf,
    wish,
    twins,
    addClass,
    dropClass,
  };
}
export type Sections = ReturnType<typeof useSections>;

/** The split by itself, beside the page, as long as nobody stops it. */
export function useSplitting({ question, children, split, changed }: Sections) {
  const work = useWork();
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
  return { progress, run, stop };
}
