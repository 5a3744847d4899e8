/** The draft of a file being taken in: changed here, saved on the server a moment later, and the counts come back anew. */
import { t } from '@/words';
import { computed, onBeforeUnmount, type Ref, ref, watch } from 'vue';
import type { Draft } from '../../server/contract';
import { call, CallError } from '@/api';
import { useLoad } from '@/kit/load';

/** So many changes can be taken back. */
const mostSteps = 100;

export function useDraft(id: string) {
  const preview = useLoad(
    t('intake.theFile'),
    'GET /api/intakes/:id',
    { id },
    { keep: false, onFocus: false, forget: true },
  );
  const draft = ref<Draft | null>(null);
  const savedAt = ref('');
  const failure = ref('');
  /** Counts up whenever rows must be read again. */
  const version = ref(0);
  let timer: ReturnType<typeof setTimeout> | null = null;
  let saving: Promise<void> = Promise.resolve();

  watch(
    preview.data,
    (data) => {
      if (data && !draft.value) {
        draft.value = JSON.parse(JSON.stringify(data.draft)) as Draft;
        savedAt.value = data.head.savedAt;
      }
    },
    { immediate: true },
  );

  async function save(): Promise<void> {
    timer = null;
    if (!draft.value) return;
    const body = JSON.parse(JSON.stringify(draft.value)) as Draft;
    try {
      savedAt.value = (await call('POST /api/intakes/:id/draft', { id, body })).savedAt;
      failure.value = '';
      await preview.refetch();
      version.value++;
    } catch (error) {
      failure.value = error instanceof Error ? error.message : String(error);
      // Without an answer the draft stays here and is sent again.
      if (error instanceof CallError && error.status === 0) {
        failure.value = t('intake.theServerDoesNotAnswer');
        timer = setTimeout(flush, 3000);
      }
    }
  }
  const flush = (): Promise<void> => {
    if (timer) clearTimeout(timer);
    saving = saving.then(save);
    return saving;
  };
  const saveSoon = (): void => {
    if (timer) clearTimeout(timer);
    timer = setTimeout(flush, 120);
  };
  /** As it was before each change, and after each that was taken back; the newest last. */
  const past = ref<string[]>([]);
  const future = ref<string[]>([]);
  /** Changes the draft and saves it shortly after. */
  function change(edit: (draft: Draft) => void): void {
    if (!draft.value) return;
    // What is typed quickly is one change.
    if (!timer) past.value = [...past.value, JSON.stringify(draft.value)].slice(-mostSteps);
    future.value = [];
    edit(draft.value);
    saveSoon();
  }
  function step(back: Ref<string[]>, forth: Ref<string[]>): void {
    const then = back.value.at(-1);
    if (then === undefined || !draft.value) return;
    back.value = back.value.slice(0, -1);
    forth.value = [...forth.value, JSON.stringify(draft.value)];
    draft.value = JSON.parse(then) as Draft;
    saveSoon();
  }
  onBeforeUnmount(() => {
    if (timer) void flush();
  });
  /** Waits for what is still to be saved. */
  const settled = () => (timer ? flush() : saving);
  return {
    preview,
    draft,
    savedAt,
    failure,
    version,
    change,
    settled,
    undo: () => step(past, future),
    redo: () => step(future, past),
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
    pending: computed(() => preview.isFetching.value),
  };
}
