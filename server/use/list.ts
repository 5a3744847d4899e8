/**
 * Use, from a list that a publisher gives out: a heading, then who (username, number or address), the product's name
 * and the day; and, where the list has them, minutes, the activity (a material's title or address), the score in
 * percent, the skill that it is about, and words missed, between semicolons or commas. A line without minutes gives the
 * last use alone. A list that is taken in twice counts its minutes twice: so lines of a day and product that are there
 * already are refused.
 */
import { say } from '#core/messages/say';
import { momentOf } from '#core/time/index';
import { clock } from '../clock';
import { fold } from '#core/names/index';
import { groupBy } from '#core/plan/index';
import { readHeaded } from '#core/tabular/index';
import { guessDateOrder, readDate, sureOrder } from '#core/tabular/values';
import { bandOf, mostLetters, type UseRecord } from '#core/use/index';
import { orFault } from '../faults';
import type { Services, Viewer } from '../services';
import { audit } from '../trail';
import { productLabel } from '../licenses/state';
import { peopleCalled, writeUse } from './records';
import { insertMany } from '../db/bulk';
import type { Row } from '../db/models';

const headings = {
  who: ['who', 'user', 'username', 'number', 'student number', 'email', 'e-mail', 'login'],
  product: ['product', 'title', 'resource'],
  day: ['day', 'date', 'last use', 'last used', 'used on', 'last sign-in'],
  minutes: ['minutes', 'time', 'time spent'],
  activity: ['activity', 'material', 'lesson', 'task'],
  score: ['score', 'percent', 'result'],
  skill: ['skill', 'strand', 'domain'],
  missed: ['words missed', 'missed words', 'missed'],
} as const;
const needed = ['who', 'product', 'day'] as const;

export async function takeUses(
  { db, config }: Services,
  viewer: Viewer,
  text: string,
): Promise<{ taken: number; problems: { line: number; message: string }[] }> {
  const { rows, cell: cellOf } = orFault(() => readHeaded(text, headings, needed));
  const products = new Map<string, string>();
  for (const product of await db.models.product.findAll({ raw: true }))
    for (const name of [product.name, productLabel(product)]) products.set(fold(name), product.id);
  const activities = new Map<string, string>();
  for (const { productId, title, address } of await db.models.material.findAll({
    attributes: ['productId', 'title', 'address'],
    raw: true,
  }))
    for (const name of [fold(title), address]) activities.set(`${productId} ${name}`, address);
  const people = await peopleCalled(
    db,
    rows.map((row) => cellOf(row, 'who')),
  );
  // Days as the list writes them, in the order that most of them tell.
  const { order, confidence } = guessDateOrder(rows.map((row) => cellOf(row, 'day')));
  /** One that could be two days, where no other one tells which. */
  const isEither = (text: string): boolean => {
    const [american, other] = [readDate(text, 'mdy'), readDate(text, 'dmy')];
    return confidence < sureOrder && american !== null && other !== null && american !== other;
  };
  const dayOf = (row: (typeof rows)[number]) => {
    const text = cellOf(row, 'day');
    return isEither(text) ? null : readDate(text, order);
  };
  const there = await daysThere(
    db,
    new Set(products.values()),
    rows.flatMap((row) => dayOf(row) ?? []),
  );
  const today = config.today();
  const problems: { line: number; message: string }[] = [];
  const timed: (UseRecord & { productId: string })[] = [];
  const latest: Row<'lastUses'>[] = [];
  rows.forEach((row, i) => {
    const cell = (field: keyof typeof headings) => cellOf(row, field);
    const who = cell('who');
    const day = dayOf(row);
    const personId = people.get(who.toLowerCase());
    const productId = products.get(fold(cell('product')));
    const minutes = cell('minutes') ? Number(cell('minutes')) : null;
    const share = cell('score') ? Number(cell('score').replace('%', '')) / 100 : null;
    const activity = cell('activity');
    const address = activities.get(`${productId} ${fold(activity)}`) ?? activities.get(`${productId} ${activity}`);
    const wrong = !personId
      ? say('use.isNotAUsernameNumber', { who })
      : !productId
        ? say('use.thereIsNoProductNamed', { text: cell('product') })
        : day === null
          ? say(isEither(cell('day')) ? 'use.couldBeTwoDays' : 'use.isNotADateLike', { day: cell('day') })
          : day > today
            ? say('use.isInTheFuture', { day })
            : minutes !== null && !(minutes >= 0 && minutes <= 1440)
              ? say('use.isNotANumberOf', { text: cell('minutes') })
              : share !== null && !(share >= 0 && share <= 1)
                ? say('use.isNotAScoreIn', { text: cell('score') })
                : activity && !address
                  ? say('use.isNotAMaterialOf', { activity, text: cell('product') })
                  : minutes !== null && there.has(`${productId} ${day} ${personId}`)
                    ? say('use.theUsageOfOnIs', { who, day })
                    : null;
    if (wrong) {
      problems.push({ line: i + 2, message: wrong });
      return;
    }
    latest.push({ personId: personId!, productId: productId!, usedOn: day! });
    const missed = cell('missed')
      .split(/[;,]/)
      .map((word) => word.trim().slice(0, mostLetters))
      .filter(Boolean);
    if (minutes === null && share === null && missed.length === 0) return;
    const skill = cell('skill');
    timed.push({
      productId: productId!,
      who,
      at: momentOf(clock.zone, `${day}T12:00`),
      seconds: Math.round((minutes ?? 0) * 60),
      address: address ?? null,
      finished: address !== undefined,
      share: address ? share : null,
      levels: skill && share !== null ? [{ skill, band: bandOf(share) }] : [],
      words: missed.map((word) => ({ word, known: false })),
    });
  });
  await db.transaction(async (tx) => {
    await insertMany(db, 'lastUses', latest, tx, { usedOn: 'greatest' });
    for (const [productId, records] of groupBy(timed, (one) => one.productId))
      await writeUse(db, tx, productId, records);
    await audit(
      db,
      { by: viewer.personId, action: 'uses.take', detail: say('use.linesOfUsage', { count: latest.length }) },
      tx,
    );
  });
  return { taken: latest.length, problems: problems.slice(0, 200) };
}

/** Of which product, day and person minutes are kept. */
async function daysThere(
  db: Services['db'],
  productIds: ReadonlySet<string>,
  days: readonly string[],
): Promise<Set<string>> {
  const found = new Set<string>();
  const asked = [...new Set(days)];
  if (productIds.size === 0 || asked.length === 0) return found;
  for (const { productId, day, personId } of await db.models.useDays.findAll({
    attributes: ['productId', 'day', 'personId'],
    where: { productId: [...productIds], day: [...asked] },
    raw: true,
  }))
    found.add(`${productId} ${day} ${personId}`);
  return found;
}
