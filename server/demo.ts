/** Fills an empty database with the demo scenario, through a plan like everything else, plus what happened in spring: cards and sign-ins. */
import { addDays } from '#core/time/index';
import { demoBands, demoDistrict, demoPassword, makeScenario } from '#demo/scenario';
import { demoZone } from '#demo/place';
import { hashPassword } from './auth/password';
import { hashToken, newToken, sealText } from './auth/seal';
import type { Config } from './config';
import { clock } from './clock';
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
      const at = `${addDays(today, -30)}T08:00:00.000Z`;
      const printId = mint();
      await db.run(
        "INSERT INTO prints (id, byPersonId, at, paper, what, cards, sealedPdf, fetchUntil) VALUES (:printId, :coordinatorId, :at, 'A4', 'all of Marrow Bay', :n, NULL, :at)",
        { printId, coordinatorId, at, n: scenario.printed.length },
        tx,
      );
      await db.batch(
        'INSERT INTO printed_cards (printId, personId, secretVersion, tokenHash) VALUES (?, ?, ?, ?)',
        scenario.printed.map(({ personId, secretVersion }) => [
          printId,
          personId,
          secretVersion,
          hashToken(newToken()),
        ]),
        tx,
      );
      await db.batch(
        "INSERT INTO sign_ins (personId, firstAt, lastAt, way) VALUES (?, ?, ?, 'secret')",
        scenario.signedIn.map((id) => [id, at, at]),
        tx,
      );
      await db.batch(
        'INSERT INTO last_uses (personId, productId, usedOn) VALUES (?, ?, ?)',
        scenario.uses.map(({ personId, productId, usedOn }) => [personId, productId, usedOn]),
        tx,
      );
      await db.batch(
        'INSERT INTO use_days (productId, day, personId, times, seconds) VALUES (?, ?, ?, ?, ?)',
        scenario.used.days.map((u) => [u.productId, u.day, u.personId, u.times, u.seconds]),
        tx,
      );
      await db.batch(
        'INSERT INTO results (materialId, personId, at, finished, permille, seconds) VALUES (?, ?, ?, 1, ?, ?)',
        scenario.used.results.map((u) => [u.materialId, u.personId, u.at, u.permille, u.seconds]),
        tx,
      );
      await db.batch(
        'INSERT INTO levels (productId, skill, personId, band, seenOn) VALUES (?, ?, ?, ?, ?)',
        scenario.used.levels.map((u) => [u.productId, u.skill, u.personId, u.band, u.seenOn]),
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
  for (let back = 42; back >= 1; back -= 1)
    for (const [link, start] of Object.entries(starts))
      await db.run(
        'INSERT INTO readiness_days (day, schoolId, link, ready, people) SELECT :day, schoolId, link, ROUND(ready * :share), people FROM readiness_days WHERE day = :today AND link = :link',
        { day: addDays(today, -back), today, link, share: start + (1 - start) * (1 - Math.ceil(back / 7) / 7) },
      );
}
