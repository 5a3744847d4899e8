/** A class that became too large is split, two that became too small are combined; nobody loses a place on the way. */
import { say } from '#core/messages/say';
import type { Change, Plan } from '#core/plan/index';
import type { Columns, Enrollment, SchoolClass } from '#core/entities/index';
import { ordered } from '#core/register/index';
import { creates, ends } from '#core/register/steps';

interface Tools {
  date: string;
  mint: () => string;
}
type Placed = Enrollment & { label: string };

const joins = (
  { personId, role, label }: Placed,
  into: SchoolClass | { id: string; name: string },
  { date, mint }: Tools,
  needs?: string[],
): Change => ({
  ...creates(
    'enrollment',
    mint(),
    { personId, classId: into.id, role, begins: date, ends: null },
    say('classes.joins', { name: into.name }),
  ),
  label,
  subject: personId,
  ...(needs ? { needs } : {}),
});
const leaves = (enrollment: Placed, to: string, { date }: Tools): Change => ({
  ...ends('enrollment', enrollment.id, date, say('classes.movesTo', { to })),
  label: enrollment.label,
  subject: enrollment.personId,
});

/**
 * The class keeps the first part of its students, in the order given, as they would be counted off: 1, 2, 1, 2; each
 * name gets the next part as a class like it. Whoever teaches it teaches all parts.
 */
export function planSplit(
  one: SchoolClass,
  enrollments: readonly Placed[],
  names: readonly string[],
  label: (name: string) => string,
  tools: Tools,
): Plan {
  const changes: Change[] = [];
  const parts = names.map((name) => {
    const id = tools.mint();
    const { schoolId, kind, grade, subject, period = null, color = null, discuss = null, invite = null } = one;
    const about = { schoolId, name, kind, grade, subject, period, color, discuss, invite };
    const like: Columns<'class'> = { ...about, begins: tools.date, ends: null };
    changes.push({
      ...creates('class', id, like, say('classes.splitFrom', { name: one.name })),
      label: label(name),
      subject: id,
    });
    return { id, name };
  });
  const students = enrollments.filter(({ role }) => role === 'student');
  students.forEach((student, i) => {
    const part = i % (parts.length + 1);
    if (part === 0) return;
    const to = parts[part - 1]!;
    changes.push(leaves(student, to.name, tools), joins(student, to, tools, [to.id]));
  });
  for (const teacher of enrollments.filter(({ role }) => role === 'teacher'))
    for (const to of parts) changes.push(joins(teacher, to, tools, [to.id]));
  return ordered(changes);
}

/** Everyone of the other classes joins the first one, and those end. Who is in two of them joins once. */
export function planCombine(
  into: SchoolClass,
  there: readonly Placed[],
  others: readonly { class: SchoolClass; enrollments: readonly Placed[]; label: string }[],
  tools: Tools,
): Plan {
  const changes: Change[] = [];
  const key = ({ personId, role }: Placed) => `${personId}|${role}`;
  const inIt = new Set(there.map(key));
  for (const { class: other, enrollments, label } of others) {
    for (const enrollment of enrollments) {
      changes.push(leaves(enrollment, into.name, tools));
      if (inIt.has(key(enrollment))) continue;
      inIt.add(key(enrollment));
      changes.push(joins(enrollment, into, tools));
    }
    changes.push({
      ...ends('class', other.id, tools.date, say('classes.combinedWith', { name: into.name })),
      label,
      subject: other.id,
    });
  }
  return ordered(changes);
}
