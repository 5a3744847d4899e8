/**
 * The plan of a bundle of the open roster standard: its people like those of a list, then its classes and who is in
 * them. What a complete bulk bundle's classes do not have ends; a delta ends only what it says.
 */
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';
import { schoolFinder } from '#core/names/schools';
import {
  type Bundle,
  type Checked,
  eachRecord,
  type EnrollmentsSince,
  listOf,
  longest,
  type RosterPerson,
  rosterPeople,
  type SomeUsers,
} from '#core/oneroster/index';
import { type Change, type Fields, groupBy } from '#core/plan/index';
import { recordOf, type School } from '#core/entities/index';
import { personLabel } from '#core/register/index';
import { parseGrade, type Problem, type TypedRow } from '#core/tabular/index';
import { type Keys, membersOf, type News } from './news';
import { planImport } from './import';
import type { ImportResult, Intent, Open, Snapshot, Sofar, Tools } from './terms';

export interface RosterIntent extends Intent {
  /** Ids on record by sourcedId, as the last applied bundle of the feed had them. */
  keys: Keys;
  /** What differs from the feed's last bundle; absent: everything is compared. */
  night?: { news: News; enrollments: EnrollmentsSince };
  /** Lines of its files that cannot be taken over. */
  refused?: Checked['refused'];
  /** Only these classes (sourcedIds) and the people in them; absent: all. */
  classes?: readonly string[];
}

export interface RosterResult extends ImportResult {
  /** sourcedIds with the ids that they have on record, and those of people who have none. */
  keys: { people: Map<string, string>; classes: Map<string, string>; unknown: Set<string> };
}

export interface RosterRows {
  rows: TypedRow[];
  people: RosterPerson[];
}

/**
 * Students and staff as rows; `line` is the record's in users.csv. Guardians are kept as an address of their child.
 * `classes`: only who is in those; `only`: only these users, which at night are those of whom there are news.
 */
export function rosterRows(bundle: Bundle, classes?: readonly string[], only?: SomeUsers): RosterRows {
  const members = classes && membersOf(bundle, new Set(classes));
  const some = members ? { ids: only ? new Set([...members].filter((id) => only.ids.has(id))) : members } : only;
  const people = rosterPeople(bundle, { homerooms: false, ...(some ? { only: some } : {}) }).filter(
    ({ role, deleted }) => role !== 'guardian' && !deleted,
  );
  const rows = people.map((person): TypedRow => ({
    line: person.line,
    ...recordOf(person),
    grade: person.grade,
    className: '',
    schoolName: person.school,
    role: person.role,
    birthAsWritten: null,
  }));
  return { rows, people };
}

export function planRoster(
  snapshot: Snapshot,
  bundle: Bundle,
  { rows, people }: RosterRows,
  problems: Problem[],
  intent: RosterIntent,
  tools: Tools,
): RosterResult {
  const orgs = orgsOf(bundle, snapshot.schools);
  // A school is called as on record, whatever the roster calls it by now.
  const schoolNames = people.map(({ schoolId, school }) => orgs.get(schoolId)?.name ?? school);
  const named = rows.map((row, i) =>
    row.schoolName === schoolNames[i] ? row : { ...row, schoolName: schoolNames[i]! },
  );
  // Of whom the feed says what it said last time nothing is compared; what was corrected by hand stays.
  const news = intent.night?.news;
  const sure = new Map<number, string>();
  const record = new Set(snapshot.people.map(({ id }) => id));
  for (const { sourcedId, line } of people) {
    // In a bundle that Sheaf wrote they are called as on record.
    const id = intent.keys.people.get(sourcedId) ?? sourcedId;
    if (record.has(id)) sure.set(line, id);
  }
  const isBulk = bundle.delta.size === 0 && intent.classes === undefined;
  let planner: ClassPlanner | null = null;
  const personOf = news?.settled() ?? new Map<string, string>();
  const result = planImport(
    snapshot,
    named,
    problems,
    {
      ...intent,
      sure: { byLine: sure, settled: new Set([...record].filter((id) => news?.stays(id))) },
      named: news?.named ?? new Set(intent.keys.people.values()),
      complete: intent.complete && isBulk,
      completeSchools: [...new Set([...orgs.values()].map((s) => s.id))],
    },
    tools,
    (put, sofar) => {
      for (const { sourcedId, line } of people) {
        // Who is left out is still who they were.
        const id = sofar.result.matched.get(line) ?? (intent.leftOut?.has(line) ? sure.get(line) : undefined);
        if (id !== undefined) personOf.set(sourcedId, id);
      }
      const leftOut = people.flatMap(({ sourcedId, line }) => (intent.leftOut?.has(line) ? sourcedId : []));
      planner = new ClassPlanner(snapshot, bundle, orgs, intent, tools, sofar, put, new Set(leftOut));
      planner.run(personOf, isBulk, people);
    },
  );
  // Whom nobody looked at is counted where that is what is asked.
  if (news && tools.onlyCount) for (const line of news.same()) result.same.push(line);
  const identifiers = result.newSchools.length > 0 ? identifiersOf(bundle) : null;
  return {
    ...result,
    newSchools: result.newSchools.map((school) => ({ ...school, identifier: identifiers?.get(school.name) ?? null })),
    keys: {
      people: personOf,
      classes: (planner as ClassPlanner | null)?.classes ?? new Map<string, string>(),
      unknown: new Set(people.flatMap(({ sourcedId }) => (personOf.has(sourcedId) ? [] : sourcedId))),
    },
  };
}

