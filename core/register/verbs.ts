/**
 * What can be done with many people at once: each verb is a plan over what is open today. Whoever a verb does not
 * fit is named with the reason and left as they are; who is already as the verb would have them is counted.
 */
import { say } from '#core/messages/say';
import type { Change, Plan } from '#core/plan/index';
import { gradeLabel, hasGrade } from '#core/tabular/values';
import type {
  Account,
  Affiliation,
  Enrollment,
  Group,
  Loan,
  Membership,
  Person,
  School,
  SchoolClass,
  Seat,
  Step,
} from '#core/entities/index';
import { ordered, personLabel } from './index';
import { gradeOnReturn, type LeftWith, stepsOnReturn } from './returning';
import { creates, ends, updates } from './steps';

export type RegisterVerb =
  /** Into a class; `instead`: out of their other classes of its kind. Staff become its teachers. */
  | { verb: 'enroll'; classId: string; instead: boolean }
  | { verb: 'unenroll'; classId: string }
  /**
   * To another school or grade. A person who left comes back: unless something else is said, to their last school, in
   * the grade that follows, in the classes that still run, with the device that they still have. Without `classId`
   * classes of a school left behind just end.
   */
  | { verb: 'move'; schoolId: string | null; grade: string | null; classId: string | null }
  /** Into a group of a class or a school, or out of it. */
  | { verb: 'group'; groupId: string; out: boolean }
  /** Sign-in off, all else stays. */
  | { verb: 'hold' }
  | { verb: 'release' }
  /** Out of the district: place and enrollments end, sign-in is off. Nothing is deleted. `heirId`: who teaches their classes from now on. */
  | { verb: 'leave'; heirId?: string | null }
  /** Brings back people who left, see `move`. */
  | { verb: 'return' };
/** What people hold: a seat of a product, a device, or back with it. */
export type HoldingVerb =
  | { verb: 'seats'; productId: string; take: boolean }
  /** `due`: the day on which a loan ends; null: their own. */
  | { verb: 'devices'; take: boolean; due: string | null };
/** All that they lack. */
export interface ReadyVerb {
  verb: 'ready';
}
export type Verb = RegisterVerb | HoldingVerb | ReadyVerb;

export interface Gathered {
  person: Person;
  place: Affiliation | null;
  /** Open ones. */
  enrollments: Enrollment[];
  memberships: Membership[];
  /** Those that go on, begun or not. */
  seats: Pick<Seat, 'id' | 'begins' | 'ends'>[];
  /** Of devices that they have. */
  loans: Pick<Loan, 'id' | 'due'>[];
  account: Pick<Account, 'id' | 'username' | 'status' | 'role'> | null;
  /** Of people who left. */
  left?: LeftWith | null;
}

export interface Around {
  schools: ReadonlyMap<string, School>;
  /** Those that the people are in, or were in when they left, and the one that the verb names. */
  classes: ReadonlyMap<string, SchoolClass>;
  /** The one that the verb names. */
  group: Group | null;
  /** Whom the verb names to take over classes, with those that they teach already. */
  heir: { person: Person; teaches: ReadonlySet<string> } | null;
  /** The day from which it holds; yyyy-mm-dd. */
  date: string;
  /** Days on which everybody went on to the next school year, roll-overs that hold; yyyy-mm-dd. */
  rollOvers: readonly string[];
  mint: () => string;
}

export interface VerbPlan {
  plan: Plan;
  /** Already so. */
  same: number;
  problems: { label: string; message: string }[];
}

export function planVerb(people: readonly Gathered[], order: RegisterVerb, around: Around): VerbPlan {
  const made = new VerbPlanner(order, around);
  for (const one of people) made.add(one);
  return { plan: ordered(made.changes), same: made.same, problems: made.problems };
}

class VerbPlanner {
  readonly changes: Change[] = [];
  readonly problems: VerbPlan['problems'] = [];
  same = 0;
  /** Classes that somebody has taken over in this plan. */
  private readonly inherited = new Set<string>();

  constructor(
    private readonly order: RegisterVerb,
    private readonly around: Around,
  ) {}

  add(one: Gathered): void {
    const { order } = this;
    const before = this.changes.length;
    const problem = one.person.status === 'merged' ? say('plan.isPartOfAnotherRecord') : this.doIt(one, order);
    if (problem !== null) {
      this.changes.length = before;
      this.problems.push({ label: personLabel(one.person), message: problem });
    } else if (this.changes.length === before) this.same++;
  }

