/**
 * The sheaf: kept on the server; here its count and bars, what was gathered or let go row by row since lists were
 * read, and a number that changes whenever lists must be read again.
 */
import { defineStore } from 'pinia';
import { reactive, ref } from 'vue';
import type { PeopleFilter, SheafState } from '../../server/contract';
import { call } from '@/api';

export const useSheaf = defineStore('sheaf', () => {
  const state = ref<SheafState>({ count: 0, byGrade: [], byClass: [] });
  const version = ref(0);
  const touched = reactive(new Map<string, boolean>());

  /** Rows show at once what was asked for; the server's answer sets the count. */
  async function mark(ids: string[], on: boolean): Promise<void> {
    for (const id of ids) touched.set(id, on);
    try {
      state.value = on
        ? await call('POST /api/sheaf/gather', { body: { ids } })
        : await call('POST /api/sheaf/let-go', { body: { ids } });
    } catch (error) {
      for (const id of ids) touched.delete(id);
      throw error;
    }
  }
  function renewed(next: SheafState): void {
    state.value = next;
    touched.clear();
    version.value++;
  }
  return {
    state,
    version,
    mark,
    holds: (row: { id: string; gathered: boolean }): boolean => touched.get(row.id) ?? row.gathered,
    load: async () => renewed(await call('GET /api/sheaf')),
    gatherAll: async (filter: PeopleFilter) => renewed(await call('POST /api/sheaf/gather', { body: { filter } })),
    takeKept: async (id: string) => renewed(await call('POST /api/sheaves/:id/gather', { id })),
    letAllGo: async () => renewed(await call('POST /api/sheaf/let-go', { body: { all: true } })),
  };
});
