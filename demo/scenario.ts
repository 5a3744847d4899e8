/**
 * Skerry Isles Unified, a made-up island district reached by ferry, nine days before school opens. Dates follow from
 * the given day, everything else from a seed. The result is what a register would hold, as changes that make it.
 */
import { addDays } from '#core/time/index';
import { makes } from '#core/register/steps';
import { defaultBands, makeSecret, recipeFor, recipes, UsernameGiver } from '#core/accounts/index';
import type { Change } from '#core/plan/index';
import type {
  Account,
  Enrollment,
  Entity,
  Group,
  Person,
  Product,
  Row,
  School,
  SchoolClass,
} from '#core/entities/index';
import { fullName, ordered, personKey, personLabel } from '#core/register/index';
import { pick, type Random, randomFrom, shuffled } from '#core/random/index';
import { type Holdings, makeHoldings } from './holdings';
import type { DemoStudent } from './student';
import { makeMaterials, type Used } from './materials';
import { familyNames, givenNames } from './names';

export interface ScenarioTools {
  mint: () => string;
  seal: (personId: string, secret: string) => string;
  /** The hash of the demo's one staff password. */
  passwordHash: string;
  /** Where products open what they offer. */
  offeredAt?: string;
}

export interface Scenario {
  changes: Change[];
  /** Of two editions the newer one. */
  products: Product[];
  schools: Record<string, School>;
  students: DemoStudent[];
  /** Cards that were printed: whose, and for which version of the secret. */
  printed: { personId: string; secretVersion: number }[];
  signedIn: string[];
  signIns: { who: string; username: string }[];
  coordinatorId: string;
  /** When somebody last used a product. */
  uses: Holdings['uses'];
  used: Used;
  /** Who asks to be let into a class, in the words of the child. */
  asking: (Pick<Person, 'familyName' | 'givenName' | 'number' | 'birthDate'> & { classId: string; schoolId: string })[];
}

export const demoDistrict = 'Skerry Isles Unified';
export const demoPassword = 'lantern-harbor-42';
export const seed = 20_260_817;

/** The youngest sign in by pictures. */
export const demoBands = defaultBands.map((band, i) =>
  i === 0 ? { ...band, recipe: recipes['three pictures']! } : band,
);

interface SchoolPlan {
  school: Omit<School, 'id'>;
  grades: string[];
  perGrade: number;
  size: number;
}
const range = (from: number, to: number): string[] =>
  Array.from({ length: to - from + 1 }, (_, i) => (from + i === 0 ? 'KG' : String(from + i).padStart(2, '0')));

export const schoolPlans: SchoolPlan[] = [
  {
    school: {
      name: 'Lantern Point',
      code: 'LAN',
      kind: 'primary',
      lowGrade: 'KG',
      highGrade: '05',
      door: 'lantern',
      ways: null,
      cardText: null,
    },
    grades: range(0, 5),
    perGrade: 3,
    size: 23,
  },
  {
    school: {
      name: 'Gull Sound',
      code: 'GUL',
      kind: 'primary',
      lowGrade: 'KG',
      highGrade: '05',
      door: 'gull',
      ways: null,
      cardText: null,
    },
    grades: range(0, 5),
    perGrade: 2,
    size: 23,
  },
  {
    school: {
      name: 'Thornhope',
      code: 'THO',
      kind: 'primary',
      lowGrade: 'KG',
      highGrade: '05',
      door: 'thornhope',
      ways: null,
      cardText: null,
    },
    grades: range(0, 5),
    perGrade: 1,
    size: 22,
  },
  {
    school: {
      name: 'Marrow Bay',
      code: 'MAR',
      kind: 'k8',
      lowGrade: 'KG',
      highGrade: '08',
      door: 'marrow',
      ways: null,
      cardText: null,
    },
    grades: range(0, 8),
    perGrade: 2,
    size: 22,
  },
  {
    school: {
      name: 'Skerry Middle',
      code: 'SKM',
      kind: 'middle',
      lowGrade: '06',
      highGrade: '08',
      door: 'skerry',
      ways: null,
      cardText: null,
    },
    grades: range(6, 8),
    perGrade: 6,
    size: 26,
  },
  {
    school: {
      name: 'Outer Isles High',
      code: 'OIH',
      kind: 'high',
      lowGrade: '09',
      highGrade: '12',
      door: 'outer',
      ways: null,
      cardText: null,
    },
    grades: range(9, 12),
    perGrade: 6,
    size: 28,
  },
  {
    school: {
      name: 'Evening School of the Isles',
      code: 'EVE',
      kind: 'evening',
      lowGrade: '12',
      highGrade: 'UG',
      door: 'evening',
      ways: null,
      cardText: null,
    },
    grades: ['UG'],
    perGrade: 5,
    size: 20,
  },
];
const subjects = ['Mathematics', 'English', 'Science', 'History', 'Art'];

