/** Skills not yet reached and words missed, as products report them of the students of one class. */
import { groupBy } from '#core/plan/index';
import type { Band } from '#core/use/index';
import { orNone } from '../db/batches';
import type { ClassSkills } from '../contract';
import type { Services, Viewer } from '../services';
import { classOf } from '../classes/make';
import { productLabel } from '../licenses/state';
import { mergedInto } from '../people/merged';

/** So many words are listed, those first that most students missed. */
const mostWords = 200;

/** Of the class, or one group of it; with what was told of records that were merged into theirs. Throws Fault missing. */
export async function classSkills(
  { db, roll }: Services,
  viewer: Viewer,
  { classId, group, product }: { classId: string; group?: string; product?: string },
): Promise<ClassSkills> {
  await classOf(db, viewer, classId);
  const within = group
    ? new Set(
        (
          await db.models.membership.findAll({
            attributes: ['personId'],
            where: { groupId: group, ends: null },
            raw: true,
          })
        ).map((member) => member.personId),
      )
    : null;
  const students = new Map(
    (await roll.everyone())
      .filter((one) => one.role === 'student' && one.classes.includes(classId) && (within?.has(one.id) ?? true))
      .map(({ id, family, called }) => [id, { id, name: `${family}, ${called}` }]),
  );
  const into = new Map([...(await mergedInto(db))].filter(([, now]) => students.has(now)));
  const personId = [...orNone([...students.keys(), ...into.keys()])];
  const where = product ? { personId, productId: product } : { personId };
  const [levels, missed, products] = await Promise.all([
    db.models.levels.findAll({ where, order: ['seenOn'], raw: true }),
    db.models.missedWords.findAll({ where, raw: true }),
    db.models.product.findAll({ attributes: ['id', 'name', 'edition'], raw: true }),
  ]);
  const label = new Map(products.map((one) => [one.id, productLabel(one)]));
  const whose = (row: { personId: string }) => into.get(row.personId) ?? row.personId;
  const named = (ids: Iterable<string>) =>
    [...new Set(ids)].map((id) => students.get(id)!).sort((a, b) => a.name.localeCompare(b.name, 'en'));
  const apart = (of: string) => (row: { productId: string }) => `${row.productId} ${of}`;
  return {
    skills: [...groupBy(levels, (row) => apart(row.skill.toLowerCase())(row)).values()]
      .map((rows) => {
        // The newest word on each, whichever of their records it was told of.
        const bands = new Map(rows.map((row) => [whose(row), row.band as Band]));
        const at = (band: Band) => named([...bands].flatMap(([id, is]) => (is === band ? id : [])));
        return {
          product: label.get(rows[0]!.productId) ?? '',
          skill: rows[0]!.skill,
          notYet: at(1),
          nearly: at(2),
          reached: at(3).length,
        };
      })
      .sort((a, b) => a.product.localeCompare(b.product, 'en') || a.skill.localeCompare(b.skill, 'en')),
    words: [...groupBy(missed, (row) => apart(row.word.toLowerCase())(row)).values()]
      .flatMap((rows) => {
        const still = rows.filter(({ missedAt, knownAt }) => knownAt === null || knownAt < missedAt);
        if (still.length === 0) return [];
        return {
          product: label.get(rows[0]!.productId) ?? '',
          word: rows[0]!.word,
          people: named(still.map(whose)),
          times: still.reduce((sum, { times }) => sum + times, 0),
          lastAt: still
            .map(({ missedAt }) => missedAt)
            .sort()
            .at(-1)!,
        };
      })
      .sort((a, b) => b.people.length - a.people.length || b.times - a.times || a.word.localeCompare(b.word, 'en'))
      .slice(0, mostWords),
  };
}
