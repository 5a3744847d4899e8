/**
 * Groups of a class and across classes: cohorts by days, levels, projects. A group by hand holds memberships; who
 * leaves its class or school is out of it without further ado and in again when back. A group by a rule holds no
 * memberships: whoever fits is in it, whenever one looks.
 */
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';
import type { Change, Plan } from '#core/plan/index';
import type { Group, GroupKind, Membership, SchoolClass } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { creates, ends } from '#core/register/steps';
import { gradeLabel, parseGrade } from '#core/tabular/values';

export const groupKinds: Record<GroupKind, string> = {
  days: say('classes.cohortByDays'),
  level: say('classes.kindLevel'),
  project: say('classes.kindProject'),
  other: say('classes.kindOther'),
};

/** All that is said must hold. */
export interface GroupRule {
  grade: string | null;
  /** In one of these; empty: in any. */
  classIds: string[];
}
/** What of a person a rule, or a membership, depends on. */
export interface Placed {
  schoolId: string | null;
  grade: string | null;
  classes: readonly string[];
}

export const fitsRule = (rule: GroupRule, { schoolId, grade, classes }: Placed, of: string): boolean =>
  schoolId === of &&
  (rule.grade === null || rule.grade === grade) &&
  (rule.classIds.length === 0 || rule.classIds.some((id) => classes.includes(id)));

/** Whether someone can be in the group at all. */
export const belongs = ({ classId, schoolId }: Pick<Group, 'classId' | 'schoolId'>, one: Placed): boolean =>
  classId === null ? one.schoolId === schoolId : one.classes.includes(classId);

export type NewGroup = Pick<Group, 'schoolId' | 'classId' | 'name' | 'kind'> & { rule: GroupRule | null };

interface Tools {
  date: string;
  mint: () => string;
}

export function planGroup(
  order: NewGroup,
  members: readonly { id: string; label: string }[],
  { date, mint }: Tools,
): { plan: Plan; id: string } {
  const id = mint();
  const { rule, ...fields } = order;
  const after = { ...fields, rule: rule && JSON.stringify(rule), begins: date, ends: null };
  const reason = rule ? say('classes.byRule') : say('classes.addedByHand');
  const changes: Change[] = [{ ...creates('group', id, after, reason), label: order.name, subject: id }];
  for (const one of members)
    changes.push({
      ...creates(
        'membership',
        mint(),
        { personId: one.id, groupId: id, begins: date, ends: null },
        say('classes.in', { name: order.name }),
      ),
      label: one.label,
      subject: one.id,
      needs: [id],
    });
  return { plan: ordered(changes), id };
}

/** The group ends, and so does everyone's place in it. */
export const planGroupEnd = (
  group: Group,
  memberships: readonly (Membership & { label: string })[],
  date: string,
): Plan =>
  ordered([
    ...memberships.map((m) => ({
      ...ends('membership', m.id, date, say('classes.ends', { name: group.name })),
      label: m.label,
      subject: m.personId,
    })),
    { ...ends('group', group.id, date, 'ends'), label: group.name, subject: group.id },
  ]);

/** The name of a copy for another class: the first class's name or subject in it becomes the second's, or the second's is added. */
export function copiedName(
  name: string,
  from: Pick<SchoolClass, 'name' | 'subject'> | null,
  to: Pick<SchoolClass, 'name' | 'subject'>,
): string {
  for (const key of ['subject', 'name'] as const) {
    const [old, fresh] = [from?.[key], to[key] ?? to.name];
    if (!old) continue;
    const at = name.toLowerCase().indexOf(old.toLowerCase());
    if (at >= 0) return name.slice(0, at) + fresh + name.slice(at + old.length);
  }
  return `${name} · ${to.subject ?? to.name}`.slice(0, 120);
}

export interface Peopled {
  id: string;
  name: string;
  members: readonly { id: string; grade: string | null; classes: readonly string[] }[];
}

const lastWord = (name: string): string => fold(name).split(' ').at(-1) ?? '';
const mark =
  /^(?:[a-h]|\d{1,2}|mon(?:day)?s?|tue(?:sday)?s?|wed(?:nesday)?s?|thu(?:rsday)?s?|fri(?:day)?s?|odd|even|red|blue|green|yellow)$/;

/**
 * What in a group's name its members speak against, in words. `classNames`: names of the school's homerooms by id;
 * `others`: groups that it may have been copied from.
 */
export function contradictions(
  group: Peopled,
  classNames: ReadonlyMap<string, string>,
  others: readonly Peopled[],
): string[] {
  const { members } = group;
  if (members.length === 0) return [];
  const said: string[] = [];
  const words = ` ${fold(group.name)} `;
  const most = <T>(values: (T | null | undefined)[]): [T, number] | null => {
    const counts = new Map<T, number>();
    for (const value of values)
      if (value !== null && value !== undefined) counts.set(value, (counts.get(value) ?? 0) + 1);
    return [...counts].sort((a, b) => b[1] - a[1])[0] ?? null;
  };
  const named = [...classNames].find(([, name]) => words.includes(` ${fold(name)} `));
  if (named) {
    const inIt = members.filter(({ classes }) => classes.includes(named[0])).length;
    const usual = most(members.map(({ classes }) => classes.find((id) => classNames.has(id))));
    if (inIt * 2 < members.length && usual)
      said.push(
        say('classes.isNamedButOfAre', {
          named: named[1],
          usual: usual[1],
          count: members.length,
          name: classNames.get(usual[0]),
        }),
      );
  } else {
    const grade = parseGrade(/ grade (\w+) /.exec(words)?.[1] ?? '');
    const usual = most(members.map((one) => one.grade));
    if (grade !== null && usual && members.filter((one) => one.grade === grade).length * 2 < members.length)
      said.push(
        say('classes.isNamedGradeButOf', {
          grade: gradeLabel(grade),
          usual: usual[1],
          count: members.length,
          actual: gradeLabel(usual[0]),
        }),
      );
  }
  const own = lastWord(group.name);
  if (mark.test(own)) {
    const ids = new Set(members.map(({ id }) => id));
    for (const other of others) {
      const theirs = lastWord(other.name);
      if (other.id === group.id || theirs === own || !mark.test(theirs)) continue;
      const shared = other.members.filter(({ id }) => ids.has(id)).length;
      if (shared < 2 || shared < 0.8 * Math.max(ids.size, other.members.length)) continue;
      said.push(say('classes.hasTheMembersOfBut', { name: other.name, ending: group.name.split(' ').at(-1) }));
    }
  }
  return said;
}