/** Orgs of the bundle by sourcedId, as schools on record. */
function orgsOf(bundle: Bundle, schools: readonly School[]): Map<string, School> {
  const found = new Map<string, School>();
  const { findOrg } = schoolFinder(schools);
  eachRecord(bundle, 'orgs.csv', (get) => {
    if (get('type') !== 'school' || found.has(get('sourcedId'))) return;
    const school = findOrg({ name: get('name'), identifier: get('identifier') });
    if (school) found.set(get('sourcedId'), school);
  });
  return found;
}
/** What the roster calls schools, by their names. */
function identifiersOf(bundle: Bundle): Map<string, string> {
  const found = new Map<string, string>();
  eachRecord(bundle, 'orgs.csv', (get) => {
    if (get('type') === 'school' && get('identifier')) found.set(get('name'), get('identifier'));
  });
  return found;
}

/** Thousands of new rows share it. */
const nothing: Fields = {};

class ClassPlanner {
  /** Id on record by sourcedId. */
  readonly classes = new Map<string, string>();
  private readonly homerooms = new Set<string>();
  private readonly labels = new Map<string, string>();
  private readonly names: Map<string, string>;

  constructor(
    private readonly snapshot: Snapshot,
    private readonly bundle: Bundle,
    private readonly orgs: Map<string, School>,
    private readonly intent: RosterIntent,
    private readonly tools: Tools,
    private readonly sofar: Sofar,
    private readonly put: (change: Change) => void,
    /** sourcedIds of users whose rows are left out. */
    private readonly leftOut: ReadonlySet<string>,
  ) {
    this.names = new Map(snapshot.labels);
    for (const p of snapshot.people) this.names.set(p.id, personLabel(p));
    for (const c of sofar.changes) if (c.entity === 'person' && c.op === 'create') this.names.set(c.id, c.label);
  }

  run(personOf: Map<string, string>, isBulk: boolean, people: RosterPerson[]): void {
    this.planClasses();
    this.planEnrollments(personOf, isBulk, people);
  }

  private planClasses(): void {
    const { snapshot, intent, bundle, orgs } = this;
    const wanted = intent.classes ? new Set(intent.classes) : null;
    const courses = new Map<string, string>();
    eachRecord(bundle, 'courses.csv', (get) =>
      courses.set(get('sourcedId'), listOf(get('subjects'))[0] ?? get('title')),
    );
    // What is too long was reported and is left out.
    const fitting = (subject: string | undefined) =>
      subject !== undefined && subject.length <= longest['classes.csv']!.subjects! ? subject : null;
    const byId = new Map(snapshot.classes.map((c) => [c.id, c]));
    for (const { id, kind } of snapshot.classes) if (kind === 'homeroom') this.homerooms.add(id);
    // Two classes of a school can have one name: each is met once.
    const met = new Set(intent.keys.classes.values());
    eachRecord(bundle, 'classes.csv', (get) => met.add(get('sourcedId')), {
      field: 'sourcedId',
      wanted: new Set(byId.keys()),
    });
    const byName = groupBy(snapshot.classes, (c) => `${c.schoolId}|${fold(c.name)}`);
    const named = (name: string) => {
      const one = byName.get(name)?.find(({ id }) => !met.has(id));
      if (one) met.add(one.id);
      return one;
    };
    eachRecord(bundle, 'classes.csv', (get, line) => {
      const sourcedId = get('sourcedId');
      const school = orgs.get(get('schoolSourcedId'));
      if (intent.refused?.get('classes.csv')?.has(line)) return;
      if (!school || (wanted && !wanted.has(sourcedId)) || get('status') === 'tobedeleted') return;
      const title = get('title');
      const known = byId.get(intent.keys.classes.get(sourcedId) ?? sourcedId) ?? named(`${school.id}|${fold(title)}`);
      const subject = fitting(listOf(get('subjects'))[0] ?? courses.get(get('courseSourcedId')));
      const kind = get('classType') === 'homeroom' ? 'homeroom' : 'course';
      const after: Fields = {
        name: title,
        grade: parseGrade(listOf(get('grades'))[0] ?? ''),
        subject: kind === 'homeroom' ? null : subject,
      };
      const origin = { source: `${intent.source}, classes.csv`, line };
      const label = `${title} · ${school.name}`;
      if (!known) {
        const id = this.tools.mint();
        this.classes.set(sourcedId, id);
        this.labels.set(id, title);
        if (kind === 'homeroom') this.homerooms.add(id);
        this.sofar.result.newClasses.push(title);
        this.put({
          entity: 'class',
          id,
          op: 'create',
          before: {},
          after: { schoolId: school.id, kind, begins: intent.date, ends: null, ...after },
          reason: say('intake.newInTheBundle'),
          label,
          subject: id,
          origin,
        });
        return;
      }
      this.classes.set(sourcedId, known.id);
      this.labels.set(known.id, title);
      const changed = Object.keys(after).filter((f) => after[f] !== null && after[f] !== known[f as 'name']);
      if (changed.length === 0) return;
      this.put({
        entity: 'class',
        id: known.id,
        op: 'update',
        before: Object.fromEntries(changed.map((f) => [f, known[f as 'name']])),
        after: Object.fromEntries(changed.map((f) => [f, after[f]!])),
        reason: changed.join(', '),
        label,
        subject: known.id,
        origin,
      });
    });
  }

