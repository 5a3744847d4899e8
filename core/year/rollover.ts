/**
 * The roll-over: one plan that ends a school year and begins the next. Everyone comes to one next place or leaves;
 * this year's classes end and stand in the archive; next year's are made after them. Who is in which of them follows
 * from a split that was made by hand, else from the class they come from, else from the alphabet. All of it holds
 * from one day, the first of the new year.
 */
import { say } from '#core/messages/say';
import { dayOf, type Holder, needs, never, type RuleBook } from '#core/licenses/index';
import { type Change, groupBy, type Plan } from '#core/plan/index';
import type {
  Booking,
  Enrollment,
  Group,
  License,
  Loan,
  School,
  SchoolClass,
  SchoolYear,
  Seat,
  Step,
} from '#core/entities/index';
import { ordered, personLabel } from '#core/register/index';
import { creates, ends, updates } from '#core/register/steps';
import { type Gathered, planVerb } from '#core/register/verbs';
import { gradeLabel } from '#core/tabular/values';
import { type GradeMap, mapKey, type Next } from './map';

/** The register as it is, with what is open: all active people, their places, classes, seats and loans. */
export interface YearState {
  schools: readonly School[];
  people: readonly Gathered[];
  classes: readonly SchoolClass[];
  groups: readonly Group[];
  /** Those that go on past the day. */
  seats: readonly Seat[];
  licenses: ReadonlyMap<string, Pick<License, 'productId' | 'schoolId'>>;
  loans: readonly Loan[];
  bookings: readonly Booking[];
  products: RuleBook['products'];
  rules: RuleBook['rules'];
}

export interface YearOrder {
  /** The first day of the new year; yyyy-mm-dd. */
  date: string;
  mint: () => string;
  map: GradeMap;
  /** People who do the grade again. */
  again: ReadonlySet<string>;
  /** People who leave, whatever their grade. */
  leave: ReadonlySet<string>;
  /** Schools that do not take part; an evening school has terms of its own. */
  apart: ReadonlySet<string>;
  /** Next year's classes have this year's teachers. */
  teachers: boolean;
  /** Groups across classes end with the year; those of a class end with it in any case. */
  endGroups: boolean;
  /** Whoever changes school or leaves gives their device back. */
  collect: boolean;
  /** By "schoolId:grade" of next year: each person's class by its name. */
  sections: ReadonlyMap<string, ReadonlyMap<string, string>>;
  /** The new year, and the name of the one that ends, which it replaces in the names of classes. */
  year: Omit<SchoolYear, 'id'> & { after: string };
}

/** What a school is before and after; `students` with a place there. */
/** The counts of a line behind which there are people. */
export const yearGroups = ['up', 'again', 'leave', 'gone', 'come', 'ahead', 'unplaced', 'collect'] as const;
export type YearGroup = (typeof yearGroups)[number];

export interface YearLine {
  schoolId: string;
  before: { students: number; classes: number; seats: number };
  after: { students: number; classes: number; seats: number };
  up: number;
  again: number;
  leave: number;
  /** To other schools and from them. */
  gone: number;
  come: number;
  /** Arrivals that were known, at a place that begins with the new year or later. */
  ahead: number;
  /** In no homeroom of the new year, though their grade has some. */
  unplaced: number;
  /** Devices to be given back. */
  collect: number;
}

export interface RollOver {
  plan: Plan;
  lines: YearLine[];
  /** Ids of the people behind a count, as often as they are counted, by "schoolId:group". */
  who: Map<string, string[]>;
  /** Who is not moved, and why. */
  problems: { label: string; message: string }[];
}

/** Throws RangeError when a grade that people are in goes nowhere; it says which. */
export function rollOver(state: YearState, order: YearOrder): RollOver {
  return new Roller(state, order).roll();
}

interface Going {
  one: Gathered;
  /** null: leaves. */
  to: { schoolId: string; grade: string | null } | null;
  how: 'up' | 'again' | 'stays' | 'ahead' | 'leaves';
}

