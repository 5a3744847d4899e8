/** What a night brought: of whom, and of which enrollments, a bundle says something else than the one before it. */
import { type Bundle, tableOf } from './bundle';
import { restOf } from './diff';
import { eachRecord, listOf } from './people';
import type { FileName } from './spec';

export interface Enrolled {
  user: string;
  class: string;
  role: string;
}

export interface Night {
  /** sourcedIds of users who are new or of whom anything changed, and of those who are gone. */
  users: Set<string>;
  gone: Set<string>;
  /** Indexes of records in the later enrollments.csv that are new or changed. */
  enrollments: number[];
  /** What the earlier one said and the later no longer says so. */
  ended: Enrolled[];
}

export function nightOf(before: Bundle, after: Bundle): Night {
  const night: Night = { users: new Set(), gone: new Set(), enrollments: [], ended: [] };
  const rest = (file: FileName) => restOf(tableOf(before, file), tableOf(after, file));
  const guardians = new Set<string>();
  const about = (file: FileName, field: string, put: (id: string, get: (name: string) => string) => void) => {
    const { before: old, after: now } = rest(file);
    eachRecord(before, file, (get) => put(get(field), get), old);
    eachRecord(after, file, (get) => put(get(field), get), now);
  };
  const { before: old, after: now } = rest('users.csv');
  const was = new Set<string>();
  eachRecord(before, 'users.csv', (get) => was.add(get('sourcedId')), old);
  eachRecord(
    after,
    'users.csv',
    (get) => {
      const id = get('sourcedId');
      if (was.has(id)) guardians.add(id);
      was.delete(id);
      night.users.add(id);
    },
    now,
  );
  night.gone = was;
  about('demographics.csv', 'sourcedId', (id) => night.users.add(id));
  about('roles.csv', 'userSourcedId', (id) => night.users.add(id));
  // Whose guardian changed is told by another address.
  const table = guardians.size > 0 ? tableOf(after, 'users.csv') : null;
  table?.values(table.column('agentSourcedIds'), (agents, index) => {
    if (agents !== '' && listOf(agents).some((id) => guardians.has(id)))
      night.users.add(table.value(index, table.column('sourcedId')));
  });
  for (const id of night.gone) night.users.delete(id);
  const enrollments = rest('enrollments.csv');
  night.enrollments = enrollments.after;
  eachRecord(
    before,
    'enrollments.csv',
    (get) => night.ended.push({ user: get('userSourcedId'), class: get('classSourcedId'), role: get('role') }),
    enrollments.before,
  );
  return night;
}