  private planEnrollments(personOf: Map<string, string>, isBulk: boolean, people: RosterPerson[]): void {
    const { intent, bundle } = this;
    const { night } = intent;
    const touched = new Set(this.classes.values());
    const places = new Places(this.sofar.enrollmentsOf, touched);
    const ended = new Set(
      this.sofar.changes.filter((c) => c.entity === 'enrollment' && c.op === 'end').map((c) => c.id),
    );
    const gone: Open[] = [];
    const rooms: Change[] = [];
    const source = `${intent.source}, enrollments.csv`;
    const idOf = (user: string) => personOf.get(user) ?? intent.keys.people.get(user);
    const refused = intent.refused?.get('enrollments.csv');
    const record = (get: (field: string) => string, line: number) => {
      if (refused?.has(line)) return;
      const classId = this.classes.get(get('classSourcedId'));
      const user = get('userSourcedId');
      const personId = this.leftOut.has(user) ? undefined : idOf(user);
      const role = get('role') === 'student' ? 'student' : get('role') === 'teacher' ? 'teacher' : null;
      if (classId === undefined || personId === undefined || role === null) return;
      const over = get('status') === 'tobedeleted' || (get('endDate') !== '' && get('endDate') <= intent.date);
      const place = places.at(personId, classId, role);
      const { there } = place;
      if (over) {
        if (there) gone.push(there);
        return;
      }
      if (place.said) return;
      place.said = true;
      // A person has one role in a class: an earlier one ends, and of two in the bundle the first counts.
      const other = places.known(personId, classId, role === 'student' ? 'teacher' : 'student');
      if (other?.said) return;
      if (other?.there) gone.push(other.there);
      if (there && !ended.has(there.id)) return;
      const put = role === 'student' && this.homerooms.has(classId) ? (c: Change) => rooms.push(c) : this.put;
      put({
        entity: 'enrollment',
        id: this.tools.mint(),
        op: 'create',
        before: nothing,
        after: { personId, classId, role, begins: intent.date, ends: null },
        reason: say('classes.joins', { name: this.labels.get(classId) ?? say('intake.aClass') }),
        label: this.names.get(personId) ?? say('intake.aNewPerson'),
        subject: personId,
        needs: [personId, classId],
        origin: { source, line },
      });
    };
    eachRecord(bundle, 'enrollments.csv', record, night?.enrollments.said);
    if (night) {
      this.sayOld(night.news, people, personOf, record);
      // Said last time and no longer: it ends, unless another record says the same.
      for (const was of night.enrollments.ended) {
        const place = places.known(idOf(was.user), this.classes.get(was.class), was.role);
        if (place?.there && !place.said) gone.push(place.there);
      }
    } else if (isBulk && intent.complete && bundle.tables.has('enrollments.csv'))
      for (const { there, said } of places.all()) if (there && !said && !this.waits(there.personId)) gone.push(there);
    const [open, over] = [{ ends: null }, { ends: intent.date }];
    const origin = { source: intent.source };
    this.putRooms(
      rooms,
      new Set([...gone.filter((e) => !this.sofar.leftAlone.has(e.personId)).map(({ id }) => id), ...ended]),
    );
    for (const e of new Set(gone)) {
      if (ended.has(e.id) || this.sofar.leftAlone.has(e.personId)) continue;
      this.put({
        entity: 'enrollment',
        id: e.id,
        op: 'end',
        before: open,
        after: over,
        reason: say('intake.notInTheBundle', { name: this.labels.get(e.classId) ?? say('intake.theClass') }),
        label: this.names.get(e.personId) ?? 'a person',
        subject: e.personId,
        origin,
      });
    }
  }