class Roller {
  private readonly changes: Change[] = [];
  private readonly problems: RollOver['problems'] = [];
  private readonly schools: Map<string, School>;
  private readonly lines: Map<string, YearLine>;
  private readonly going: Going[] = [];
  /** At no school; what they are in ends with the year like everyone's. */
  private readonly loose: Gathered[] = [];
  /** Classes that end, and what takes the place of each. */
  private readonly old: SchoolClass[];
  private readonly madeFrom = new Map<string, SchoolClass>();
  private readonly copies = new Set<SchoolClass>();
  private readonly made: SchoolClass[] = [];
  /** Students who join each class of the new year. */
  private readonly sizes = new Map<SchoolClass, number>();
  private readonly schoolOf: Map<string, string>;
  /** By person, the classes of the new year. */
  private readonly joins = new Map<string, { made: SchoolClass; role: Enrollment['role'] }[]>();

  constructor(
    private readonly state: YearState,
    private readonly order: YearOrder,
  ) {
    this.schools = new Map(state.schools.map((school) => [school.id, school]));
    this.schoolOf = new Map(state.classes.map(({ id, schoolId }) => [id, schoolId]));
    this.lines = new Map(
      state.schools.map(({ id }) => [
        id,
        {
          schoolId: id,
          before: { students: 0, classes: 0, seats: 0 },
          after: { students: 0, classes: 0, seats: 0 },
          ...{ up: 0, again: 0, leave: 0, gone: 0, come: 0, ahead: 0, unplaced: 0, collect: 0 },
        },
      ]),
    );
    // A class that begins with the new year or later is next year's already.
    // What teachers keep for others goes on from year to year.
    this.old = state.classes.filter(
      ({ ends: end, begins, schoolId, kind }) =>
        end === null && begins < order.date && kind !== 'template' && !order.apart.has(schoolId),
    );
  }

  roll(): RollOver {
    this.refuseGaps();
    for (const one of this.state.people) this.place(one);
    this.makeClasses();
    this.fillHomerooms();
    this.fillCourses();
    if (this.order.teachers) this.keepTeachers();
    this.write();
    return { plan: ordered(this.changes), lines: [...this.lines.values()], who: this.who, problems: this.problems };
  }

  private line(schoolId: string): YearLine {
    return this.lines.get(schoolId)!;
  }
  private readonly who: RollOver['who'] = new Map();
  private count(schoolId: string, group: YearGroup, { person }: Gathered): void {
    this.line(schoolId)[group]++;
    const key = `${schoolId}:${group}`;
    const list = this.who.get(key);
    if (list) list.push(person.id);
    else this.who.set(key, [person.id]);
  }

  private nextOf(one: Gathered): Next {
    const { place } = one;
    if (!place || this.order.apart.has(place.schoolId) || one.person.role === 'staff') return 'stays';
    return this.order.map.get(mapKey(place.schoolId, place.grade)) ?? null;
  }

  private refuseGaps(): void {
    const open = new Set<string>();
    for (const one of this.state.people) {
      const { place } = one;
      if (!place || place.begins >= this.order.date || this.order.leave.has(one.person.id)) continue;
      if (this.order.again.has(one.person.id) || this.nextOf(one) !== null) continue;
      open.add(
        say('year.gradeAtSchool', { grade: gradeWords(place.grade), name: this.schools.get(place.schoolId)?.name }),
      );
    }
    if (open.size > 0) throw new RangeError(say('year.noDestination', { list: [...open].sort() }));
  }

