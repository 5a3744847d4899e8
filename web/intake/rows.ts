/** The rows of a file as far as they are seen, page by page; read anew whenever the draft was saved. */
import { onScopeDispose, type Ref, reactive, ref, watch } from 'vue';
import type { IntakeRow, IntakeRowKind } from '../../server/contract';
import { call, CallError } from '@/api';
import { useWork } from '@/stores/work';

export type Only = IntakeRowKind;
export const pageSize = 200;

export function useRows(id: string, version: Ref<number>, only: Ref<Only | null>) {
  const work = useWork();
  const pages = reactive(new Map<number, IntakeRow[]>());
  const asked = new Set<number>();
  const total = ref(0);
  let seen = [0];
  let again: ReturnType<typeof setTimeout> | undefined;
  const askAgain = () => {
    again = undefined;
    show([]);
  };
  onScopeDispose(() => clearTimeout(again));

  async function load(page: number): Promise<void> {
    if (asked.has(page)) return;
    asked.add(page);
    const mark = version.value;
    const query = { from: page * pageSize, count: pageSize, only: only.value ?? undefined };
    const got = await call('GET /api/intakes/:id/rows', { id, query }).catch((error: unknown) => {
      asked.delete(page);
      // Without an answer it is asked for again.
      if (error instanceof CallError && error.status === 0) again ??= setTimeout(askAgain, 3000);
      throw error;
    });
    if (mark !== version.value) return;
    pages.set(page, got.rows);
    total.value = got.total;
  }
  /** Sees to it that the rows at these indices are there. */
  function show(indices: number[]): void {
    if (indices.length > 0) seen = [...new Set(indices.map((index) => Math.floor(index / pageSize)))];
    for (const page of seen) load(page).catch((error: unknown) => work.wrong(error));
  }
  watch([version, only], ([, now], [, before]) => {
    asked.clear();
    if (now !== before) {
      pages.clear();
      seen = [0];
    }
    show([]);
  });
  show([]);
  const rowAt = (index: number): IntakeRow | undefined => pages.get(Math.floor(index / pageSize))?.[index % pageSize];
  /** Rows by their indices, both ends within, read where they are not here yet. */
  async function between(top: number, bottom: number): Promise<IntakeRow[]> {
    for (let page = Math.floor(top / pageSize); page <= Math.floor(bottom / pageSize); page++)
      if (!pages.has(page)) await load(page);
    return Array.from({ length: bottom - top + 1 }, (_, i) => rowAt(top + i)).filter((row) => row !== undefined);
  }
  return { total, load, show, rowAt, between };
}

/** All rows with a problem. */
export async function problemRows(id: string): Promise<IntakeRow[]> {
  const found: IntakeRow[] = [];
  for (;;) {
    const query = { from: found.length, count: 500, only: 'problems' as const };
    const page = await call('GET /api/intakes/:id/rows', { id, query });
    found.push(...page.rows);
    if (page.rows.length === 0 || found.length >= page.total) return found;
  }
}