export function makeScenario(today: string, tools: ScenarioTools): Scenario {
  return new ScenarioMaker(today, tools).make();
}

/** Born so that the child is five to six at kindergarten; fixed to a school year, so that the files stay the same. */
function bornFor(grade: string, r: Random): string {
  const n = grade === 'KG' ? 0 : grade === 'UG' ? 14 + r.below(25) : Number(grade);
  const year = 2020 - n + (r.below(12) < 4 ? 0 : 1);
  return `${year}-${String(1 + r.below(12)).padStart(2, '0')}-${String(1 + r.below(28)).padStart(2, '0')}`;
}

class ScenarioMaker {
  private readonly r = randomFrom(seed);
  /** Beside the first, so that what it draws stays as it was. */
  private readonly drawn = randomFrom(seed + 1);
  private readonly changes: Change[] = [];
  private readonly numbers = shuffled(
    this.r,
    Array.from({ length: 6000 }, (_, i) => String(1000 + i).padStart(6, '0')),
  );
  private readonly giver = new UsernameGiver('{given:1}{family}', new Map());
  private readonly result: Scenario = {
    changes: [],
    schools: {},
    students: [],
    printed: [],
    signedIn: [],
    signIns: [],
    coordinatorId: '',
    asking: [],
    products: [],
    uses: [],
    used: { days: [], results: [], levels: [], missed: [] },
  };
  private readonly begins: string;

  constructor(
    private readonly today: string,
    private readonly tools: ScenarioTools,
  ) {
    this.begins = addDays(today, -40);
  }

  make(): Scenario {
    for (const plan of schoolPlans) this.school(plan);
    this.plantTwins();
    this.printMarrowBay();
    this.plantTwice();
    this.plantGroups();
    this.plantAsking();
    this.hold();
    this.result.changes = ordered(this.changes).changes;
    return this.result;
  }

  private add<E extends Entity>(entity: E, row: Row<E>, label: string, subject: string): Row<E> {
    this.changes.push({ ...makes(entity, row, 'opening register'), label, subject });
    return row;
  }

  private school({ school: facts, grades, perGrade, size }: SchoolPlan): void {
    const { mint } = this.tools;
    const school = this.add('school', { id: mint(), ...facts }, facts.name, mint());
    this.result.schools[facts.code!] = school;
    this.coordinators(school);
    const spare: Person[] = [];
    const upper = facts.kind === 'middle' || facts.kind === 'high';
    if (upper) for (let i = 0; i < 40; i++) spare.push(this.staff(school, 'teacher'));
    for (const grade of grades) {
      for (let section = 0; section < perGrade; section++) {
        const name =
          grade === 'UG' ? `Evening ${section + 1}` : `${grade === 'KG' ? 'K' : Number(grade)}${'ABCDEF'[section]}`;
        const homeroom = this.class(school, name, 'homeroom', grade, null);
        this.enroll(this.staff(school, 'teacher'), homeroom, 'teacher');
        const students = Array.from({ length: size - this.r.below(3) }, () => this.student(school, grade, homeroom));
        if (upper) {
          for (const subject of subjects) {
            const course = this.class(school, `${subject} ${name}`, 'course', grade, subject);
            this.enroll(pick(this.r, spare), course, 'teacher');
            for (const student of students) this.enroll(student, course, 'student');
          }
        }
      }
    }
    if (facts.code === 'GUL') {
      // A class that two teachers made, each for themselves.
      for (let i = 0; i < 2; i++)
        this.enroll(
          this.staff(school, 'teacher'),
          this.class(school, 'Reading Circle 4', 'course', '04', 'English'),
          'teacher',
        );
    }
  }