  /**
   * People and classes who were unknown last night and are known now: what is said of them is new, though it was said
   * before. Where it is not recorded who was unknown, everyone new is looked at.
   */
  private sayOld(
    { since }: News,
    people: RosterPerson[],
    personOf: ReadonlyMap<string, string>,
    record: (get: (field: string) => string, line: number) => void,
  ): void {
    const { keys } = this.intent;
    const users = new Set<string>();
    for (const { sourcedId: id } of people)
      if (personOf.has(id) && !keys.people.has(id) && (!since.users.has(id) || (keys.unknown?.has(id) ?? true)))
        users.add(id);
    const classes = new Set([...this.classes.keys()].filter((id) => !keys.classes.has(id)));
    if (users.size === 0 && classes.size === 0) return;
    eachRecord(this.bundle, 'enrollments.csv', (get, line) => {
      if (users.has(get('userSourcedId')) || classes.has(get('classSourcedId'))) record(get, line);
    });
  }

  /** A student is in one homeroom: a second one waits, while the first does not end. */
  private putRooms(rooms: readonly Change[], over: ReadonlySet<string>): void {
    const inside = new Map<string, string>();
    for (const change of rooms) {
      const [personId, classId] = [String(change.after.personId), String(change.after.classId)];
      const now =
        inside.get(personId) ??
        this.sofar.enrollmentsOf
          .get(personId)
          ?.find((e) => e.role === 'student' && this.homerooms.has(e.classId) && !over.has(e.id))?.classId;
      if (now === undefined) {
        inside.set(personId, classId);
        this.put(change);
      } else if (now !== classId)
        this.sofar.result.waiting.push({
          line: 0,
          code: 'problem',
          message: say('intake.theBundlePutsInThe', {
            label: change.label,
            name: this.labels.get(classId) ?? say('intake.ofAnotherClass'),
            line: change.origin?.line ?? 0,
            other: this.labels.get(now) ?? say('intake.anotherOne'),
          }),
          candidates: [],
        });
    }
  }

  private waiting: Set<string> | null = null;
  /** Somebody whom a row that waits could mean is left where they are. */
  private waits(personId: string): boolean {
    this.waiting ??= new Set(this.sofar.result.waiting.flatMap((w) => w.candidates));
    return this.waiting.has(personId);
  }
}

interface Place {
  classId: string;
  role: string;
  /** On record. */
  there: Open | null;
  /** The bundle has it. */
  said: boolean;
}

/** Who is where as what: each place once, a person's when they are asked for. */
class Places {
  private readonly byPerson = new Map<string, Place[]>();

  /** Of what is on record only these classes count. */
  constructor(
    private readonly enrollmentsOf: ReadonlyMap<string, readonly Open[]>,
    private readonly classes: ReadonlySet<string>,
  ) {}

  private of(personId: string): Place[] {
    const known = this.byPerson.get(personId);
    if (known) return known;
    const list: Place[] = [];
    for (const there of this.enrollmentsOf.get(personId) ?? []) {
      const { classId, role } = there;
      if (!this.classes.has(classId)) continue;
      const twice = list.find((place) => place.classId === classId && place.role === role);
      if (twice) twice.there = there;
      else list.push({ classId, role, there, said: false });
    }
    this.byPerson.set(personId, list);
    return list;
  }

  known(personId: string | undefined, classId: string | undefined, role: string): Place | undefined {
    if (personId === undefined || classId === undefined) return undefined;
    return this.of(personId).find((place) => place.classId === classId && place.role === role);
  }

  /** The place, written down if it is not yet known. */
  at(personId: string, classId: string, role: string): Place {
    const known = this.known(personId, classId, role);
    if (known) return known;
    const place: Place = { classId, role, there: null, said: false };
    this.of(personId).push(place);
    return place;
  }

  *all(): Generator<Place> {
    for (const personId of this.enrollmentsOf.keys()) this.of(personId);
    for (const list of this.byPerson.values()) yield* list;
  }
}