  /** Where somebody is next year. */
  private place(one: Gathered): void {
    const { place, person } = one;
    const { date, again, leave } = this.order;
    if (person.status !== 'active') return;
    const coordinates = one.account?.role === 'district' || one.account?.role === 'school';
    const leaves = leave.has(person.id) && !coordinates;
    if (leave.has(person.id) && coordinates)
      this.problems.push({
        label: personLabel(person),
        message: say('year.isACoordinatorSoStays'),
      });
    if (!place) {
      if (leaves) this.going.push({ one, to: null, how: 'leaves' });
      else {
        if (!coordinates || !leave.has(person.id))
          this.problems.push({ label: personLabel(person), message: say('year.hasNoSchoolSoStays') });
        this.loose.push(one);
      }
      return;
    }
    const line = this.line(place.schoolId);
    const isStudent = person.role === 'student';
    if (isStudent) {
      if (place.begins < date) line.before.students++;
      else this.count(place.schoolId, 'ahead', one);
    }
    const here = { schoolId: place.schoolId, grade: place.grade };
    const next = this.nextOf(one);
    const going: Going =
      leaves || (next === 'leaves' && !again.has(person.id) && place.begins < date)
        ? { one, to: null, how: 'leaves' }
        : place.begins >= date
          ? { one, to: here, how: 'ahead' }
          : again.has(person.id)
            ? { one, to: here, how: 'again' }
            : next === 'stays' || next === null || next === 'leaves'
              ? { one, to: here, how: 'stays' }
              : { one, to: next, how: 'up' };
    this.going.push(going);
    if (!isStudent) return;
    if (going.how === 'leaves') this.count(place.schoolId, 'leave', one);
    if (going.how === 'again') this.count(place.schoolId, 'again', one);
    if (!going.to) return;
    this.line(going.to.schoolId).after.students++;
    if (going.how !== 'up') return;
    if (going.to.schoolId === place.schoolId) this.count(place.schoolId, 'up', one);
    else {
      this.count(place.schoolId, 'gone', one);
      this.count(going.to.schoolId, 'come', one);
    }
  }

  private newClass(like: SchoolClass, name: string): SchoolClass {
    const { mint, date } = this.order;
    const made: SchoolClass = { ...like, id: mint(), name, begins: date, ends: null };
    this.made.push(made);
    return made;
  }

  private nextName(name: string): string {
    const { after, name: next } = this.order.year;
    return name.replaceAll(after, next);
  }

  /** Each class of this year has one like it next year; sections that were made beside them have theirs too. */
  private makeClasses(): void {
    for (const like of this.old) {
      const copy = this.newClass(like, this.nextName(like.name));
      this.madeFrom.set(like.id, copy);
      this.copies.add(copy);
    }
    const homerooms = groupBy(
      this.made.filter(({ kind }) => kind === 'homeroom'),
      ({ schoolId, grade }) => mapKey(schoolId, grade),
    );
    for (const [key, whose] of this.order.sections) {
      const [schoolId, grade] = key.split(':') as [string, string];
      const there = new Set((homerooms.get(key) ?? []).map(({ name }) => name));
      for (const name of [...new Set(whose.values())].sort()) {
        if (there.has(name) || !this.schools.has(schoolId)) continue;
        this.newClass({ id: '', schoolId, name, kind: 'homeroom', grade, subject: null, begins: '', ends: null }, name);
      }
    }
  }

  private join(personId: string, made: SchoolClass, role: Enrollment['role'] = 'student'): void {
    const list = this.joins.get(personId);
    if (list?.some((join) => join.made === made && join.role === role)) return;
    if (list) list.push({ made, role });
    else this.joins.set(personId, [{ made, role }]);
    if (role === 'student') this.sizes.set(made, (this.sizes.get(made) ?? 0) + 1);
  }

  /** Homerooms of a grade, in the order of their names. */
  private homeroomsOf = (() => {
    let known: Map<string, SchoolClass[]> | null = null;
    const { compare } = new Intl.Collator('en', { numeric: true });
    return (schoolId: string, grade: string | null): SchoolClass[] => {
      known ??= groupBy(
        this.made.filter(({ kind }) => kind === 'homeroom').sort((a, b) => compare(a.name, b.name)),
        (made) => mapKey(made.schoolId, made.grade),
      );
      return known.get(mapKey(schoolId, grade)) ?? [];
    };
  })();

  private fillHomerooms(): void {
    const old = new Map(this.old.filter(({ kind }) => kind === 'homeroom').map((one) => [one.id, one]));
    const students = this.going.filter(
      ({ one, to, how }) =>
        to !== null && how !== 'ahead' && one.person.role === 'student' && !this.order.apart.has(to.schoolId),
    );
    for (const [key, list] of groupBy(students, ({ to }) => mapKey(to!.schoolId, to!.grade))) {
      const { schoolId, grade } = list[0]!.to!;
      const rooms = this.homeroomsOf(schoolId, grade);
      if (rooms.length === 0) continue;
      const chosen = this.order.sections.get(key);
      const byName = new Map(rooms.map((room) => [room.name, room]));
      const rest: Going[] = [];
      for (const going of list) {
        const room = byName.get(chosen?.get(going.one.person.id) ?? '');
        if (room) this.join(going.one.person.id, room);
        else rest.push(going);
      }
      // Who came up together stays together, where there are as many sections as there were.
      const left: Going[] = [];
      for (const [from, some] of groupBy(
        rest,
        ({ one }) => one.enrollments.find((e) => old.has(e.classId))?.classId ?? '',
      )) {
        const was = old.get(from);
        const room = was && this.after(was, rooms, schoolId);
        if (room) for (const { one } of some) this.join(one.person.id, room);
        else left.push(...some);
      }
      this.spread(left, rooms);
    }
  }

