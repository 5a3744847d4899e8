/**
 * The plan of an import. The file speaks for the fields and classes it has: an empty cell says nothing. Only when
 * it is said to be complete for a school does a missing student leave. Enrollments that the file touches are those
 * in homerooms; courses are left alone.
 */
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';
import { saysNothingNew } from '#core/names/news';
import { schoolFinder } from '#core/names/schools';
import { type Change, type Fields, groupBy, guard, type Origin, summarise, Tally } from '#core/plan/index';
import {
  type Affiliation,
  type Columns,
  fieldLabel,
  type Person,
  personFields,
  recordKept,
  type School,
  type SchoolClass,
  type Step,
} from '#core/entities/index';
import { ordered, personKey, personLabel } from '#core/register/index';
import { gradeOnReturn, stepsOnReturn } from '#core/register/returning';
import { Story } from '#core/register/story';
import { creates, ends, updates } from '#core/register/steps';
import type { Problem, TypedRow } from '#core/tabular/index';
import { gradeLabel } from '#core/tabular/index';
import { hasGrade } from '#core/tabular/values';
import { importGuards } from './guards';
import type { OnRecord } from './known';
import { matchRows, type Waiting } from './match';
import { repeatsIn } from './repeats';
import { ThreeWay } from './three-way';
import type { Also, ImportResult, Intent, NewSchool, Open, Reach, Snapshot, Tools } from './terms';

export function planImport(
  snapshot: Snapshot,
  rows: TypedRow[],
  problems: Problem[],
  intent: Intent,
  tools: Tools,
  also?: Also,
): ImportResult {
  return new ImportPlanner(snapshot, intent, tools).run(rows, problems, also ?? null);
}

class ImportPlanner {
  private readonly changes: Change[] = [];
  private readonly tally = new Tally();
  private readonly story = new Story();
  private last: { person: Person | null; label: string; origin: Origin } = {
    person: null,
    label: '',
    origin: { source: '' },
  };
  /** Classes that somebody joins, and people who begin at a school: what guards ask about what is made. */
  private readonly joined = new Set<string>();
  private readonly moved = new Set<string>();
  private readonly people: Map<string, Person>;
  private readonly schools: Map<string, School>;
  private readonly affiliationOf: Map<string, Affiliation>;
  private readonly accountOf: Map<string, Snapshot['accounts'][number]>;
  private readonly enrollmentsOf: Map<string, Open[]>;
  private readonly classById: Map<string, SchoolClass>;
  private readonly classByName = new Map<string, SchoolClass>();
  private readonly newSchools = new Map<string, NewSchool>();
  private readonly schoolNamed: (word: string) => School | null;
  private readonly result: ImportResult = {
    plan: { changes: [] },
    summary: { total: 0, kinds: [] },
    sentence: '',
    held: [],
    waiting: [],
    repeated: [],
    newSchools: [],
    pairs: new Map(),
    asks: [],
    elsewhere: [],
    matched: new Map(),
    fresh: [],
    changed: new Map(),
    same: [],
    leaving: [],
    newClasses: [],
  };

  constructor(
    private readonly snapshot: Snapshot,
    private readonly intent: Intent,
    private readonly tools: Tools,
  ) {
    this.people = new Map(snapshot.people.map((p) => [p.id, p]));
    this.schools = new Map(snapshot.schools.map((s) => [s.id, s]));
    this.affiliationOf = new Map(snapshot.affiliations.map((a) => [a.personId, a]));
    this.accountOf = new Map(snapshot.accounts.map((a) => [a.personId, a]));
    this.enrollmentsOf = groupBy(snapshot.enrollments, (e) => e.personId);
    this.classById = new Map(snapshot.classes.map((c) => [c.id, c]));
    for (const c of snapshot.classes) this.classByName.set(classKey(c.schoolId, c.name), c);
    this.schoolNamed = schoolFinder(snapshot.schools).find;
  }