  /** Why it cannot be; null: it is planned, or so already. */
  private doIt(one: Gathered, order: RegisterVerb): string | null {
    const { verb } = order;
    // Nobody locks out whoever runs the place, themselves included.
    if ((verb === 'hold' || verb === 'leave') && (one.account?.role === 'district' || one.account?.role === 'school'))
      return say('plan.isACoordinatorRemoveThat');
    switch (verb) {
      case 'enroll':
        return this.enroll(one, order.classId, order.instead);
      case 'unenroll':
        for (const e of one.enrollments) if (e.classId === order.classId) this.end(one, e, say('plan.removed'));
        return null;
      case 'move':
        return this.move(one, order);
      case 'group':
        return this.group(one, order.out);
      case 'hold':
        if (one.person.status === 'left') return say('plan.hasLeftSoThereIs');
        if (!one.account) return say('plan.hasNoAccount');
        this.signIn(one, 'active', 'frozen', say('plan.suspendedSignInTurnedOff'));
        return null;
      case 'release':
        if (one.person.status === 'left') return say('plan.hasLeftTransferThemTo');
        if (!one.account) return say('plan.hasNoAccount');
        this.signIn(one, 'frozen', 'active', say('plan.reinstated'));
        return null;
      case 'leave':
        return this.leave(one);
      case 'return':
        return one.person.status === 'left'
          ? this.move(one, { verb: 'move', schoolId: null, grade: null, classId: null })
          : null;
    }
  }

  private put({ person }: Gathered, step: Step): void {
    this.changes.push({ ...step, label: personLabel(person), subject: person.id });
  }

  private className(id: string): string {
    return this.around.classes.get(id)?.name ?? 'a class';
  }

  private end(one: Gathered, enrollment: Enrollment, why: string): void {
    this.put(one, ends('enrollment', enrollment.id, this.around.date, `${this.className(enrollment.classId)}: ${why}`));
  }

  private signIn(one: Gathered, from: Account['status'], to: Account['status'], reason: string): void {
    if (one.account?.status !== from) return;
    this.put(one, updates('account', one.account.id, { status: from }, { status: to }, reason));
  }

  private enroll(one: Gathered, classId: string, instead: boolean, schoolId = one.place?.schoolId): string | null {
    const { classes, schools, date, mint } = this.around;
    const to = classes.get(classId);
    if (!to || to.ends !== null) return say('plan.theClassNoLongerExists');
    if (one.person.status === 'left' && !schoolId) return say('plan.hasLeftTransferThemTo2');
    if (schoolId !== to.schoolId)
      return say('plan.isNotAtTransferThem', { name: schools.get(to.schoolId)?.name ?? say('plan.theClasssSchool') });
    const role = one.person.role === 'staff' ? 'teacher' : 'student';
    // A student is in one homeroom, whatever is asked for.
    if ((instead || to.kind === 'homeroom') && role === 'student')
      for (const e of one.enrollments)
        if (e.role === 'student' && e.classId !== classId && classes.get(e.classId)?.kind === to.kind)
          this.end(one, e, say('plan.movesTo', { name: to.name }));
    if (one.enrollments.some((e) => e.classId === classId && e.role === role)) return null;
    this.put(
      one,
      creates(
        'enrollment',
        mint(),
        { personId: one.person.id, classId, role, begins: date, ends: null },
        role === 'teacher' ? say('intake.teaches', { name: to.name }) : say('classes.joins', { name: to.name }),
      ),
    );
    return null;
  }

  private group(one: Gathered, out: boolean): string | null {
    const { group, date, mint, classes, schools } = this.around;
    if (!group || group.ends !== null) return say('plan.theGroupNoLongerExists');
    if (group.rule !== null) return say('plan.followsARuleSoIt', { name: group.name });
    const there = one.memberships.find((m) => m.groupId === group.id);
    if (out) {
      if (there) this.put(one, ends('membership', there.id, date, say('plan.removedFrom', { name: group.name })));
      return null;
    }
    if (one.person.role !== 'student') return say('plan.isStaffGroupsAreFor');
    if (group.classId !== null && !one.enrollments.some((e) => e.classId === group.classId && e.role === 'student'))
      return say('plan.isNotIn', { name: classes.get(group.classId)?.name ?? say('plan.theGroupsClass') });
    if (group.classId === null && one.place?.schoolId !== group.schoolId)
      return say('plan.isNotAt', { name: schools.get(group.schoolId)?.name ?? say('plan.theGroupsSchool') });
    if (there) return null;
    const after = { personId: one.person.id, groupId: group.id, begins: date, ends: null };
    this.put(one, creates('membership', mint(), after, say('classes.in', { name: group.name })));
    return null;
  }