  private coordinators(school: School): void {
    if (school.code === 'LAN') {
      const head = this.staff(school, 'district', { givenName: 'Ronke', familyName: 'Adeyemi' });
      this.result.coordinatorId = head.id;
    }
    this.staff(school, 'school', school.code === 'SKM' ? { givenName: 'Idris', familyName: 'Marchbank' } : undefined);
  }

  private staff(school: School, role: Account['role'], name?: { givenName: string; familyName: string }): Person {
    const { mint, passwordHash } = this.tools;
    const person = this.person({
      role: 'staff',
      number: null,
      birthDate: null,
      guardianEmail: null,
      ...(name ?? this.name()),
    });
    this.add(
      'affiliation',
      { id: mint(), personId: person.id, schoolId: school.id, grade: null, begins: this.begins, ends: null },
      fullName(person),
      person.id,
    );
    const username = this.giver.give({ ...person, middleName: '', number: '' }, person.id);
    const first =
      !this.result.signIns.some(({ who }) => who.startsWith(role)) &&
      (role !== 'school' || school.code === 'SKM') &&
      (role !== 'teacher' || school.code === 'LAN');
    this.add(
      'account',
      {
        id: mint(),
        personId: person.id,
        username,
        role,
        status: 'active',
        secretSealed: null,
        secretVersion: 1,
        passwordHash: first ? passwordHash : null,
      },
      fullName(person),
      person.id,
    );
    if (first)
      this.result.signIns.push({
        who: `${role}${role === 'district' ? ' coordinator' : role === 'school' ? ` coordinator, ${school.name}` : `, ${school.name}`}`,
        username,
      });
    return person;
  }

  private name(): { givenName: string; familyName: string } {
    return { givenName: pick(this.r, givenNames), familyName: pick(this.r, familyNames) };
  }

  private person(
    facts: Omit<Person, 'id' | 'status' | 'middleName' | 'email' | 'mergedInto'> & Partial<Person>,
  ): Person {
    const person: Person = {
      id: this.tools.mint(),
      middleName: null,
      email: null,
      status: 'active',
      mergedInto: null,
      ...facts,
    };
    return this.add('person', person, personLabel(person), person.id);
  }

  private class(
    school: School,
    name: string,
    kind: SchoolClass['kind'],
    grade: string,
    subject: string | null,
  ): SchoolClass {
    const made: SchoolClass = {
      id: this.tools.mint(),
      schoolId: school.id,
      name,
      kind,
      grade,
      subject,
      begins: this.begins,
      ends: null,
    };
    return this.add('class', made, `${name} · ${school.name}`, made.id);
  }

  private enroll(person: Person, into: SchoolClass, role: Enrollment['role']): void {
    const enrollment: Enrollment = {
      id: this.tools.mint(),
      personId: person.id,
      classId: into.id,
      role,
      begins: this.begins,
      ends: null,
    };
    this.add('enrollment', enrollment, personLabel(person), person.id);
  }

