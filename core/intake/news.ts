/**
 * What a feed's bundle says that the one before it did not, beside whom the feed's ids meant; and what of the
 * register that can touch, so that the night's work grows with what changed and not with the district.
 */
import {
  type Bundle,
  eachRecord,
  type EnrollmentsSince,
  type SomeUsers,
  tableOf,
  type UsersSince,
} from '#core/oneroster/index';

/** Ids on record by sourcedId, as the last applied bundle of a feed had them. */
export interface Keys {
  people: ReadonlyMap<string, string>;
  classes: ReadonlyMap<string, string>;
  /** sourcedIds of its students and staff whom nobody on record was: they are looked at again. Absent: not known. */
  unknown?: ReadonlySet<string>;
}

export interface News extends SomeUsers {
  since: UsersSince;
  /** Users of whom it says something new, or who were not known last night: the first record of each in users.csv. */
  users: ReadonlyMap<string, number>;
  records: number[];
  /** Ids on record by sourcedId of those who say what they said; made anew for each who asks. */
  settled: () => Map<string, string>;
  /** Lines of users.csv that say what they said of somebody known; made anew for each who asks. */
  same: () => number[];
  /** Whether one of those is this person. */
  stays: (personId: string) => boolean;
  /** Everyone on record whom the feed has named. */
  named: ReadonlySet<string>;
}

/** `classes`: the feed is taken over only as far as these and who is in them. */
export function newsOf(since: UsersSince, bundle: Bundle, keys: Keys, classes?: readonly string[]): News {
  const members = classes && membersOf(bundle, new Set(classes));
  const table = tableOf(bundle, 'users.csv');
  const column = table?.column('sourcedId') ?? -1;
  // A record that stood twice and stands once is not gone.
  const isNews = (id: string) => since.users.has(id) || since.gone.has(id) || !keys.people.has(id);
  const users = new Map<string, number>();
  const records: number[] = [];
  const say = (id: string, index: number) => {
    if (!users.has(id)) users.set(id, index);
    records.push(index);
  };
  if (keys.unknown && !members) {
    const wanted = new Set([...since.users, ...since.gone, ...keys.unknown]);
    for (const index of table?.having(column, wanted) ?? []) say(table!.value(index, column), index);
  } else
    table?.values(column, (id, index) => {
      if (isNews(id)) say(id, index);
    });
  const isSettled = (id: string) => !users.has(id) && !since.gone.has(id) && (members?.has(id) ?? true);
  const named = new Set<string>();
  // Somebody can have two ids in the feed, of which one is gone.
  const twice = new Set<string>();
  for (const personId of keys.people.values()) {
    const before = named.size;
    if (named.add(personId).size === before) twice.add(personId);
  }
  const touched = new Set<string>();
  for (const id of [...users.keys(), ...since.gone]) touched.add(keys.people.get(id) ?? '');
  const stay = new Set<string>();
  if (members || twice.size > 0)
    for (const [id, personId] of keys.people)
      if ((members || (twice.has(personId) && touched.has(personId))) && isSettled(id)) stay.add(personId);
  return {
    since,
    users,
    ids: new Set(users.keys()),
    records,
    settled: () => {
      const settled = new Map(keys.people);
      if (members) for (const id of keys.people.keys()) if (!members.has(id)) settled.delete(id);
      for (const id of users.keys()) settled.delete(id);
      for (const id of since.gone) settled.delete(id);
      return settled;
    },
    same: () => {
      const same: number[] = [];
      table?.values(column, (id, index) => {
        if (!users.has(id) && !isNews(id) && (members?.has(id) ?? true)) same.push(table.lineOf(index));
      });
      return same;
    },
    stays: (id) => stay.has(id) || (!members && named.has(id) && !touched.has(id)),
    named,
  };
}

/** The users who are in these classes. */
export function membersOf(bundle: Bundle, classes: ReadonlySet<string>): Set<string> {
  const members = new Set<string>();
  eachRecord(bundle, 'enrollments.csv', (get) => members.add(get('userSourcedId')), {
    field: 'classSourcedId',
    wanted: classes,
  });
  return members;
}

/**
 * The people of whom a night says something, all of whom is asked of the register; beside them it can touch those
 * whom no bundle of the feed has named yet, since any of them can be who is new in it.
 */
export interface Touched {
  ids: string[];
  /** Numbers of those who are new. */
  numbers: string[];
}

export function touchedBy({ since, users }: News, bundle: Bundle, keys: Keys): Touched {
  const ids = new Set<string>();
  const add = (user: string) => {
    const id = keys.people.get(user);
    if (id !== undefined) ids.add(id);
  };
  for (const user of users.keys()) add(user);
  since.gone.forEach(add);
  const unknown = new Set<string>();
  const classes = tableOf(bundle, 'classes.csv');
  classes?.values(classes.column('sourcedId'), (id) => {
    if (!keys.classes.has(id)) unknown.add(id);
  });
  // A class that was not the feed's can be one on record, with people in it.
  if (unknown.size > 0)
    eachRecord(bundle, 'enrollments.csv', (get) => add(get('userSourcedId')), {
      field: 'classSourcedId',
      wanted: unknown,
    });
  const numbers: string[] = [];
  const unnamed = [...users].flatMap(([id, index]) => (keys.people.has(id) ? [] : index));
  eachRecord(bundle, 'users.csv', (get) => get('identifier') !== '' && numbers.push(get('identifier')), unnamed);
  return { ids: [...ids], numbers };
}

/** People in classes, by their ids on record, where an enrollment is new or gone; those of the people themselves left out. */
export function placesOf(
  { said, ended }: EnrollmentsSince,
  bundle: Bundle,
  keys: Keys,
  people: Iterable<string>,
): [personId: string, classId: string][] {
  const known = new Set(people);
  const places: [string, string][] = [];
  const add = (user: string, within: string) => {
    const [personId, classId] = [keys.people.get(user), keys.classes.get(within)];
    if (personId !== undefined && classId !== undefined && !known.has(personId)) places.push([personId, classId]);
  };
  for (const { user, class: within } of ended) add(user, within);
  const table = tableOf(bundle, 'enrollments.csv');
  const [user, within] = [table?.column('userSourcedId') ?? -1, table?.column('classSourcedId') ?? -1];
  for (const i of said) add(table!.value(i, user), table!.value(i, within));
  return places;
}