  private move(one: Gathered, order: Extract<RegisterVerb, { verb: 'move' }>): string | null {
    const { schools, classes, date, mint } = this.around;
    const { person, place } = one;
    const { left } = one;
    const schoolId = order.schoolId ?? place?.schoolId ?? left?.place.schoolId ?? null;
    const school = schoolId === null ? undefined : schools.get(schoolId);
    if (!school) return say('plan.hasNoSchoolChooseA');
    const grade =
      person.role === 'staff'
        ? null
        : (order.grade ?? place?.grade ?? (left ? gradeOnReturn(left, this.around.rollOvers) : null));
    if (grade !== null && !hasGrade(grade, school))
      return say('plan.hasNoGradeChooseA', { name: school.name, grade: gradeLabel(grade) });
    const target = order.classId === null ? null : classes.get(order.classId);
    if (target && target.schoolId !== school.id)
      return say('plan.isNotAClassAt', { name: target.name, school: school.name });
    if (person.status === 'left') {
      this.put(one, updates('person', person.id, { status: 'left' }, { status: 'active' }, say('intake.enrollsAgain')));
      this.signIn(one, 'frozen', 'active', say('intake.accountActiveAgain'));
    }
    const from = place && schools.get(place.schoolId);
    if (place?.schoolId === school.id) {
      if (grade !== place.grade)
        this.put(
          one,
          updates(
            'affiliation',
            place.id,
            { grade: place.grade },
            { grade },
            say('intake.gradeTo', { grade: gradeLabel(place.grade), next: gradeLabel(grade) }),
          ),
        );
    } else {
      if (place)
        this.put(
          one,
          ends(
            'affiliation',
            place.id,
            date,
            say('intake.transfersFromTo', { name: from?.name ?? say('intake.anotherSchool'), to: school.name }),
          ),
        );
      const after = { personId: person.id, schoolId: school.id, grade, begins: date, ends: null };
      const reason = from
        ? say('intake.transfersFrom', { name: from.name })
        : say('intake.startsAt', { name: school.name });
      this.put(one, creates('affiliation', mint(), after, reason));

      for (const e of one.enrollments)
        if (classes.get(e.classId)?.schoolId !== school.id) this.end(one, e, say('intake.leftTheSchool'));
    }
    if (left) {
      const { loans } = one;
      const back = { personId: person.id, left, loans, schoolId: school.id, instead: target ?? null, date, mint };
      for (const step of stepsOnReturn({ ...back, classOf: (id) => classes.get(id) })) this.put(one, step);
    }
    if (!target) return null;
    const stays = one.enrollments.filter((e) => classes.get(e.classId)?.schoolId === school.id);
    return this.enroll({ ...one, enrollments: stays }, target.id, true, school.id);
  }

  /** The class goes to the heir, unless it is theirs already. */
  private inherit(classId: string): void {
    const { heir, date, mint } = this.around;
    if (!heir || heir.teaches.has(classId) || this.inherited.has(classId)) return;
    this.inherited.add(classId);
    const after = { personId: heir.person.id, classId, role: 'teacher', begins: date, ends: null } as const;
    this.changes.push({
      ...creates('enrollment', mint(), after, say('plan.takesOver', { name: this.className(classId) })),
      label: personLabel(heir.person),
      subject: heir.person.id,
    });
  }

  /** A seat that has not begun yet ends on the day on which it would. */
  private endSeat(one: Gathered, { id, begins, ends }: Gathered['seats'][number]): void {
    const after = { ends: begins > this.around.date ? begins : this.around.date };
    this.put(one, updates('seat', id, { ends }, after, say('plan.withdrawsTheSeatIsOpen')));
  }

  private leave(one: Gathered): string | null {
    const { person, place } = one;
    if (person.id === this.around.heir?.person.id) return say('plan.takesOverTheClassesSo');
    if (person.status === 'left') return null;
    if (place) this.put(one, ends('affiliation', place.id, this.around.date, 'leaves'));
    this.put(one, updates('person', person.id, { status: 'active' }, { status: 'left' }, 'leaves'));
    this.signIn(one, 'active', 'frozen', say('intake.signInTurnedOff'));
    for (const e of one.enrollments) {
      this.end(one, e, 'leaves');
      if (e.role === 'teacher') this.inherit(e.classId);
    }
    for (const seat of one.seats) this.endSeat(one, seat);
    const { date } = this.around;
    for (const { id, due } of one.loans)
      if (due === null || due > date)
        this.put(one, updates('loan', id, { due }, { due: date }, say('plan.withdrawsTheDeviceIsDue')));
    return null;
  }
}