  /** `also`: plans what else the source says; null: it says no more than these rows. */
  run(all: TypedRow[], problems: Problem[], also: Also | null): ImportResult {
    const [listed, leftOut] = [[] as TypedRow[], [] as TypedRow[]];
    for (const row of all) (this.intent.leftOut?.has(row.line) ? leftOut : listed).push(row);
    const stopped = new Map<number, string>();
    for (const { stops, line, message } of problems) if (stops && !stopped.has(line)) stopped.set(line, message);
    for (const row of listed) {
      if (!stopped.has(row.line) && this.schoolOf(row) === null) {
        stopped.set(
          row.line,
          row.schoolName
            ? say('intake.theDistrictHasNoSchool', { name: row.schoolName })
            : say('intake.thisRowHasNoSchool'),
        );
        if (row.schoolName) this.notOnRecord(row);
      }
    }
    const { reach } = this.intent;
    for (const row of reach ? listed : []) {
      const school = stopped.has(row.line) ? null : this.schoolOf(row);
      if (school && !reach!.schools.has(school.id))
        stopped.set(row.line, say('intake.isNotYourSchoolAsk', { name: school.name }));
    }
    // A source with ids of its own says by them who is one person.
    const schoolNameOf = (row: TypedRow) => this.schoolOf(row)?.name ?? row.schoolName;
    const repeats = this.intent.sure ? null : repeatsIn(listed, schoolNameOf, stopped, this.intent.apart);
    const rows = repeats?.rows ?? listed;
    const { known, fresh, waiting, pairs } = matchRows(
      this.onRecord(),
      rows,
      stopped,
      this.intent.decided,
      schoolNameOf,
      this.intent.sure,
      this.intent.apart,
      repeats?.alike,
    );
    if (repeats) {
      this.result.repeated = repeats.once;
      for (const { line, of, message } of repeats.differing)
        waiting.push({ line, code: 'twice', message, candidates: [], repeats: of });
      waiting.sort((a, b) => a.line - b.line);
    }
    const leftAlone = this.meantBy(leftOut);
    if (reach) this.keepWithin(reach, rows, known, waiting);
    this.result.waiting = waiting;
    this.result.pairs = pairs;
    this.result.matched = new Map(known);
    for (const row of fresh) this.arrive(row);
    for (const row of rows) {
      const id = known.get(row.line);
      if (id === undefined) continue;
      const person = this.people.get(id)!;
      this.compare(row, person);
      if (person.status === 'left') this.comesBack(row, person, also === null);
    }
    const complete = this.intent.completeSchools ?? (this.intent.schoolId ? [this.intent.schoolId] : []);
    if (this.intent.complete) {
      const { sure } = this.intent;
      const seen = new Set([...known.values(), ...(sure?.byLine.values() ?? []), ...(sure?.settled ?? [])]);
      for (const id of leftAlone) seen.add(id);
      for (const schoolId of complete) this.leave(schoolId, seen, waiting);
    }
    also?.((change) => this.put(change), {
      result: this.result,
      changes: [...this.changes],
      enrollmentsOf: this.enrollmentsOf,
      leftAlone,
    });
    this.result.newSchools = [...this.newSchools.values()];
    this.result.plan = ordered(this.changes);
    this.result.sentence = this.story.sentence;
    this.result.summary = this.tools.onlyCount ? this.tally.summary : summarise(this.result.plan.changes);
    this.result.held = guard(
      this.result.plan,
      importGuards(this.snapshot, this.intent, {
        joined: this.joined,
        moved: this.moved,
        enrollmentsOf: this.enrollmentsOf,
      }),
    );
    return this.result;
  }

  /**
   * Who is at a school that is not the importer's stays there: the row waits, and asks for a transfer. Of people out of
   * reach nothing is told but that they are students of another school.
   */
  private keepWithin({ people }: Reach, rows: TypedRow[], known: Map<number, string>, waiting: Waiting[]): void {
    for (const row of rows) {
      const id = known.get(row.line);
      if (id === undefined || people.has(id)) continue;
      known.delete(row.line);
      waiting.push({
        line: row.line,
        code: 'elsewhere',
        message: say('intake.thisStudentIsAtAnother'),
        candidates: [id],
      });
      const { id: schoolId } = this.schoolOf(row)!;
      this.result.elsewhere.push({ line: row.line, personId: id, schoolId, grade: row.grade });
    }
    for (const one of waiting)
      if (one.code !== 'elsewhere' && one.code !== 'problem' && one.candidates.some((id) => !people.has(id)))
        one.message = say('intake.thisCouldBeAStudent');
    waiting.sort((a, b) => a.line - b.line);
  }

  private onRecord(): OnRecord[] {
    return this.snapshot.people.map((person) => {
      const place = this.affiliationOf.get(person.id);
      const homeroom = this.enrollmentsOf.get(person.id)?.[0];
      return {
        person,
        grade: place?.grade ?? null,
        school: place ? (this.schools.get(place.schoolId)?.name ?? '') : '',
        className: homeroom ? (this.classById.get(homeroom.classId)?.name ?? '') : '',
      };
    });
  }

