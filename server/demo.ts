/** Fills an empty database with the demo scenario, through a plan like everything else, plus what happened in spring: cards and sign-ins. */
import { addDays, momentOf } from '#core/time/index';
import { demoBands, demoDistrict, demoPassword, makeScenario } from '#demo/scenario';
import { demoZone } from '#demo/place';
import { demoKey, keyNameOf, slug } from '#demo/product';
import { hashPassword } from './auth/password';
import { hashToken, newToken, sealText } from './auth/seal';
import type { Config } from './config';
import { clock } from './clock';
import { insertMany } from './db/bulk';
import type { Db } from './db/connection';
import { putRequest } from './joining/join';
import { makeDistrict, yearFrom } from './district';
import { Roll } from './people/roll';
import { noteReadiness } from './readiness/days';
import { carryOut, openingKind } from './plans/apply';
import { savePlan } from './plans/store';
import { mint } from './plans/mint';
import { ordered } from '#core/register/index';

export interface DemoSignIn {
  who: string;
  username: string;
  secret: string;
}

/** Returns the sign-ins to show. The database must be migrated and empty. */
export async function loadDemo(db: Db, config: Config): Promise<DemoSignIn[]> {
  clock.zone = demoZone;
  const today = config.today();
  const scenario = makeScenario(today, {
    mint,
    seal: (id, secret) => sealText(config.key, id, secret),
    passwordHash: await hashPassword(demoPassword),
    offeredAt: config.demoProducts ?? undefined,
  });
  const { coordinatorId } = scenario;
  const planId = await db.transaction(async (tx) => {
    await makeDistrict(
      db,
      {
        ...{
          name: demoDistrict,
          zone: demoZone,
          year: yearFrom(addDays(today, 9)),
          bands: demoBands,
          numberDigits: 6,
          oneToOne: ['09', '10', '11', '12'],
        },
        signOnDomains: ['isles.example'],
      },
      tx,
    );
    return savePlan(db, tx, {
      kind: openingKind,
      title: 'Opening register',
      createdBy: coordinatorId,
      plan: ordered(scenario.changes),
      grant: { is: 'opening' },
    });
  });
  await carryOut(db, planId, 'apply', coordinatorId, {
    grant: { is: 'opening' },
    alsoWithin: async (tx) => {
      const at = momentOf(demoZone, `${addDays(today, -30)}T09:00`);
      const printId = mint();
      await db.models.prints.create(
        {
          ...{ id: printId, byPersonId: coordinatorId, at, paper: 'A4', what: 'all of Marrow Bay' },
          ...{ cards: scenario.printed.length, sealedPdf: null, fetchUntil: at },
        },
        { transaction: tx },
      );
      const { used } = scenario;
      await insertMany(
        db,
        'printedCards',
        scenario.printed.map(({ personId, secretVersion }) => ({
          ...{ printId, personId, secretVersion, tokenHash: hashToken(newToken()) },
        })),
        tx,
      );
      const came = { firstAt: at, lastAt: at, way: 'secret' };
      await insertMany(
        db,
        'signIns',
        scenario.signedIn.map((personId) => ({ personId, ...came })),
        tx,
      );
      // Using a product on a day means a sign-in on that day.
      await insertMany(
        db,
        'signInDays',
        [...new Map(used.days.map(({ day, personId }) => [`${day} ${personId}`, { day, personId }])).values()],
        tx,
      );
      await insertMany(
        db,
        'lastUses',
        scenario.uses.map(({ personId, productId, usedOn }) => ({ personId, productId, usedOn })),
        tx,
      );
      await insertMany(
        db,
        'useDays',
        used.days.map(({ productId, day, personId, times, seconds }) => ({ productId, day, personId, times, seconds })),
        tx,
      );
      await insertMany(
        db,
        'results',
        used.results.map((u) => ({
          ...{ materialId: u.materialId, personId: u.personId, at: u.at, finished: 1 },
          ...{ permille: u.permille, seconds: u.seconds },
        })),
        tx,
      );
      await insertMany(
        db,
        'levels',
        used.levels.map(({ productId, skill, personId, band, seenOn }) => ({
          productId,
          skill,
          personId,
          band,
          seenOn,
        })),
        tx,
      );
      await insertMany(db, 'missedWords', used.missed, tx);
      if (config.demoProducts)
        await insertMany(
          db,
          'productKeys',
          scenario.products.map(({ id, name }) => ({
            ...{ productId: id, name: keyNameOf(slug(name)), keyHash: hashToken(demoKey) },
            ...{ createdBy: coordinatorId, createdAt: at, lastAt: null },
          })),
          tx,
        );
      for (const one of scenario.asking) await putRequest(db, { ...one, kind: 'student' }, tx);
    },
  });
  const child = scenario.students.find(
    ({ className, schoolId }) => className === '3A' && schoolId === scenario.schools.LAN!.id,
  )!;
  return [
    ...scenario.signIns.map((signIn) => ({ ...signIn, secret: demoPassword })),
    { who: 'student, class 3A, Lantern Point', username: child.username, secret: child.secret },
  ];
}

/** The weeks before today, in which accounts, classes, seats and cards came one after the other to what they are now. */
export async function loadDemoWeeks(db: Db, config: Config): Promise<void> {
  const today = config.today();
  await noteReadiness(db, new Roll(db, config.today), today);
  const starts = { account: 0.52, class: 0.3, seats: 0.2, device: 0.7, card: 0.1, 'signed-in': 0.6 };
  const now = await db.models.readinessDays.findAll({ where: { day: today }, raw: true });
  const weeks = Array.from({ length: 42 }, (_, i) => 42 - i).flatMap((back) =>
    now.map(({ schoolId, link, ready, people }) => {
      const start = starts[link as keyof typeof starts];
      const share = start + (1 - start) * (1 - Math.ceil(back / 7) / 7);
      return { day: addDays(today, -back), schoolId, link, ready: Math.round(ready * share), people };
    }),
  );
  await db.transaction((tx) => insertMany(db, 'readinessDays', weeks, tx));
}
