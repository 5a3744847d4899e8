/** The sheaf: kept on the server; here only its count and bars, and a number that changes whenever it does. */
import { defineStore } from 'pinia';
import { ref } from 'vue';
import type { PeopleFilter, SheafState } from '../../server/api/contract';
import { call } from '@/api';

export const useSheaf = defineStore('sheaf', () => {
  const state = ref<SheafState>({ count: 0, byGrade: [], byClass: [] });
  const version = ref(0);
  const set = (next: SheafState, changed = true) => {
    state.value = next;
    if (changed) version.value++;
  };
  return {
    state,
    version,
    load: async () => set(await call('GET /api/sheaf'), false),
    /** Rows already show what was asked for, so lists need not be read again. */
    gather: async (ids: string[]) => set(await call('POST /api/sheaf/gather', { body: { ids } }), false),
    letGo: async (ids: string[]) => set(await call('POST /api/sheaf/let-go', { body: { ids } }), false),
    gatherAll: async (filter: PeopleFilter) => set(await call('POST /api/sheaf/gather', { body: { filter } })),
    letAllGo: async () => set(await call('POST /api/sheaf/let-go', { body: { all: true } })),
  };
});