  private student(school: School, grade: string, homeroom: SchoolClass, facts: Partial<Person> = {}): DemoStudent {
    const { mint, seal } = this.tools;
    const name = this.name();
    const family = facts.familyName ?? name.familyName;
    const person = this.person({
      role: 'student',
      number: this.numbers.pop()!,
      birthDate: bornFor(grade, this.r),
      ...name,
      guardianEmail: this.r.below(3)
        ? `${family
            .normalize('NFD')
            .replace(/[^A-Za-z]/g, '')
            .toLowerCase()}${this.r.below(90) + 10}@home.example`
        : null,
      ...facts,
    });
    this.add(
      'affiliation',
      { id: mint(), personId: person.id, schoolId: school.id, grade, begins: this.begins, ends: null },
      personLabel(person),
      person.id,
    );
    const username = this.giver.give({ ...person, middleName: '', number: person.number ?? '' }, personKey(person));
    const words = makeSecret(recipeFor(grade, defaultBands), this.r.below);
    const recipe = recipeFor(grade, demoBands);
    const secret = recipe.pictures ? makeSecret(recipe, this.drawn.below) : words;
    this.add(
      'account',
      {
        id: mint(),
        personId: person.id,
        username,
        role: 'student',
        status: 'active',
        secretSealed: seal(person.id, secret),
        secretVersion: 1,
        passwordHash: null,
      },
      personLabel(person),
      person.id,
    );
    this.enroll(person, homeroom, 'student');
    const made: DemoStudent = { ...person, schoolId: school.id, grade, className: homeroom.name, username, secret };
    this.result.students.push(made);
    if (this.r.below(5) === 0) this.result.signedIn.push(person.id);
    return made;
  }

  /** Twins in one class, and namesakes in two schools with different birth dates. */
  private plantTwins(): void {
    const { LAN, GUL } = this.result.schools;
    const classOf = (school: School, name: string) =>
      this.changes.find((c) => c.entity === 'class' && c.after.schoolId === school.id && c.after.name === name)!;
    const into = (school: School, name: string): SchoolClass => ({
      id: classOf(school, name).id,
      ...(classOf(school, name).after as unknown as Omit<SchoolClass, 'id'>),
    });
    const twin = { familyName: 'Saltmarsh', birthDate: '2018-03-09', guardianEmail: 'saltmarsh77@home.example' };
    this.student(LAN!, '03', into(LAN!, '3B'), { ...twin, givenName: 'Orla' });
    this.student(LAN!, '03', into(LAN!, '3B'), { ...twin, givenName: 'Odhran' });
    this.student(LAN!, '02', into(LAN!, '2A'), {
      familyName: 'Holloway',
      givenName: 'June',
      preferredName: 'Junie',
      birthDate: '2019-01-17',
    });
    this.student(GUL!, '02', into(GUL!, '2B'), { familyName: 'Holloway', givenName: 'June', birthDate: '2018-11-30' });
  }

  /** Four who take evening classes as well were entered anew there, each a little otherwise. */
  private plantTwice(): void {
    const { OIH, EVE } = this.result.schools;
    const room = this.changes.find((c) => c.entity === 'class' && c.after.schoolId === EVE!.id)!;
    const into: SchoolClass = { id: room.id, ...(room.after as unknown as Omit<SchoolClass, 'id'>) };
    const seniors = this.result.students.filter(
      ({ schoolId, grade, number, guardianEmail, givenName }) =>
        schoolId === OIH!.id && grade === '12' && number !== null && guardianEmail !== null && givenName.length > 4,
    );
    const otherwise: ((s: DemoStudent) => Partial<Person>)[] = [
      () => ({}),
      (s) => ({ givenName: s.givenName.slice(0, 3) }),
      (s) => ({ familyName: s.familyName.replace(/(.)(.)$/, '$2$1') }),
      (s) => ({ birthDate: s.birthDate!.replace(/\d$/, (d) => String((Number(d) + 1) % 10)) }),
    ];
    otherwise.forEach((change, i) => {
      const { givenName, familyName, birthDate, guardianEmail } = seniors[i * 7]!;
      const same = { givenName, familyName, birthDate, guardianEmail, number: null };
      this.student(EVE!, '12', into, { ...same, ...change(seniors[i * 7]!) });
    });
  }

