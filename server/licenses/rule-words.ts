/** For whom a rule is, in words, and whose it is. */
import { say } from '#core/messages/say';
import type { Rule, School, SchoolClass } from '#core/entities/index';
import { type RuleTerms, type TermFields, termsOf } from '#core/licenses/index';
import { gradeLabel } from '#core/tabular/values';
import type { Db } from '../db/connection';

export interface Named {
  names: Map<string, string>;
  schools: Pick<School, 'id' | 'name'>[];
  classes: Pick<SchoolClass, 'id' | 'name' | 'schoolId'>[];
}

/** All schools, and the classes that the terms name. */
export async function namesFor(db: Db, terms: readonly RuleTerms[]): Promise<Named> {
  const ids = [...new Set(terms.flatMap(({ classes, except }) => [...classes, ...except.classes]))];
  const [schools, classes] = await Promise.all([
    db.models.school.findAll({ attributes: ['id', 'name'], raw: true }),
    ids.length === 0
      ? []
      : db.models.class.findAll({ attributes: ['id', 'name', 'schoolId'], where: { id: ids }, raw: true }),
  ]);
  return { schools, classes, names: new Map([...schools, ...classes].map(({ id, name }) => [id, name])) };
}

/** The schools that may change such a rule: those of its classes, or those that it names; null: the district. */
export function ownersOf({ schools, classes }: RuleTerms, known: Named['classes']): (string | null)[] {
  const at = classes.map((id) => known.find((one) => one.id === id)?.schoolId ?? null);
  const of = at.length > 0 ? at : schools;
  return of.length > 0 ? [...new Set(of)] : [null];
}

/** "students of grade 3 in Mathematics at Lantern Point, but not in 3B". */
export function ruleWords(
  { role, begins, ends, ...fields }: Pick<Rule, 'role' | 'begins' | 'ends'> & TermFields,
  names: ReadonlyMap<string, string>,
): string {
  const { schools, grades, subjects, classes, except } = termsOf(fields);
  const classNames = (ids: string[]) => ids.map((id) => names.get(id) ?? say('licenses.aClass'));
  const schoolNames = (ids: string[]) => ids.map((id) => names.get(id) ?? say('licenses.aSchool'));
  const some = (list: readonly string[], words: () => string) => (list.length > 0 ? [words()] : []);
  const parts = [
    ...some(classes, () => say('licenses.ofClass', { name: classNames(classes) })),
    ...some(grades, () => say('licenses.inGrade', { grade: grades.map(gradeLabel), count: grades.length })),
    ...some(subjects, () => say('licenses.inSubject', { subject: subjects })),
    ...some(schools, () => say('licenses.atSchool', { name: schoolNames(schools) })),
    begins && say('licenses.fromDay', { day: begins }),
    ends && say('licenses.untilDay', { day: ends }),
    ...some(except.classes, () => say('licenses.notInClass', { name: classNames(except.classes) })),
    ...some(except.grades, () =>
      say('licenses.notInGrade', { grade: except.grades.map(gradeLabel), count: except.grades.length }),
    ),
    ...some(except.schools, () => say('licenses.notAtSchool', { name: schoolNames(except.schools) })),
  ].filter((part) => part !== null && part !== '');
  return parts.length === 0
    ? say('licenses.everyone', { role })
    : [say('licenses.thoseOf', { role }), ...parts].join(' ');
}