  /** A school that somebody may want to make, with the grades of its rows. */
  private notOnRecord({ schoolName, grade }: TypedRow): void {
    const key = fold(schoolName);
    let school = this.newSchools.get(key);
    if (!school) this.newSchools.set(key, (school = { name: schoolName, identifier: null, rows: 0, grades: [] }));
    school.rows++;
    if (grade && !school.grades.includes(grade)) school.grades.push(grade);
  }

  private schoolOf(row: TypedRow): School | null {
    if (row.schoolName) return this.schoolNamed(row.schoolName);
    return this.intent.schoolId ? (this.schools.get(this.intent.schoolId) ?? null) : null;
  }

  private add(row: TypedRow | null, person: Person, change: Step & { needs?: string[] }, needs = change.needs) {
    const { source } = this.intent;
    // The changes of one person come one after the other and share their label and origin.
    if (this.last.person !== person) {
      this.last = { person, label: personLabel(person), origin: row ? { source, line: row.line } : { source } };
    }
    const { label, origin } = this.last;
    const { entity, id, op, before, after, reason } = change;
    this.put({ entity, id, op, before, after, reason, label, subject: person.id, needs, origin });
  }

  private put(change: Change): void {
    this.story.add(change);
    if (this.tools.onlyCount) this.tally.add(change);
    if (change.op === 'create') {
      if (change.entity === 'enrollment') this.joined.add(String(change.after.classId));
      if (change.entity === 'affiliation' && this.people.has(change.subject)) this.moved.add(change.subject);
      if (this.tools.onlyCount) return;
    }
    this.changes.push(change);
  }

  private arrive(row: TypedRow): void {
    const { mint, usernames, sealedSecret, onlyCount } = this.tools;
    const school = this.schoolOf(row)!;
    const { grade } = row;
    const person: Person = {
      id: mint(),
      role: row.role === 'teacher' || row.role === 'staff' ? 'staff' : 'student',
      ...recordKept(row),
      status: 'active',
      mergedInto: null,
    };
    const { id: personId, ...fields } = person;
    const needs = [personId];
    this.add(row, person, creates('person', personId, fields, say('intake.newInTheFile')), []);
    const begins = this.intent.date;
    const place = { personId, schoolId: school.id, grade, begins, ends: null };
    this.add(row, person, creates('affiliation', mint(), place, say('intake.startsAt', { name: school.name })), needs);
    const username = onlyCount ? '' : usernames.give({ ...row }, personKey(person), this.tools.patternOf?.(school.id));
    const account: Columns<'account'> = {
      personId,
      username,
      role: person.role === 'staff' ? 'teacher' : 'student',
      status: 'active',
      secretSealed: sealedSecret(personId, grade),
      secretVersion: 1,
      passwordHash: null,
    };
    this.add(row, person, creates('account', mint(), account, say('intake.account', { username })), needs);
    if (row.className) {
      const classId = this.classFor(row, school);
      const after = { personId, classId, role: roleIn(person), begins, ends: null };
      const how = person.role === 'staff' ? 'teaches' : 'joins';
      this.add(row, person, creates('enrollment', mint(), after, `${how} ${row.className}`), [personId, classId]);
    }
    this.result.fresh.push(row.line);
    this.result.matched.set(row.line, personId);
  }

  /** The school's open class of that name; planned anew where there is none. */
  private classFor(row: TypedRow, school: School): string {
    const key = classKey(school.id, row.className);
    const there = this.classByName.get(key);
    if (there) return there.id;
    const made: SchoolClass = {
      id: this.tools.mint(),
      schoolId: school.id,
      name: row.className,
      kind: 'homeroom',
      grade: row.grade,
      subject: null,
      begins: this.intent.date,
      ends: null,
    };
    const { id, ...after } = made;
    this.classByName.set(key, made);
    this.classById.set(id, made);
    this.result.newClasses.push(row.className);
    this.put({
      entity: 'class',
      id,
      op: 'create',
      before: {},
      after,
      reason: say('intake.newInTheFile'),
      label: `${row.className} · ${school.name}`,
      subject: id,
      origin: { source: this.intent.source, line: row.line },
    });
    return id;
  }