  private classAt(code: string, name: string): SchoolClass {
    const { id } = this.result.schools[code]!;
    const made = this.changes.find((c) => c.entity === 'class' && c.after.schoolId === id && c.after.name === name)!;
    return { id: made.id, ...(made.after as unknown as Omit<SchoolClass, 'id'>) };
  }

  /** Cohorts by days in one class, and a copy for another subject that kept the wrong letter. */
  private plantGroups(): void {
    const { mint } = this.tools;
    const there = this.result.students.filter(
      ({ schoolId, className }) => schoolId === this.result.schools.SKM!.id && className === '6A',
    );
    const group = (name: string, into: SchoolClass, members: DemoStudent[]) => {
      const made: Group = {
        id: mint(),
        schoolId: into.schoolId,
        classId: into.id,
        name,
        kind: 'days',
        rule: null,
        begins: this.begins,
        ends: null,
      };
      this.add('group', made, name, made.id);
      for (const one of members)
        this.add(
          'membership',
          { id: mint(), personId: one.id, groupId: made.id, begins: this.begins, ends: null },
          personLabel(one),
          one.id,
        );
    };
    const [first, second] = [subjects[0], subjects[1]];
    const half = there.filter((_, i) => i % 2 === 0);
    group(`${first} Cohort A`, this.classAt('SKM', `${first} 6A`), half);
    group(
      `${first} Cohort B`,
      this.classAt('SKM', `${first} 6A`),
      there.filter((_, i) => i % 2 === 1),
    );
    group(`${second} Cohort B`, this.classAt('SKM', `${second} 6A`), half);
  }

  /** Who asks to be let into a class: a child with a slip in the number, one of another island, one whom nobody knows. */
  private plantAsking(): void {
    const { SKM, MAR } = this.result.schools;
    const into = this.classAt('SKM', `${subjects[0]} 7A`);
    const at = (school: School, grade: string) =>
      this.result.students.filter((s) => s.schoolId === school.id && s.grade === grade && s.number !== null);
    const slip = at(SKM!, '07').find(({ className }) => className === '7B')!;
    const away = at(MAR!, '07')[4]!;
    const request = { classId: into.id, schoolId: SKM!.id };
    const number = slip.number!.replace(/.$/, (d) => String((Number(d) + 3) % 10));
    this.result.asking = [
      { ...request, familyName: slip.familyName, givenName: slip.givenName, number, birthDate: slip.birthDate },
      { ...request, familyName: away.familyName, givenName: away.givenName, number: away.number, birthDate: null },
      { ...request, familyName: 'Vantongeren', givenName: 'Milo', number: '990412', birthDate: null },
    ];
  }

  private hold(): void {
    const { schools, students } = this.result;
    const classAt = (code: string, name: string) => this.classAt(code, name).id;
    const { changes, uses, products } = makeHoldings({
      today: this.today,
      seed: seed + 2,
      mint: this.tools.mint,
      schools,
      students,
      classAt,
    });
    const at = (days: number) => addDays(this.today, days);
    const offered = makeMaterials({
      seed: seed + 3,
      mint: this.tools.mint,
      products,
      uses,
      at,
      classAt,
      offeredAt: this.tools.offeredAt ?? 'https://products.example',
    });
    this.changes.push(...changes, ...offered.changes);
    this.result.uses = uses;
    this.result.products = [...products.values()];
    this.result.used = offered.used;
  }

  /** All of Marrow Bay got cards in spring; since then 17 secrets changed. */
  private printMarrowBay(): void {
    const { MAR } = this.result.schools;
    const there = this.result.students.filter(({ schoolId }) => schoolId === MAR!.id);
    const changed = new Set(
      shuffled(this.r, there)
        .slice(0, 17)
        .map(({ id }) => id),
    );
    for (const change of this.changes) {
      if (change.entity === 'account' && changed.has(change.after.personId as string)) change.after.secretVersion = 2;
    }
    this.result.printed = there.map(({ id }) => ({ personId: id, secretVersion: 1 }));
  }
}
