/** The rules of entitlement as they stand in the database, with what they speak of. */
import { type ClassFacts, type RuleBook, spanOf } from '#core/licenses/index';
import type { Rule, SchoolClass } from '#core/entities/index';
import type { Db } from '../db/connection';

/** Rules that hold on the day or later. `text`: equal where they are the same. */
export async function readBook(db: Db, day: string): Promise<{ day: string; book: RuleBook; text: string }> {
  const [products, rules] = await Promise.all([
    db.models.product.findAll({ order: ['name', 'edition'], raw: true }),
    db.select<Rule>('SELECT * FROM entitlements WHERE ends IS NULL OR ends > :day ORDER BY id', { day }),
  ]);
  const classes = await db.select<SchoolClass>(
    `SELECT c.id, c.schoolId, c.grade, c.subject, c.begins, c.ends FROM classes c WHERE (c.ends IS NULL OR c.ends > :day) AND (${classesIn(rules)})`,
    { day, ...ruleParams(rules) },
  );
  const facts = new Map(
    classes.map((c): [string, ClassFacts] => [
      c.id,
      { schoolId: c.schoolId, grade: c.grade, subject: c.subject, ...spanOf(c) },
    ]),
  );
  const book = { products: new Map(products.map((p) => [p.id, p])), rules, classes: facts };
  return { day, book, text: JSON.stringify([products, rules, classes]) };
}

const some = <T>(list: T[], otherwise: T): T[] => (list.length > 0 ? list : [otherwise]);
/** Values for `classesIn`. */
export const ruleParams = (rules: readonly Rule[]): { ruleClasses: string[]; ruleSubjects: string[] } => ({
  ruleClasses: some(
    rules.flatMap(({ classId }) => classId ?? []),
    '-',
  ),
  ruleSubjects: some(
    rules.flatMap(({ subject }) => subject ?? []),
    '-',
  ),
});
/** A condition on classes `c`: those that rules may speak of. By grade of what a teacher teaches: all. */
export const classesIn = (rules: readonly Rule[]): string =>
  rules.some(({ role, grade }) => role === 'teacher' && grade !== null)
    ? '1 = 1'
    : 'c.id IN (:ruleClasses) OR c.subject IN (:ruleSubjects)';