  private compare(row: TypedRow, person: Person): void {
    const reasons: string[] = [];
    const before: Fields = {};
    const after: Fields = {};
    const threeWay = this.threeWayOf(row, person);
    for (const field of personFields) {
      const said = row[field];
      const is = person[field] ?? null;
      if (said === null || said === '' || said === is) continue;
      if (field.endsWith('Name') && saysNothingNew(said, is)) continue;
      if (!threeWay.takes(field, said, is)) continue;
      before[field] = is;
      after[field] = said;
      reasons.push(fieldLabel('person', field));
    }
    if (person.status === 'left') {
      before.status = 'left';
      after.status = 'active';
      reasons.push(say('intake.enrollsAgain'));
      this.thaw(row, person);
    }
    if (Object.keys(after).length > 0) {
      this.add(row, person, {
        entity: 'person',
        id: person.id,
        op: 'update',
        before,
        after,
        reason: reasons.join(', '),
      });
    }
    this.compareSchool(row, person, reasons, threeWay);
    this.compareClass(row, person, reasons, threeWay);
    this.result.asks.push(...threeWay.asks);
    if (reasons.length === 0) this.result.same.push(row.line);
    else this.result.changed.set(row.line, reasons);
  }

  private threeWayOf(row: TypedRow, person: Person): ThreeWay {
    const { said, kept, choices } = this.intent;
    return new ThreeWay({
      line: row.line,
      personId: person.id,
      label: personLabel(person),
      before: said?.get(person.id) ?? null,
      kept: kept ?? [],
      choices: choices?.[row.line] ?? {},
    });
  }

  private thaw(row: TypedRow, person: Person): void {
    const account = this.accountOf.get(person.id);
    if (account?.status !== 'frozen') return;
    this.add(
      row,
      person,
      updates('account', account.id, { status: 'frozen' }, { status: 'active' }, say('intake.accountActiveAgain')),
    );
  }

  private compareSchool(row: TypedRow, person: Person, reasons: string[], threeWay: ThreeWay): void {
    const school = this.schoolOf(row)!;
    const place = this.affiliationOf.get(person.id);
    const { date } = this.intent;
    if (place?.schoolId === school.id) {
      if (row.grade === null || row.grade === place.grade) return;
      if (!threeWay.takes('grade', row.grade, place.grade)) return;
      reasons.push('grade');
      this.add(
        row,
        person,
        updates(
          'affiliation',
          place.id,
          { grade: place.grade },
          { grade: row.grade },
          say('intake.gradeTo', { grade: gradeLabel(place.grade), next: gradeLabel(row.grade) }),
        ),
      );
      return;
    }
    const from = place && this.schools.get(place.schoolId);
    // Moved by hand, while the feed says what it always said.
    if (place && !threeWay.takes('school', school.name, from?.name ?? null)) return;
    if (place) {
      reasons.push('school');
      this.add(
        row,
        person,
        ends(
          'affiliation',
          place.id,
          date,
          say('intake.transfersFromTo', { name: from?.name ?? say('intake.anotherSchool'), to: school.name }),
        ),
      );
    }
    this.add(
      row,
      person,
      creates(
        'affiliation',
        this.tools.mint(),
        {
          personId: person.id,
          schoolId: school.id,
          grade: row.grade ?? place?.grade ?? this.gradeBack(person, school),
          begins: date,
          ends: null,
        },
        from ? say('intake.transfersFrom', { name: from.name }) : say('intake.startsAt', { name: school.name }),
      ),
    );
  }

  /** The grade of somebody who left, a further one for each roll-over since; null where the school does not have it. */
  private gradeBack(person: Person, school: School): string | null {
    const left = this.snapshot.left?.get(person.id);
    const grade = left && person.role === 'student' ? gradeOnReturn(left, this.snapshot.rollOvers ?? []) : null;
    return grade !== null && hasGrade(grade, school) ? grade : null;
  }

  /** The device that they still have; and, where the source says only one class of each, the others that still run. */
  private comesBack(row: TypedRow, person: Person, withClasses: boolean): void {
    const left = this.snapshot.left?.get(person.id);
    if (!left) return;
    const school = this.schoolOf(row)!;
    const steps = stepsOnReturn({
      personId: person.id,
      left: withClasses ? left : { ...left, enrollments: [] },
      loans: left.loans,
      schoolId: school.id,
      instead: row.className ? (this.classByName.get(classKey(school.id, row.className)) ?? null) : null,
      classOf: (id) => this.snapshot.leftClasses?.get(id),
      date: this.intent.date,
      mint: this.tools.mint,
    });
    for (const step of steps) this.add(row, person, step);
  }

