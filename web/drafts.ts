/**
 * What a person types, kept on the server as it is typed, so that it is theirs on any machine and nobody else's on this
 * one. `state` says truly whether it is kept.
 */
import { useDebounceFn } from '@vueuse/core';
import { onBeforeUnmount, type Ref, ref, watch } from 'vue';
import { beacon, call } from './api';

export interface Draft<T> {
  body: Ref<T>;
  /** loading; kept; typed and on its way; could not be kept. */
  state: Ref<'loading' | 'kept' | 'saving' | 'failed'>;
  /** Done: nothing is kept any more. */
  clear: () => Promise<void>;
}

/** `name`: of the form. `blank`: what it begins with. What was typed before the draft came is not overwritten by it. */
export function useDraft<T>(name: string, blank: () => T): Draft<T> {
  const body = ref(blank()) as Ref<T>;
  const state: Draft<T>['state'] = ref('loading');
  let untouched = true;
  let leaving = false;
  const send = async (value: T | null): Promise<void> => {
    try {
      await call('POST /api/drafts', { body: { name, body: value } });
      state.value = 'kept';
    } catch {
      state.value = 'failed';
    }
  };
  const later = useDebounceFn(() => (leaving ? undefined : send(body.value)), 400, { maxWait: 1500 });
  let coming = false;
  watch(
    body,
    () => {
      if (coming) return;
      untouched = false;
      state.value = 'saving';
      void later();
    },
    { deep: true, flush: 'sync' },
  );
  void (async () => {
    try {
      const { body: kept } = await call('GET /api/drafts', { query: { name } });
      if (kept !== null && untouched) {
        coming = true;
        body.value = kept as T;
        coming = false;
      }
      if (untouched) state.value = 'kept';
    } catch {
      if (untouched) state.value = 'failed';
    }
  })();
  /** The page goes away before the last letters were sent: they go along with it. */
  const goingAway = () => {
    if (!untouched && state.value !== 'kept') beacon('POST /api/drafts', { name, body: body.value });
  };
  window.addEventListener('pagehide', goingAway);
  onBeforeUnmount(() => {
    window.removeEventListener('pagehide', goingAway);
    // What was typed in the last moment goes along.
    if (!untouched && state.value !== 'kept') void send(body.value);
    leaving = true;
  });
  const clear = async () => {
    coming = true;
    body.value = blank();
    coming = false;
    await send(null);
  };
  return { body, state, clear };
}
