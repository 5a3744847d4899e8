/** Columns as a person wants them: hidden, moved, widened, kept with the person and put back. */
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it, vi } from 'vitest';
import { effectScope } from 'vue';
import { type Preferences, usual } from '#core/preferences/index';
import type { Me } from '../../server/contract';
import { useSession } from '@/stores/session';
import { useColumns } from './columns';

const columns = ['family', 'given', 'grade'].map((key) => ({ key, label: key, width: '1fr' }));
let sent: Partial<Preferences>[];
beforeEach(() => {
  setActivePinia(createPinia());
  sent = [];
  vi.stubGlobal('fetch', (_: string, init: RequestInit) => {
    sent.push(JSON.parse(String(init.body)) as Partial<Preferences>);
    return Promise.resolve(new Response('{}', { status: 200 }));
  });
  useSession().me = { zone: 'UTC', today: '2026-08-17', preferences: usual } as Me;
});
const open = (name?: string) => effectScope(true).run(() => useColumns(name, columns))!;
const keys = (cols: ReturnType<typeof open>) => cols.shown.value.map(({ key }) => key);

it('hides, moves and widens, and keeps it under the name of the list', async () => {
  const cols = open('people');
  expect(keys(cols)).toEqual(['family', 'given', 'grade']);
  cols.show('given', false);
  expect(keys(cols)).toEqual(['family', 'grade']);
  cols.move('grade', -1);
  cols.move('grade', -1);
  expect(keys(cols)).toEqual(['grade', 'family']);
  cols.widen('family', 120, 16);
  expect(columns.map(cols.trackOf)).toEqual(['136px', '1fr', '1fr']);
  await vi.waitFor(() => expect(sent).toHaveLength(1));
  const kept = { order: ['grade', 'family', 'given'], hidden: ['given'], widths: { family: 136 } };
  expect(sent[0]).toEqual({ columns: { people: kept } });
  expect(useSession().preferences.columns.people).toEqual(kept);
  // Another visit, another machine: the same columns; another list has its own.
  expect(keys(open('people'))).toEqual(['grade', 'family']);
  expect(keys(open('classes'))).toEqual(['family', 'given', 'grade']);
});

it('is never narrower than a few letters, and is as it was when it is reset', async () => {
  const cols = open('people');
  cols.widen('family', 60, -200);
  expect(cols.trackOf(columns[0]!)).toBe('40px');
  expect(cols.isChanged.value).toBe(true);
  cols.reset();
  expect([keys(cols), cols.trackOf(columns[0]!), cols.isChanged.value]).toEqual([
    ['family', 'given', 'grade'],
    '1fr',
    false,
  ]);
  await vi.waitFor(() => expect(sent.at(-1)).toEqual({ columns: { people: { order: [], hidden: [], widths: {} } } }));
});
