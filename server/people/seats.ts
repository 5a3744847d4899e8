/** A person's seats and the ones they are missing, each with the rules that entitle them to it. */
import { say } from '#core/messages/say';
import { dayOf, type Entitled, entitledBy, type Holder, spanOf, termsOf } from '#core/licenses/index';
import { may } from '#core/authority/index';
import type { Person } from '#core/entities/index';
import type { PersonSheet } from '../contract';
import { district, readinessDay } from '../district';
import { readBook } from '../licenses/book';
import { namesFor, ruleWords } from '../licenses/rule-words';
import { productLabel } from '../licenses/state';
import { Op } from 'sequelize';
import type { Db } from '../db/connection';
import { endsAfter } from '../db/joined';
import type { Config } from '../config';
import type { Viewer } from '../services';
import type { OnRoll } from './roll';
import { seatsOf } from './sheet.queries';

type Told = Pick<PersonSheet, 'places' | 'classes' | 'account'>;

/** `one`: as the roll has them; null: they are not on it. Who sees no licenses is told of seats alone. */
export async function seatsSheet(
  { db, config }: { db: Db; config: Pick<Config, 'today'> },
  viewer: Viewer,
  person: Person,
  told: Told,
  one: OnRoll | null,
): Promise<Pick<PersonSheet, 'seats' | 'lacksSeats'>> {
  const missing = one ? one.needs.filter((product) => !one.seats.includes(product)) : [];
  const mayKnow = may(viewer, 'licenses.see');
  const held = await seatsOf(db, person.id);
  if (!mayKnow && missing.length === 0) return { seats: held.map((seat) => ({ ...seat, why: [] })), lacksSeats: [] };
  const { book } = await readBook(db, config.today());
  const day = readinessDay((await district(db))!.year, config.today());
  const holder: Holder = {
    id: person.id,
    role: person.role,
    stopped: person.status === 'left' || told.account?.status === 'frozen',
    places: told.places.map(({ schoolId, grade, ...dates }) => ({ schoolId, grade, ...spanOf(dates) })),
    classes: told.classes.map(({ classId, role, ...dates }) => ({
      ...{ classId, role: role === 'teacher' ? 'teacher' : 'student' },
      ...spanOf(dates),
    })),
  };
  const entitled = mayKnow ? entitledBy(holder, book, dayOf(day)) : new Map<string, Entitled>();
  const { names } = await namesFor(
    db,
    [...entitled.values()].flatMap(({ rules }) => rules.map(termsOf)),
  );
  const why = (productId: string): string[] => {
    const of = entitled.get(productId);
    const instead = of?.insteadId ? book.products.get(of.insteadId) : undefined;
    if (instead) return [say('licenses.insteadThey', { label: productLabel(instead) })];
    return (of?.rules ?? []).map((rule) => ruleWords(rule, names));
  };
  const free = mayKnow && missing.length > 0 ? await freeOf(db, missing, told.places, day) : new Set<string>();
  return {
    seats: held.map((seat) => ({ ...seat, why: why(seat.productId) })),
    lacksSeats: missing
      .flatMap((productId) => {
        const product = book.products.get(productId);
        return product
          ? [{ productId, label: productLabel(product), why: why(productId), isFree: free.has(productId) }]
          : [];
      })
      .sort((a, b) => (a.label < b.label ? -1 : 1)),
  };
}

/** Products of which the district, or a school where they are, has a seat left on that day. */
async function freeOf(db: Db, products: string[], places: Told['places'], day: string): Promise<Set<string>> {
  const open = await db.models.license.findAll({
    attributes: ['id', 'productId', 'schoolId', 'seats'],
    where: {
      ...{ productId: products, begins: { [Op.lte]: day }, ends: { [Op.gt]: day } },
      schoolId: { [Op.or]: [null, ...places.map(({ schoolId }) => schoolId)] },
    },
    raw: true,
  });
  const counts = await db.models.seat.count({
    attributes: ['licenseId'],
    where: { licenseId: open.map(({ id }) => id), begins: { [Op.lte]: day }, ends: endsAfter(day) },
    group: 'licenseId',
  });
  const taken = new Map(counts.map(({ licenseId, count }) => [licenseId as string, Number(count)]));
  const left = open.filter(({ id, seats }) => seats === null || (taken.get(id) ?? 0) < seats);
  return new Set(left.map(({ productId }) => productId));
}
