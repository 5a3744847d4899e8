/** What holds an import until a person says why it is right: too many leave, a class is emptied, somebody is moved to and fro. */
import { addDays } from '#core/time/index';
import { type GuardRule, shareGuard } from '#core/plan/index';
import type { Intent, Open, Snapshot } from './terms';

/** What the plan makes, as far as guards ask: classes that somebody joins, and people on record who begin at a school. */
export interface Made {
  joined: Set<string>;
  moved: Set<string>;
  /** Enrollments on record, by person. */
  enrollmentsOf: ReadonlyMap<string, readonly Open[]>;
}

export const importGuards = (snapshot: Snapshot, intent: Intent, made: Made): GuardRule[] => [
  leaving(snapshot, intent),
  emptied(snapshot, made),
  movedAgain(snapshot, intent, made),
];

/** Number of students at each school, by its id. */
function sizesOf(snapshot: Snapshot): Map<string, { name: string; size: number }> {
  const counted = snapshot.sizes?.schools;
  const sizes = new Map(
    snapshot.schools.map((school) => [school.id, { name: school.name, size: counted?.get(school.id) ?? 0 }]),
  );
  if (counted) return sizes;
  for (const { schoolId } of snapshot.affiliations) {
    const school = sizes.get(schoolId);
    if (school) school.size++;
  }
  return sizes;
}

function leaving(snapshot: Snapshot, { mostLeaving }: Intent): GuardRule {
  const schoolOf = new Map(snapshot.affiliations.map((a) => [a.id, a.schoolId]));
  return shareGuard({
    code: 'leaving',
    most: mostLeaving,
    free: 2,
    what: 'intake.wouldLeave',
    groups: sizesOf(snapshot),
    groupOf: (c) => (c.entity === 'affiliation' && c.op === 'end' ? (schoolOf.get(c.id) ?? null) : null),
  });
}

/** A class that loses everyone and gains nobody: another column was taken for the class. */
function emptied(snapshot: Snapshot, { joined, enrollmentsOf }: Made): GuardRule {
  const sizes = snapshot.sizes?.classes;
  const groups = new Map(snapshot.classes.map((c) => [c.id, { name: c.name, size: sizes?.get(c.id) ?? 0 }]));
  if (!sizes)
    for (const { classId } of snapshot.enrollments) {
      const group = groups.get(classId);
      if (group) group.size++;
    }
  return shareGuard({
    code: 'emptied',
    most: 0.999,
    free: 4,
    what: 'intake.wouldEmptyClass',
    groups,
    groupOf: (c) => {
      if (c.entity !== 'enrollment' || c.op !== 'end') return null;
      const id = enrollmentsOf.get(c.subject)?.find((e) => e.id === c.id)?.classId ?? null;
      return id !== null && joined.has(id) ? null : id;
    },
  });
}

const justNowDays = 30;

/** Someone who began at a school just now would be moved away again: they stand in the exports of two schools. */
function movedAgain(snapshot: Snapshot, { date }: Intent, { moved }: Made): GuardRule {
  const since = addDays(date, -justNowDays);
  const recent = snapshot.affiliations.filter((a) => a.begins > since && moved.has(a.personId));
  const schoolOf = new Map(recent.map((a) => [a.id, a.schoolId]));
  return shareGuard({
    code: 'moved-again',
    most: 0,
    free: 0,
    what: 'intake.wouldMoveBack',
    groups: sizesOf(snapshot),
    groupOf: (c) => (c.entity === 'affiliation' && c.op === 'end' ? (schoolOf.get(c.id) ?? null) : null),
  });
}
