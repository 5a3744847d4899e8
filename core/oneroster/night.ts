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

/** sourcedIds of users who are new or of whom anything changed, and of those who are gone. */
export interface UsersSince {
  users: Set<string>;
  gone: Set<string>;
}

export interface EnrollmentsSince {
  /** Indexes of records in the later enrollments.csv that are new or changed. */
  said: number[];
  /** What the earlier one said and the later no longer says so. */
  ended: Enrolled[];
}

const rest = (before: Bundle, after: Bundle, file: FileName) => restOf(tableOf(before, file), tableOf(after, file));

export function usersSince(before: Bundle, after: Bundle): UsersSince {
  const users = new Set<string>();
  const changed = new Set<string>();
  const about = (file: FileName, field: string) => {
    const { before: old, after: now } = rest(before, after, file);
    eachRecord(before, file, (get) => users.add(get(field)), old);
    eachRecord(after, file, (get) => users.add(get(field)), now);
  };
  const { before: old, after: now } = rest(before, after, 'users.csv');
  const gone = new Set<string>();
  eachRecord(before, 'users.csv', (get) => gone.add(get('sourcedId')), old);
  eachRecord(
    after,
    'users.csv',
    (get) => {
      const id = get('sourcedId');
      if (gone.delete(id)) changed.add(id);
      users.add(id);
    },
    now,
  );
  about('demographics.csv', 'sourcedId');
  about('roles.csv', 'userSourcedId');
  // Whose guardian changed is told by another address.
  const table = changed.size > 0 ? tableOf(after, 'users.csv') : null;
  table?.values(table.column('agentSourcedIds'), (agents, index) => {
    if (agents !== '' && listOf(agents).some((id) => changed.has(id)))
      users.add(table.value(index, table.column('sourcedId')));
  });
  for (const id of gone) users.delete(id);
  return { users, gone };
}

export function enrollmentsSince(before: Bundle, after: Bundle): EnrollmentsSince {
  const { before: old, after: said } = rest(before, after, 'enrollments.csv');
  const ended: Enrolled[] = [];
  eachRecord(
    before,
    'enrollments.csv',
    (get) => ended.push({ user: get('userSourcedId'), class: get('classSourcedId'), role: get('role') }),
    old,
  );
  return { said, ended };
}