  /** The section that takes over those of a class: of the same rank among its grade's; null: there are not as many. */
  private after(was: SchoolClass, rooms: readonly SchoolClass[], schoolId: string): SchoolClass | null {
    const mates = this.homeroomsOf(was.schoolId, was.grade).filter((room) => this.copies.has(room));
    if (was.schoolId !== schoolId || mates.length !== rooms.length) return null;
    return rooms[mates.indexOf(this.madeFrom.get(was.id)!)] ?? null;
  }

  /** One after the other by name, each to the section that has the fewest. */
  private spread(list: readonly Going[], rooms: readonly SchoolClass[]): void {
    const { compare } = new Intl.Collator('en');
    const names = [...list].sort(
      ({ one: { person: a } }, { one: { person: b } }) =>
        compare(a.familyName, b.familyName) || compare(a.givenName, b.givenName) || (a.id < b.id ? -1 : 1),
    );
    for (const { one } of names) {
      let least = rooms[0]!;
      for (const room of rooms) if ((this.sizes.get(room) ?? 0) < (this.sizes.get(least) ?? 0)) least = room;
      this.join(one.person.id, least);
    }
  }

  /** A course that was one homeroom's is that homeroom's again; the others begin empty. */
  private fillCourses(): void {
    const homerooms = new Set(this.old.filter(({ kind }) => kind === 'homeroom').map(({ id }) => id));
    const courses = new Set(this.old.filter(({ kind }) => kind === 'course').map(({ id }) => id));
    /** Of each course, how many of its students are in which homeroom. */
    const from = new Map<string, Map<string, number>>();
    for (const { enrollments } of this.state.people) {
      const students = enrollments.filter(({ role }) => role === 'student');
      const home = students.find(({ classId }) => homerooms.has(classId))?.classId ?? '';
      for (const { classId } of students) {
        if (!courses.has(classId)) continue;
        let counts = from.get(classId);
        if (!counts) from.set(classId, (counts = new Map()));
        counts.set(home, (counts.get(home) ?? 0) + 1);
      }
    }
    const coursesOf = new Map<SchoolClass, SchoolClass[]>();
    for (const [courseId, counts] of from) {
      const all = [...counts.values()].reduce((sum, n) => sum + n, 0);
      const [home] = [...counts].find(([id, n]) => id !== '' && n >= 0.9 * all) ?? [];
      const room = home && this.madeFrom.get(home);
      const course = this.madeFrom.get(courseId)!;
      if (!room || room.schoolId !== course.schoolId) continue;
      coursesOf.set(room, [...(coursesOf.get(room) ?? []), course]);
    }
    for (const [personId, joins] of this.joins)
      for (const { made, role } of [...joins])
        if (role === 'student') for (const course of coursesOf.get(made) ?? []) this.join(personId, course);
  }

  private keepTeachers(): void {
    for (const { one, to } of this.going) {
      if (one.person.role !== 'staff' || !to) continue;
      for (const { classId, role } of one.enrollments) {
        const made = this.madeFrom.get(classId);
        if (made && role === 'teacher') this.join(one.person.id, made, 'teacher');
      }
    }
  }

  private put(label: string, subject: string, step: Step, needsRow?: string): void {
    this.changes.push({ ...step, label, subject, ...(needsRow ? { needs: [needsRow] } : {}) });
  }

