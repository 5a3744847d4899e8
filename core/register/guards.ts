/**
 * Guards of every plan, whatever made it: what would take more out of a school, or bring more into it, than anyone is
 * likely to mean; a year that ends before its last day; classes, devices and licenses that end with people in them.
 * A planner may hold its plan for reasons of its own as well.
 */
import { say } from '#core/messages/say';
import type { MessageKey } from '#core/messages/index';
import { type Change, type GuardRule, type Held, shareGuard } from '#core/plan/index';

/** What the guards ask of the register as it is now. */
export interface GuardFacts {
  /** Schools with the number of people whose place is there. */
  schools: ReadonlyMap<string, { name: string; size: number }>;
  /** The school of each place that the plan ends. */
  schoolOfPlace: (affiliationId: string) => string | null;
  /** Who is in a class that the plan ends, as a student, by id of the enrollment. */
  studentsOf: (classId: string) => readonly { id: string; personId: string; label: string }[];
  /** Open loans of devices that the plan retires or reports missing, with who has them. */
  holdersOf: (deviceId: string) => readonly { id: string; label: string }[];
  /** Seats of a license that go on past a day, with who holds them. */
  seatsPast: (licenseId: string, day: string) => readonly { id: string; label: string }[];
}

export interface GuardLimits {
  /** Shares of a school, 0 to 1. */
  mostLeaving: number;
  mostJoining: number;
  /** The last day of the school year. */
  yearEnds: string;
}

/** Up to so many leave or join without being held, whatever the share. */
const fewLeaving = 10;
const fewJoining = 25;

/** The rules for a plan of this kind. The roll-over moves everyone and ends all classes, which is what it is for. */
export function planGuards(kind: string, facts: GuardFacts, limits: GuardLimits): GuardRule[] {
  const always = [deviceEnds(facts), licenseEnds(facts)];
  if (kind === 'year') return [early(limits), ...always];
  return [leaving(facts, limits), joining(facts, limits), classEnds(facts), ...always];
}

const bySubject = (changes: readonly Change[], entity: string, op: Change['op']) =>
  new Map(changes.flatMap((c) => (c.entity === entity && c.op === op ? [[c.subject, c] as const] : [])));

/** Does not count people who get a new place at the same school in this plan. */
function leaving(facts: GuardFacts, { mostLeaving }: GuardLimits): GuardRule {
  return (plan) => {
    const again = bySubject(plan.changes, 'affiliation', 'create');
    return shareGuard({
      code: 'leaving',
      most: mostLeaving,
      free: fewLeaving,
      what: 'plan.wouldLeaveSchool',
      groups: new Map(facts.schools),
      groupOf: (c) => {
        if (c.entity !== 'affiliation' || c.op !== 'end') return null;
        const school = facts.schoolOfPlace(c.id);
        return again.get(c.subject)?.after.schoolId === school ? null : school;
      },
    })(plan);
  };
}

/** A school that has next to nobody is filled without being held. */
function joining(facts: GuardFacts, { mostJoining }: GuardLimits): GuardRule {
  return (plan) => {
    const was = new Map(
      plan.changes.flatMap((c) =>
        c.entity === 'affiliation' && c.op === 'end' ? [[c.subject, facts.schoolOfPlace(c.id)] as const] : [],
      ),
    );
    return shareGuard({
      code: 'joining',
      most: mostJoining,
      free: fewJoining,
      what: 'plan.wouldJoinSchool',
      groups: new Map([...facts.schools].filter(([, { size }]) => size > fewJoining)),
      groupOf: (c) => {
        if (c.entity !== 'affiliation' || c.op !== 'create') return null;
        const school = String(c.after.schoolId);
        return was.get(c.subject) === school ? null : school;
      },
    })(plan);
  };
}

const early =
  ({ yearEnds }: GuardLimits): GuardRule =>
  ({ changes }) => {
    const day = changes.find(({ entity, op }) => entity === 'class' && op === 'end')?.after.ends;
    if (typeof day !== 'string' || day >= yearEnds) return [];
    const message = say('plan.theSchoolYearRunsUntil', { ends: yearEnds, day });
    return [{ code: 'early', message, count: 1, names: [] }];
  };

/** Students who stay in no class when theirs ends. Combining and splitting put them into another one. */
function classEnds({ studentsOf }: GuardFacts): GuardRule {
  return ({ changes }) => {
    const elsewhere = bySubject(changes, 'enrollment', 'create');
    return changes.flatMap((c): Held[] => {
      if (c.entity !== 'class' || c.op !== 'end') return [];
      const left = studentsOf(c.id).filter(({ personId }) => !elsewhere.has(personId));
      return heldFor('class-ends', c, left, 'plan.classEndsWith');
    });
  };
}

function deviceEnds({ holdersOf }: GuardFacts): GuardRule {
  return ({ changes }) => {
    const back = new Set(changes.flatMap((c) => (c.entity === 'loan' && c.op === 'end' ? c.id : [])));
    return changes.flatMap((c): Held[] =>
      c.entity === 'device' && c.after.condition === 'retired'
        ? heldFor(
            'device-ends',
            c,
            holdersOf(c.id).filter(({ id }) => !back.has(id)),
            'plan.deviceRetiredWith',
          )
        : [],
    );
  };
}

function licenseEnds({ seatsPast }: GuardFacts): GuardRule {
  return ({ changes }) => {
    const freed = new Set(changes.flatMap((c) => (c.entity === 'seat' && c.op !== 'create' ? c.id : [])));
    return changes.flatMap((c): Held[] => {
      const { ends } = c.after;
      if (
        c.entity !== 'license' ||
        c.op !== 'update' ||
        typeof ends !== 'string' ||
        ends >= String(c.before.ends ?? '')
      )
        return [];
      const left = seatsPast(c.id, ends).filter(({ id }) => !freed.has(id));
      return heldFor('license-ends', c, left, 'plan.licenseEndsWith');
    });
  };
}

function heldFor(code: string, { id, label }: Change, people: readonly { label: string }[], words: MessageKey): Held[] {
  const { length: count } = people;
  if (count === 0) return [];
  return [
    {
      code: `${code}:${id}`,
      message: say(words, { label, count }),
      count,
      names: people.map((person) => person.label).slice(0, 200),
    },
  ];
}