  private compareClass(row: TypedRow, person: Person, reasons: string[], threeWay: ThreeWay): void {
    const school = this.schoolOf(row)!;
    const open = this.enrollmentsOf.get(person.id) ?? [];
    if (person.role === 'staff') {
      if (!threeWay.stays('school')) this.compareTeaching(row, person, open, reasons);
      return;
    }
    const now = open.map((e) => this.classById.get(e.classId)?.name ?? '')[0] ?? null;
    if (row.className && row.className !== now && !threeWay.takes('className', row.className, now)) return;
    if (threeWay.stays('school')) return;
    // Without a class in the row, only classes of a school that is left behind end.
    const target = row.className ? this.classFor(row, school) : null;
    const ends = open.filter((e) =>
      target ? e.classId !== target : this.classById.get(e.classId)?.schoolId !== school.id,
    );
    for (const enrollment of ends)
      this.endEnrollment(
        row,
        person,
        enrollment,
        target ? say('classes.movesTo', { to: row.className }) : say('intake.leftTheSchool'),
      );
    if (target && !open.some((e) => e.classId === target)) {
      this.add(row, person, {
        ...creates(
          'enrollment',
          this.tools.mint(),
          { personId: person.id, classId: target, role: 'student', begins: this.intent.date, ends: null },
          say('classes.joins', { name: row.className }),
        ),
        needs: [target],
      });
      reasons.push('class');
    }
  }

  /** Staff teach several classes: a list adds one, and ends only those at a school that is left. */
  private compareTeaching(row: TypedRow, person: Person, open: Open[], reasons: string[]): void {
    const school = this.schoolOf(row)!;
    for (const enrollment of open)
      if (this.classById.get(enrollment.classId)?.schoolId !== school.id)
        this.endEnrollment(row, person, enrollment, say('intake.leftTheSchool'));
    const classId = row.className ? this.classFor(row, school) : null;
    if (classId === null || open.some((e) => e.classId === classId)) return;
    this.add(row, person, {
      ...creates(
        'enrollment',
        this.tools.mint(),
        { personId: person.id, classId, role: 'teacher', begins: this.intent.date, ends: null },
        say('intake.teaches', { name: row.className }),
      ),
      needs: [classId],
    });
    reasons.push('class');
  }

  private endEnrollment(row: TypedRow | null, person: Person, enrollment: Open, reason: string): void {
    const name = this.classById.get(enrollment.classId)?.name ?? 'a class';
    this.add(row, person, ends('enrollment', enrollment.id, this.intent.date, `${name}: ${reason}`));
  }

  /** Whom rows that are left out mean, as far as the source's id, a number, or name and birth date tell. */
  private meantBy(rows: TypedRow[]): Set<string> {
    const meant = new Set(rows.flatMap(({ line }) => this.intent.sure?.byLine.get(line) ?? []));
    if (rows.length === 0) return meant;
    const key = (family: string, given: string, birth: string | null) =>
      `${fold(family)}|${fold(given)}|${birth ?? ''}`;
    const names = new Set(rows.map((row) => key(row.familyName, row.givenName, row.birthDate)));
    const numbers = new Set(rows.flatMap(({ number }) => (number ? number : [])));
    for (const { id, number, familyName, givenName, birthDate } of this.snapshot.people)
      if ((number !== null && numbers.has(number)) || names.has(key(familyName, givenName, birthDate))) meant.add(id);
    return meant;
  }

  private leave(schoolId: string, seen: Set<string>, waiting: Waiting[]): void {
    const perhaps = new Set(waiting.flatMap((w) => w.candidates));
    const { date } = this.intent;
    for (const place of this.snapshot.affiliations) {
      if (place.schoolId !== schoolId || seen.has(place.personId) || perhaps.has(place.personId)) continue;
      const person = this.people.get(place.personId);
      // Staff whom the source never named are not its to take away: whoever runs the school is often in no roster.
      if (!person || (person.role === 'staff' && !this.intent.named?.has(person.id))) continue;
      const reason = say('intake.notInTheCompleteList');
      this.result.leaving.push(personLabel(person));
      this.add(null, person, ends('affiliation', place.id, date, reason));
      this.add(null, person, updates('person', person.id, { status: 'active' }, { status: 'left' }, reason));
      const account = this.accountOf.get(person.id);
      if (account?.status === 'active')
        this.add(
          null,
          person,
          updates('account', account.id, { status: 'active' }, { status: 'frozen' }, say('intake.signInTurnedOff')),
        );
      for (const enrollment of this.enrollmentsOf.get(person.id) ?? [])
        this.endEnrollment(null, person, enrollment, reason);
    }
  }
}

const roleIn = ({ role }: Person): Open['role'] => (role === 'staff' ? 'teacher' : 'student');

const classKey = (schoolId: string, name: string): string => `${schoolId}|${fold(name)}`;
