/** What is scanned while the server is away: kept with the day it was set for, sent in order, and what is chosen shown at once. */
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { ScanBatch } from '../../server/contract';
import { useScanQueue } from './scan-queue';

const stored = vi.hoisted(() => new Map<string, unknown>());
// jsdom has no IndexedDB.
vi.mock('idb-keyval', () => ({
  get: (key: string) => Promise.resolve(stored.get(key)),
  set: (key: string, value: unknown) => Promise.resolve(void stored.set(key, value)),
}));
const sent: ScanBatch[] = [];
let isAway = false;
beforeEach(() => {
  stored.clear();
  sent.length = 0;
  isAway = false;
  vi.stubGlobal('fetch', (_url: string, { body }: { body: string }) => {
    if (isAway) return Promise.reject(new TypeError('Failed to fetch'));
    const batch = JSON.parse(body) as ScanBatch;
    sent.push(batch);
    const said = batch.scans.map(({ seq, text }) => ({ seq, tone: 'taken', text }));
    return Promise.resolve(new Response(JSON.stringify({ seq: said.at(-1)!.seq, mode: 'give', said })));
  });
});
afterEach(() => vi.unstubAllGlobals());

it('sends each scan with the day that was set for it, after the server came back', async () => {
  let due: string | null = '2026-12-18';
  isAway = true;
  const queue = useScanQueue(
    'radeyemi',
    () => due,
    () => undefined,
  );
  await queue.add('000101');
  await queue.add('D00001');
  due = null;
  await queue.add('000102');
  await queue.add('D00002');
  await flushPromises();
  expect([queue.status.waiting, sent.length]).toEqual([4, 0]);
  isAway = false;
  await vi.waitFor(() => expect(queue.status.waiting).toBe(0), 5000);
  expect(sent.flatMap(({ scans }) => scans)).toEqual([
    { seq: 1, text: '000101', due: '2026-12-18' },
    { seq: 2, text: 'D00001', due: '2026-12-18' },
    { seq: 3, text: '000102', due: null },
    { seq: 4, text: 'D00002', due: null },
  ]);
  queue.close();
});

it('shows at once what is chosen while the server is away', async () => {
  isAway = true;
  const queue = useScanQueue(
    'radeyemi',
    () => null,
    () => undefined,
  );
  expect(queue.status.mode).toBe('give');
  await queue.add('+BACK');
  expect(queue.status.mode).toBe('back');
  await queue.add('D00001');
  await queue.add('+swap');
  expect(queue.status.mode).toBe('swap');
  queue.close();
});

it('sends what an earlier version kept without a day', async () => {
  stored.set('scans radeyemi', {
    station: '01J0000000000000000000000A',
    next: 8,
    waiting: [{ seq: 7, text: 'D00001' }],
  });
  const queue = useScanQueue(
    'radeyemi',
    () => '2026-12-18',
    () => undefined,
  );
  await vi.waitFor(() => expect(sent).toHaveLength(1), 5000);
  expect(sent[0]!.scans).toEqual([{ seq: 7, text: 'D00001', due: null }]);
  queue.close();
});
