/** A made-up district in the roster standard, of any size, and what a day changes in it; all from a seed. */
import { pick, type Random, randomFrom, wordOf } from '#core/random/index';
import type { Records, RosterRecord } from './records';

export interface DistrictSize {
  students: number;
  schools: number;
  /** Classes that each student is in. */
  classesEach: number;
  /** Students to a class; by default 24. */
  classSize?: number;
}

/** Version 1.2; homerooms of 24 and courses of 24, a teacher to each. */
export function practiceDistrict(
  seed: number,
  { students, schools, classesEach, classSize = 24 }: DistrictSize,
): Records {
  const random = randomFrom(seed);
  const records: Required<
    Pick<
      Records,
      | 'orgs.csv'
      | 'academicSessions.csv'
      | 'courses.csv'
      | 'classes.csv'
      | 'users.csv'
      | 'roles.csv'
      | 'enrollments.csv'
      | 'demographics.csv'
    >
  > = {
    'orgs.csv': [{ sourcedId: 'district', name: 'Made-up District', type: 'district', identifier: 'D' }],
    'academicSessions.csv': [
      {
        sourcedId: 'year',
        title: '2026–27',
        type: 'schoolYear',
        startDate: '2026-08-01',
        endDate: '2027-07-31',
        schoolYear: '2027',
      },
    ],
    'courses.csv': [],
    'classes.csv': [],
    'users.csv': [],
    'roles.csv': [],
    'enrollments.csv': [],
    'demographics.csv': [],
  };
  const user = (id: string, role: string, org: string, more: RosterRecord): void => {
    records['users.csv'].push({ sourcedId: id, enabledUser: 'true', primaryOrgSourcedId: org, ...more });
    records['roles.csv'].push({
      sourcedId: `${id}-r`,
      userSourcedId: id,
      roleType: 'primary',
      role,
      orgSourcedId: org,
    });
  };
  const enroll = (user: string, klass: string, school: string, role: string): void => {
    records['enrollments.csv'].push({
      sourcedId: `e${records['enrollments.csv'].length}`,
      classSourcedId: klass,
      schoolSourcedId: school,
      userSourcedId: user,
      role,
    });
  };
  const perSchool = Math.ceil(students / schools);
  for (let s = 0, n = 0; s < schools; s++) {
    const school = `s${s}`;
    records['orgs.csv'].push({
      sourcedId: school,
      name: `${wordOf(s * 7 + 11)} School`,
      type: 'school',
      identifier: `S${s}`,
      parentSourcedId: 'district',
    });
    records['courses.csv'].push({ sourcedId: `co${s}`, title: 'Homeroom', orgSourcedId: school });
    const rooms = Math.max(1, Math.ceil(perSchool / classSize));
    const kinds = Array.from({ length: classesEach }, (_, k) => k);
    for (const k of kinds)
      for (let r = 0; r < rooms; r++) {
        const klass = `c${s}-${k}-${r}`;
        const grade = String(1 + (r % 12)).padStart(2, '0');
        records['classes.csv'].push({
          sourcedId: klass,
          title:
            k === 0 ? `${Number(grade)}${'ABCDEF'[r % 6]}${Math.floor(r / 12) || ''}` : `${wordOf(k * 13)} ${r + 1}`,
          grades: grade,
          courseSourcedId: `co${s}`,
          classType: k === 0 ? 'homeroom' : 'scheduled',
          schoolSourcedId: school,
          termSourcedIds: 'year',
        });
        if (k === 0 || r % 6 === k % 6) {
          const id = `t${s}-${k}-${r}`;
          user(id, 'teacher', school, {
            givenName: wordOf(random.below(9000)),
            familyName: wordOf(random.below(30_000)),
            email: `${id}@school.example`,
          });
        }
        // A course's teacher has six of its rooms; where there are fewer, the homeroom's teacher has it too.
        const own = r - (r % 6) + (k % 6);
        enroll(k > 0 && own < rooms ? `t${s}-${k}-${own}` : `t${s}-0-${r}`, klass, school, 'teacher');
      }
    for (let i = 0; i < perSchool && n < students; i++, n++) {
      const id = `p${n}`;
      const room = i % rooms;
      const grade = 1 + (room % 12);
      user(id, 'student', school, {
        givenName: wordOf(random.below(4000)),
        familyName: wordOf(random.below(20_000)),
        identifier: String(100_000 + n).padStart(7, '0'),
        grades: String(grade).padStart(2, '0'),
      });
      records['demographics.csv'].push({ sourcedId: id, birthDate: day(random, 2020 - grade) });
      for (const k of kinds) enroll(id, `c${s}-${k}-${room}`, school, 'student');
    }
  }
  return records;
}