  private write(): void {
    const { after: was, ...year } = this.order.year;
    const yearId = this.order.mint();
    this.put(year.name, yearId, creates('year', yearId, year, say('year.follows', { was })));
    this.writeClasses();
    this.writeLeavers();
    for (const going of this.going) if (going.to) this.writeGoing(going, going.to);
    for (const { person, enrollments } of this.loose)
      for (const e of enrollments)
        if (this.madeFrom.has(e.classId))
          this.put(personLabel(person), person.id, ends('enrollment', e.id, this.order.date, say('year.theYearEnds')));
    this.writeGroups();
    this.writeSeats();
    this.writeLoans();
  }

  private writeClasses(): void {
    const { date } = this.order;
    for (const { id, schoolId, begins, kind } of this.state.classes) {
      // They are of no year.
      if (kind === 'template') continue;
      if (begins < date) this.line(schoolId).before.classes++;
      if (!this.madeFrom.has(id)) this.line(schoolId).after.classes++;
    }
    for (const made of this.made) {
      this.line(made.schoolId).after.classes++;
      const { id, ...fields } = made;
      const after = {
        ...fields,
        period: made.period ?? null,
        color: made.color ?? null,
        discuss: made.discuss ?? null,
        invite: made.invite ?? null,
      };
      this.put(this.classLabel(made), id, creates('class', id, after, say('year.nextYears')));
    }
    const ending = new Set(this.old.map(({ id }) => id));
    for (const one of this.old)
      this.put(this.classLabel(one), one.id, ends('class', one.id, date, say('year.theYearEnds')));
    for (const { id, classId } of this.state.bookings)
      if (ending.has(classId)) this.put('a booking', classId, ends('booking', id, date, say('year.theYearEnds')));
  }

  private classLabel({ name, schoolId }: SchoolClass): string {
    return `${name} · ${this.schools.get(schoolId)?.name ?? ''}`;
  }

  private writeLeavers(): void {
    const leavers = this.going.filter(({ to }) => to === null).map(({ one }) => one);
    const { plan, problems } = planVerb(
      leavers,
      { verb: 'leave' },
      {
        schools: this.schools,
        classes: new Map(this.state.classes.map((one) => [one.id, one])),
        group: null,
        heir: null,
        date: this.order.date,
        rollOvers: [],
        mint: this.order.mint,
      },
    );
    this.changes.push(...plan.changes);
    this.problems.push(...problems);
  }

  private writeGoing({ one, how }: Going, to: NonNullable<Going['to']>): void {
    const { date, mint } = this.order;
    const { person, place } = one;
    const label = personLabel(person);
    if (how === 'up' && place) {
      const reason = say(to.schoolId === place.schoolId ? 'year.gradeToGrade' : 'year.gradeToGradeAt', {
        ...{ from: gradeWords(place.grade), to: gradeWords(to.grade) },
        ...(to.schoolId === place.schoolId ? {} : { name: this.schools.get(to.schoolId)?.name }),
      });
      const end = ends('affiliation', place.id, date, reason);
      // That it is for the next grade of the same school can be read off the change.
      const before = to.schoolId === place.schoolId ? { ...end.before, grade: place.grade } : end.before;
      this.put(label, person.id, { ...end, before });
      const after = { personId: person.id, ...to, begins: date, ends: null };
      this.put(label, person.id, creates('affiliation', mint(), after, reason));
    }
    for (const e of one.enrollments) {
      const left = to.schoolId !== place?.schoolId && this.schoolOf.get(e.classId) === place?.schoolId;
      const why = this.madeFrom.has(e.classId) ? say('year.theYearEnds') : left ? say('intake.leftTheSchool') : null;
      if (why) this.put(label, person.id, ends('enrollment', e.id, date, why));
    }
    for (const { made, role } of this.joins.get(person.id) ?? []) {
      const after = { personId: person.id, classId: made.id, role, begins: date, ends: null };
      this.put(
        label,
        person.id,
        creates('enrollment', mint(), after, `${role === 'teacher' ? 'teaches' : 'joins'} ${made.name}`),
        made.id,
      );
    }
    if (person.role !== 'student' || how === 'ahead' || this.order.apart.has(to.schoolId)) return;
    const isIn = this.joins.get(person.id)?.some(({ made }) => made.kind === 'homeroom');
    if (!isIn && this.homeroomsOf(to.schoolId, to.grade).length > 0) this.count(to.schoolId, 'unplaced', one);
  }

