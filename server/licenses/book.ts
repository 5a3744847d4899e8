/** The rules of entitlement as they stand in the database, with what they speak of. */
import { type ClassFacts, type RuleBook, spanOf } from '#core/licenses/index';
import type { Db } from '../db/connection';
import { endsAfter } from '../db/joined';
import { classesOfRules } from './queries';

/** Rules that hold on the day or later. `text`: equal where they are the same. */
export async function readBook(db: Db, day: string): Promise<{ day: string; book: RuleBook; text: string }> {
  const [products, rules] = await Promise.all([
    db.models.product.findAll({ order: ['name', 'edition'], raw: true }),
    db.models.rule.findAll({ where: { ends: endsAfter(day) }, order: ['id'], raw: true }),
  ]);
  const classes = await classesOfRules(db, day, rules);
  const facts = new Map(
    classes.map((c): [string, ClassFacts] => [
      c.id,
      { schoolId: c.schoolId, grade: c.grade, subject: c.subject, ...spanOf(c) },
    ]),
  );
  const book = { products: new Map(products.map((p) => [p.id, p])), rules, classes: facts };
  return { day, book, text: JSON.stringify([products, rules, classes]) };
}
