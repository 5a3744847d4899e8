/** How one student used what they have: by product lately, their last results, the skills that products reported, and words missed. */
import { say } from '#core/messages/say';
import { addDays } from '#core/time/index';
import { col, fn, Op } from 'sequelize';
import type { PersonUse } from '../contract';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { joined } from '../db/joined';
import { notFound } from '../faults';
import { productLabel } from '../licenses/state';
import { visible } from '../people/list';
import { mergedInto } from '../people/merged';
import type { Viewer } from '../services';

/** So many days back minutes are counted. */
const lately = 28;
const mostResults = 12;
const mostWords = 200;

/** With what was told of records that were merged into theirs. Throws Fault missing for somebody whom the viewer does not see. */
export async function personUse(
  { db, config }: { db: Db; config: Pick<Config, 'today'> },
  viewer: Viewer,
  id: string,
): Promise<PersonUse> {
  if ((await visible(db, viewer, [id])).length === 0) throw notFound(say('api.thisPerson'));
  const ids = [id, ...[...(await mergedInto(db))].flatMap(([was, now]) => (now === id ? [was] : []))];
  const since = addDays(config.today(), 1 - lately);
  const [days, lasts, results, levels, missed, products] = await Promise.all([
    db.models.useDays.findAll({
      attributes: [
        'productId',
        [fn('SUM', col('seconds')), 'seconds'],
        [fn('COUNT', fn('DISTINCT', col('day'))), 'times'],
      ],
      where: { personId: ids, day: { [Op.gte]: since } },
      group: 'productId',
      raw: true,
    }),
    db.models.lastUses.findAll({ where: { personId: ids }, raw: true }),
    joined(db, 'results', {
      fields: ['at', 'permille', 'seconds'],
      of: { title: 'material.title' },
      where: { personId: ids, finished: 1 },
      order: ['-at'],
      limit: mostResults,
    }),
    db.models.levels.findAll({ where: { personId: ids }, order: [['seenOn', 'DESC'], 'skill'], raw: true }),
    db.models.missedWords.findAll({
      where: { personId: ids },
      order: [['missedAt', 'DESC'], 'word'],
      limit: mostWords,
      raw: true,
    }),
    db.models.product.findAll({ attributes: ['id', 'name', 'edition'], raw: true }),
  ]);
  const label = new Map(products.map((product) => [product.id, productLabel(product)]));
  const last = new Map<string, string>();
  for (const { productId, usedOn } of lasts) if (usedOn > (last.get(productId) ?? '')) last.set(productId, usedOn);
  const used = new Map(days.map((row) => [row.productId, row]));
  return {
    since,
    products: [...new Set([...last.keys(), ...used.keys()])]
      .map((productId) => ({
        productId,
        label: label.get(productId) ?? '',
        days: Number(used.get(productId)?.times ?? 0),
        minutes: Math.round(Number(used.get(productId)?.seconds ?? 0) / 60),
        lastOn: last.get(productId) ?? null,
      }))
      .sort((a, b) => b.minutes - a.minutes || a.label.localeCompare(b.label, 'en')),
    results: results.map(({ title, at, permille, seconds }) => ({
      title,
      at,
      share: permille === null ? null : Number(permille) / 1000,
      minutes: seconds === null ? null : Math.round(Number(seconds) / 60),
    })),
    skills: levels.map(({ productId, skill, band, seenOn }) => ({
      product: label.get(productId) ?? '',
      skill,
      band: band as PersonUse['skills'][number]['band'],
      seenOn,
    })),
    words: missed
      .filter(({ missedAt, knownAt }) => knownAt === null || knownAt < missedAt)
      .map(({ productId, word, times, missedAt }) => ({
        product: label.get(productId) ?? '',
        word,
        times,
        lastAt: missedAt,
      })),
  };
}
