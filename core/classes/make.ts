/** Classes made by hand: their names, what clashes with whom, and the plans that make, change and end them. */
import { say } from '#core/messages/say';
import { fold } from '#core/names/index';
import type { Change, Plan } from '#core/plan/index';
import type { Columns, Enrollment, School, SchoolClass } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { creates, ends } from '#core/register/steps';
import { gradeLabel, hasGrade, parseGrade } from '#core/tabular/values';

export interface NewClasses {
  /** As typed: names apart by commas, semicolons or lines; "3A-3D" is four. */
  names: string;
  kind: SchoolClass['kind'];
  /** null: as the name begins, where it does begin with a grade. */
  grade: string | null;
  subject: string | null;
  /** Made like this one; `people`: with everyone who is in it. */
  like: { class: SchoolClass; enrollments: readonly Enrollment[]; people: boolean } | null;
  template: ClassTemplate | null;
}

export interface Clash {
  classId: string;
  /** Who teaches it; '': nobody. */
  teachers: string;
}

export interface MadeClass {
  name: string;
  grade: string | null;
  /** The class of the school that has the name already. */
  clash: Clash | null;
}

/** Most that are made at once. */
export const mostNames = 60;

/** What a school calls its classes, before it says otherwise. Common practice: grade and section. */
export const usualPattern = '{grade}{letter}';
const namePart = /\{(grade|letter|number|year)\}/g;

/** Words for what is wrong with a naming pattern; null when nothing is. */
export function classPatternError(pattern: string): string | null {
  if (/[{}]/.test(pattern.replace(namePart, ''))) return say('classes.aPartMustBeOne');
  return /\{(letter|number)\}/.test(pattern) ? null : say('classes.thePatternNeedsOrTo');
}

/** Names of so many sections of each grade (codes), in order. `year`: as the school writes it, "2026–27". */
export const namesByPattern = (
  pattern: string,
  gradeCodes: readonly string[],
  sections: number,
  year: string,
): string[] =>
  gradeCodes.flatMap((grade) =>
    Array.from({ length: sections }, (_, i) =>
      pattern
        .replace(namePart, (_whole, part: string) =>
          part === 'grade'
            ? gradeLabel(grade)
            : part === 'letter'
              ? String.fromCharCode(65 + (i % 26))
              : part === 'number'
                ? String(i + 1)
                : year,
        )
        .trim(),
    ),
  );

/** A class as it is usually set up, to make others from: all but its people and its name. */
export interface ClassTemplate {
  name: string;
  kind: SchoolClass['kind'];
  subject: string | null;
  period: string | null;
  color: string | null;
  discuss: string | null;
  invite: string | null;
  /** Groups that each class begins with, empty. */
  groups: string[];
}

/** "3A-3D, 4A" is 3A 3B 3C 3D 4A: a range of the last letter or number, where both have the same beginning. Each once. */
export function readNames(text: string): string[] {
  const names = text
    .split(/[,;\n]+/)
    .map((part) => part.trim().replace(/\s+/g, ' '))
    .filter(Boolean)
    .flatMap(rangeOf);
  const seen = new Set<string>();
  return names.filter((name) => !seen.has(fold(name)) && seen.add(fold(name)));
}

function rangeOf(part: string): string[] {
  const found = part.match(/^(.*?)(\p{Lu}|\d{1,2})\s*[-–]\s*(.*?)(\p{Lu}|\d{1,2})$/u);
  if (!found) return [part];
  const [, before, from, again, to] = found as unknown as [string, string, string, string, string];
  if (again !== '' && again !== before) return [part];
  const [low, high] = /\d/.test(from) ? [Number(from), Number(to)] : [from.charCodeAt(0), to.charCodeAt(0)];
  if (/\d/.test(from) !== /\d/.test(to) || Number.isNaN(high) || high <= low || high - low >= mostNames) return [part];
  return Array.from(
    { length: high - low + 1 },
    (_, i) => before + (/\d/.test(from) ? String(low + i).padStart(from.length, '0') : String.fromCharCode(low + i)),
  );
}

/** The grade with which a name begins ("3A", "K-2", "10 Blue"), if the school has it. */
export function gradeOfName(name: string, school: Pick<School, 'lowGrade' | 'highGrade'>): string | null {
  const grade = parseGrade(name.match(/^(?:\d{1,2}|K(?![a-z]))/)?.[0] ?? '');
  return grade !== null && hasGrade(grade, school) ? grade : null;
}

/** `taken`: the school's open classes by folded name. Those that clash are not made. `teacher`: id of whoever makes them to teach them. */
export function planClasses(
  order: NewClasses,
  school: School,
  taken: ReadonlyMap<string, Clash>,
  { date, mint, teacher }: { date: string; mint: () => string; teacher: string | null },
): { plan: Plan; classes: MadeClass[] } {
  const changes: Change[] = [];
  const classes = readNames(order.names)
    .slice(0, mostNames)
    .map((name): MadeClass => {
      const grade = order.grade ?? gradeOfName(name, school);
      const clash = taken.get(fold(name)) ?? null;
      if (clash) return { name, grade, clash };
      const id = mint();
      const label = `${name} · ${school.name}`;
      const like = order.like?.class;
      const model = like ?? order.template;
      const { period = null, color = null, discuss = null, invite = null } = model ?? {};
      const after: Columns<'class'> = {
        schoolId: school.id,
        name,
        // A student is in one homeroom: with the people of one, it is a course of theirs.
        kind: order.like?.people && model?.kind === 'homeroom' ? 'course' : (model?.kind ?? order.kind),
        grade: grade ?? like?.grade ?? null,
        subject: order.subject ?? model?.subject ?? null,
        begins: date,
        ends: null,
        ...{ period, color, discuss, invite },
      };
      const reason = model ? say('classes.like', { name: model.name }) : say('classes.addedByHand');
      changes.push({ ...creates('class', id, after, reason), label, subject: id });
      for (const groupName of order.template?.groups ?? []) {
        const group = { schoolId: school.id, classId: id, name: groupName, kind: 'other', rule: null } as const;
        changes.push({
          ...creates('group', mint(), { ...group, begins: date, ends: null }, reason),
          label: groupName,
          subject: id,
          needs: [id],
        });
      }
      const enroll = (personId: string, role: Enrollment['role'], why: string) =>
        changes.push({
          ...creates('enrollment', mint(), { personId, classId: id, role, begins: date, ends: null }, why),
          label,
          subject: personId,
          needs: [id],
        });
      if (order.like?.people)
        for (const { personId, role } of order.like.enrollments)
          enroll(personId, role, say('classes.from2', { name: like!.name }));
      if (
        teacher !== null &&
        !(order.like?.people && order.like.enrollments.some((e) => e.personId === teacher && e.role === 'teacher'))
      )
        enroll(teacher, 'teacher', say('classes.teachesIt'));
      return { name, grade: after.grade as string | null, clash: null };
    });
  return { plan: ordered(changes), classes };
}

/** The class ends, and so does everyone's place in it. */
export function planEnding(
  one: SchoolClass,
  enrollments: readonly (Enrollment & { label: string })[],
  label: string,
  date: string,
): Plan {
  return ordered([
    ...enrollments.map((e) => ({
      ...ends('enrollment', e.id, date, say('classes.ends', { name: one.name })),
      label: e.label,
      subject: e.personId,
    })),
    { ...ends('class', one.id, date, 'ends'), label, subject: one.id },
  ]);
}