const day = (random: Random, year: number): string =>
  `${year}-${String(1 + random.below(12)).padStart(2, '0')}-${String(1 + random.below(28)).padStart(2, '0')}`;

export interface NightTruth {
  users: { created: number; changed: number; removed: number };
  enrollments: { created: number; changed: number; removed: number };
}

/** The records a night later: 2% of the students changed, 1% new, 1% gone, and in all `enrollments` of the enrollments changed. */
export function nextNight(
  records: Records,
  seed: number,
  shares = { changed: 0.02, fresh: 0.01, gone: 0.01, enrollments: 0.03 },
): { records: Records; truth: NightTruth } {
  const random = randomFrom(seed);
  const next: Records = structuredClone(records);
  const students = next['users.csv']!.filter(({ identifier }) => identifier);
  const chosen = new Set<string>();
  const choose = (count: number): RosterRecord[] => {
    const list: RosterRecord[] = [];
    while (list.length < count) {
      const one = pick(random, students);
      if (chosen.has(one.sourcedId!)) continue;
      chosen.add(one.sourcedId!);
      list.push(one);
    }
    return list;
  };
  const changed = choose(Math.round(students.length * shares.changed));
  for (const user of changed) user.familyName = `${user.familyName}-${wordOf(random.below(500))}`;
  const gone = new Set(choose(Math.round(students.length * shares.gone)).map(({ sourcedId }) => sourcedId!));
  const before = next['enrollments.csv']!;
  next['users.csv'] = next['users.csv']!.filter(({ sourcedId }) => !gone.has(sourcedId!));
  next['roles.csv'] = next['roles.csv']!.filter(({ userSourcedId }) => !gone.has(userSourcedId!));
  next['demographics.csv'] = next['demographics.csv']!.filter(({ sourcedId }) => !gone.has(sourcedId!));
  next['enrollments.csv'] = before.filter(({ userSourcedId }) => !gone.has(userSourcedId!));
  const removed = before.length - next['enrollments.csv'].length;
  // Moves to another class of the same kind: the record ends and another begins.
  let moved = 0;
  const classes = new Map<string, string[]>();
  for (const { sourcedId } of next['classes.csv']!) {
    const kind = sourcedId!.replace(/-\d+$/, '');
    classes.set(kind, [...(classes.get(kind) ?? []), sourcedId!]);
  }
  const wanted = Math.round(before.length * shares.enrollments);
  const used = new Set<number>();
  for (let tries = 0; moved < wanted && tries < wanted * 20; tries++) {
    const at = random.below(next['enrollments.csv'].length);
    const one = next['enrollments.csv'][at]!;
    if (one.role !== 'student' || used.has(at)) continue;
    const others = classes.get(one.classSourcedId!.replace(/-\d+$/, ''))!.filter((c) => c !== one.classSourcedId);
    if (others.length === 0) continue;
    used.add(at);
    next['enrollments.csv'][at] = { ...one, classSourcedId: pick(random, others) };
    moved++;
  }
  const fresh = Math.round(students.length * shares.fresh);
  for (let i = 0; i < fresh; i++) {
    const like = pick(random, students);
    const id = `n${seed}-${i}`;
    next['users.csv'].push({
      ...like,
      sourcedId: id,
      identifier: String(9_000_000 + seed * 10_000 + i),
      givenName: wordOf(random.below(4000)),
      familyName: wordOf(random.below(20_000)),
    });
    next['roles.csv'].push({
      sourcedId: `${id}-r`,
      userSourcedId: id,
      roleType: 'primary',
      role: 'student',
      orgSourcedId: like.primaryOrgSourcedId!,
    });
    next['demographics.csv'].push({ sourcedId: id, birthDate: day(random, 2020 - Number(like.grades)) });
  }
  return {
    records: next,
    truth: {
      users: { created: fresh, changed: changed.length, removed: gone.size },
      enrollments: { created: 0, changed: moved, removed },
    },
  };
}