  private writeGroups(): void {
    const { date, endGroups } = this.order;
    const ending = new Map(
      this.state.groups
        .filter(({ classId, schoolId }) =>
          classId === null ? endGroups && !this.order.apart.has(schoolId) : this.madeFrom.has(classId),
        )
        .map((group) => [group.id, group]),
    );
    for (const group of ending.values())
      this.put(group.name, group.id, ends('group', group.id, date, say('year.theYearEnds')));
    const schoolOf = new Map(this.state.groups.map(({ id, schoolId }) => [id, schoolId]));
    for (const { one, to } of [...this.going, ...this.loose.map((one) => ({ one, to: null }))])
      for (const membership of one.memberships) {
        const stays = !ending.has(membership.groupId) && to?.schoolId === schoolOf.get(membership.groupId);
        if (!stays)
          this.put(
            personLabel(one.person),
            one.person.id,
            ends('membership', membership.id, date, say('year.theYearEnds')),
          );
      }
  }

  /** A seat is released when its holder is no longer entitled to the product, or the license is a school's that they leave. */
  private writeSeats(): void {
    const { date } = this.order;
    const day = dayOf(date);
    const holding = groupBy(this.state.seats, ({ personId }) => personId);
    const facts = new Map(
      this.made.map((made) => [
        made.id,
        { schoolId: made.schoolId, grade: made.grade, subject: made.subject, from: day, to: never },
      ]),
    );
    const staying = this.going.filter(({ one, to }) => to !== null && holding.has(one.person.id));
    const holders = staying.map(({ one, to }): Holder => ({
      id: one.person.id,
      role: one.person.role,
      stopped: one.account?.status === 'frozen',
      places: [{ ...to!, from: day, to: never }],
      classes: (this.joins.get(one.person.id) ?? []).map(({ made, role }) => ({
        classId: made.id,
        role,
        from: day,
        to: never,
      })),
    }));
    const entitled = new Map<string, Set<number>>();
    const book = { products: this.state.products, rules: this.state.rules, classes: facts };
    for (const [productId, list] of needs(holders, book, { from: day, to: day + 365 }))
      entitled.set(productId, new Set(list.map(({ who }) => who)));
    for (const { one } of this.going)
      for (const seat of holding.get(one.person.id) ?? [])
        if (one.place) this.line(one.place.schoolId).before.seats += seat.begins < date ? 1 : 0;
    staying.forEach(({ one, to, how }, who) => {
      for (const seat of holding.get(one.person.id)!) {
        const license = this.state.licenses.get(seat.licenseId);
        if (!license) continue;
        const elsewhere = license.schoolId !== null && license.schoolId !== to!.schoolId;
        // Whoever stays in a school that is apart keeps what they hold.
        const keeps =
          how === 'ahead' || this.order.apart.has(to!.schoolId) || entitled.get(license.productId)?.has(who);
        if (keeps && !elsewhere) {
          this.line(to!.schoolId).after.seats++;
          continue;
        }
        const after = { ends: seat.begins > date ? seat.begins : date };
        const why = elsewhere ? say('year.usesAnotherSchoolsLicense') : say('year.notEntitledToItNext');
        this.put(personLabel(one.person), one.person.id, updates('seat', seat.id, { ends: seat.ends }, after, why));
      }
    });
  }

  private writeLoans(): void {
    const { date, collect } = this.order;
    const loans = groupBy(
      this.state.loans.filter((loan) => loan.ends === null),
      ({ personId }) => personId,
    );
    if (!collect) return;
    for (const { one, to } of this.going) {
      if (to && to.schoolId === one.place?.schoolId) continue;
      for (const loan of loans.get(one.person.id) ?? []) {
        if (one.place) this.count(one.place.schoolId, 'collect', one);
        if (loan.due !== null && loan.due <= date) continue;
        const why = to ? say('year.dueBackChangesSchools') : say('year.dueBackWithdraws');
        this.put(
          personLabel(one.person),
          one.person.id,
          updates('loan', loan.id, { due: loan.due }, { due: date }, why),
        );
      }
    }
  }
}

const gradeWords = (grade: string | null): string =>
  grade === null ? say('year.withoutGrade') : say('year.inGrade', { grade: gradeLabel(grade) });
