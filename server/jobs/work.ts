/** What each kind of job does. All of a job's writing happens in one transaction that also ends the job. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { type ImportResult, reasonsOf } from '#core/intake/index';
import type { Verb } from '#core/register/verbs';
import { Refusal, remember } from '#core/tabular/index';
import { audit } from '../trail';
import { actorOf } from '../authority/actor';
import { rotate } from '../auth/rotate';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { planCarts, planOneToOne } from '../devices/assign';
import { comparePlan } from '../directory/compare';
import { sendAll } from '../directory/send';
import { district } from '../district';
import { takeFeed } from '../feeds/take';
import { requestTransfer } from '../joining/requests';
import { planSeats } from '../licenses/propose';
import { planPasswords } from '../people/passwords';
import { planFor } from '../people/verbs';
import { type Matched } from '../intake/last';
import { type IntakeRecord, intakeRecord, Reader } from '../intake/reader';
import { planningTools } from '../intake/snapshot.queries';
import { carryOut, PlanConflict } from '../plans/apply';
import { blamed } from '../plans/blame';
import { withNewPasswords } from '../plans/passwords';
import { savePlan } from '../plans/store';
import { purge } from '../retention/purge';
import { sendInvitations } from '../staff/invitations';
import { keepReading } from '../intake/remembered';
import { planYear } from '../year/plan';
import { type Desk, performing, type Work } from './desk';
import { printing } from './printing';
import { claim, enqueue, finish, type JobKind, type JobRecord } from './queue';

/** `oldPasswords`: an undo brings back the passwords from before; else new ones are made. */
const withPlan = z.object({
  planId: z.string(),
  oldPasswords: z.boolean().optional(),
  except: z.array(z.string()).optional(),
});

const work: Record<JobKind, Work> = {
  'intake.plan': async ({ db, config, job, progress }) => {
    const { intakeId } = z.object({ intakeId: z.string() }).parse(job.input);
    const record = await intakeRecord(db, intakeId);
    const here = await district(db);
    if (!record || !here) throw new Error(say('intake.thisFileNoLongerExists'));
    progress('planning', 0, 0);
    const { result, matched, unanswered, file } = await new Reader(db, config).plan(
      record,
      await planningTools(db, config, here),
    );
    const meant = await withEarlier(db, record, matched);
    const total = result.plan.changes.length;
    await db.transaction(async (tx) => {
      const planId = await savePlan(
        db,
        tx,
        {
          kind: 'import',
          title: say('jobs.importOf', { fileName: record.head.fileName }),
          schoolId: record.draft.schoolId,
          intakeId,
          createdBy: job.byPersonId,
          plan: result.plan,
          held: result.held,
          waiting: reasonsOf(result.waiting, 2000),
          waits: result.waiting.map(({ line }) => line),
        },
        (done) => progress(say('jobs.savingThePlan'), done, total),
      );
      const status = record.waits ? 'applied' : 'planned';
      await db.models.intakes.update(
        {
          ...{
            status,
            planId,
            matched: JSON.stringify(meant),
            unanswered: JSON.stringify(unanswered),
          },
          transfers: JSON.stringify(result.elsewhere),
        },
        { where: { id: intakeId }, transaction: tx },
      );
      // The reading that a person believed enough to plan with is the one for next time.
      if (!record.head.feedId) await keepReading(db, file, record.draft.hints, tx);
      else if (file.reading.format !== 'bundle')
        await db.models.feeds.update(
          { reading: JSON.stringify(remember(file)) },
          { where: { id: record.head.feedId }, transaction: tx },
        );
      await finish(db, tx, job.id, { planId, changes: total });
    });
  },

  'feed.take': async ({ db, config, job, progress }) => {
    const { feedId, planned } = z.object({ feedId: z.string(), planned: z.boolean().optional() }).parse(job.input);
    await takeFeed(
      db,
      config,
      feedId,
      (step, done) => progress(step, done, 0),
      async (tx, intakeId) => {
        // Who comes in the morning finds the night's plan made, and applies it or does not.
        if (intakeId && planned) await enqueue(db, 'intake.plan', { intakeId }, job.byPersonId, tx);
        await finish(db, tx, job.id, intakeId ? { intakeId } : {});
      },
    );
  },

  'plan.apply': (desk) => carry(desk, 'apply'),
  'plan.undo': (desk) => carry(desk, 'undo'),

  'cards.print': printing,

  'sheaf.plan': async ({ db, config, job, progress }) => {
    const { personIds, order } = z.object({ personIds: z.array(z.string()), order: z.custom<Verb>() }).parse(job.input);
    progress('planning', 0, personIds.length);
    const made = await planFor({ db, config }, personIds, order);
    if (made.changes === 0) throw new Refusal('nothing', say('jobs.nothingWouldChangeSoThere'));
    await db.transaction(async (tx) => {
      const planId = await savePlan(db, tx, { ...made, createdBy: job.byPersonId }, (done) =>
        progress(say('jobs.savingThePlan'), done, made.changes),
      );
      await finish(db, tx, job.id, { planId, changes: made.changes });
    });
  },

  'seats.plan': async ({ db, config, job, progress }) => {
    const order = z
      .object({ productIds: z.array(z.string()), sweep: z.boolean(), idleDays: z.number() })
      .parse(job.input);
    progress('planning', 0, 0);
    const made = await planSeats(db, config, order, (done, total) => progress('planning', done, total));
    const changes = made.plan.changes.length;
    if (changes === 0) throw new Refusal('nothing', say('jobs.noSeatWouldChangeSo'));
    await db.transaction(async (tx) => {
      const planId = await savePlan(db, tx, { ...made, createdBy: job.byPersonId }, (done) =>
        progress(say('jobs.savingThePlan'), done, changes),
      );
      await finish(db, tx, job.id, { planId, changes });
    });
  },

  'devices.plan': async ({ db, config, job, progress }) => {
    const { school, carts } = z
      .object({ school: z.string().nullable(), carts: z.boolean().optional() })
      .parse(job.input);
    progress('planning', 0, 0);
    const made = await (carts ? planCarts(db, config, school) : planOneToOne(db, config, school));
    const changes = made.plan.changes.length;
    if (changes === 0)
      throw new Refusal('nothing', carts ? say('jobs.noDeviceIsAvailableFor') : say('jobs.noDeviceCanBeAssigned'));
    await db.transaction(async (tx) => {
      const planId = await savePlan(db, tx, { ...made, createdBy: job.byPersonId });
      await finish(db, tx, job.id, { planId, changes });
    });
  },

  'year.plan': async ({ db, config, job, progress }) => {
    progress('planning', 0, 0);
    const made = await planYear(db, config).catch((error: unknown) => {
      throw error instanceof RangeError ? new Refusal('undecided', error.message) : error;
    });
    const changes = made.plan.changes.length;
    await db.transaction(async (tx) => {
      const planId = await savePlan(db, tx, { ...made, createdBy: job.byPersonId }, (done) =>
        progress(say('jobs.savingThePlan'), done, changes),
      );
      await finish(db, tx, job.id, { planId, changes });
    });
  },

  'data.purge': async ({ db, config, job, progress }) => {
    progress(say('jobs.findingWhatIsDue'), 0, 0);
    await db.transaction(async (tx) => {
      const { sentence, rows, planId } = await purge(db, config, job.byPersonId, tx, progress);
      if (rows === 0) throw new Refusal('nothing', say('jobs.nothingIsDueSoNothing'));
      await finish(db, tx, job.id, { sentence, changes: rows, planId });
    });
  },

  'key.rotate': async ({ db, config, job, progress }) => {
    const changes = await rotate(db, config.key, (done, total) => progress(say('jobs.sealingAgain'), done, total));
    await audit(db, { by: null, action: 'key.rotated', detail: `${config.key.current.id}: ${changes} rows` });
    await db.transaction((tx) => finish(db, tx, job.id, { sentence: say('jobs.everythingIsSealedWithThe'), changes }));
  },

  'staff.invite': async ({ db, config, job, progress }) => {
    const { ids } = z.object({ ids: z.array(z.string()) }).parse(job.input);
    const { sent, failed } = await sendInvitations(db, config, ids, (done) =>
      progress(say('jobs.sendingMail'), done, ids.length),
    );
    const sentence = say('jobs.invitationsSent', { sent, failed });
    await db.transaction((tx) => finish(db, tx, job.id, { sentence, changes: sent }));
  },

  'directory.send': async ({ db, config, job, progress }) => {
    const { sent, failed, left } = await sendAll(db, directoryOf(config), (done, total) =>
      progress(say('jobs.sendingToTheDirectory'), done, total),
    );
    const sentence =
      sent + failed + left === 0 ? say('jobs.directoryUpToDate') : say('jobs.directorySent', { sent, failed, left });
    await db.transaction((tx) => finish(db, tx, job.id, { sentence, changes: sent }));
  },

  'directory.compare': async ({ db, config, job, progress }) => {
    const { seen, ...made } = await comparePlan(db, directoryOf(config), (done) => progress('comparing', done, 0));
    const changes = made.plan.changes.length;
    await db.transaction(async (tx) => {
      if (changes === 0) {
        const sentence = say('jobs.theDirectoryIsUpTo', { n: seen });
        return finish(db, tx, job.id, { sentence, changes });
      }
      const planId = await savePlan(db, tx, { ...made, createdBy: job.byPersonId });
      return finish(db, tx, job.id, { planId, changes });
    });
  },

  'secrets.plan': async ({ db, config, job }) => {
    const { personIds } = z.object({ personIds: z.array(z.string()) }).parse(job.input);
    const made = await planPasswords(db, config, personIds);
    await db.transaction(async (tx) => {
      const planId = await savePlan(db, tx, { ...made, createdBy: job.byPersonId });
      await finish(db, tx, job.id, { planId, changes: made.plan.changes.length });
    });
  },
};

function directoryOf(config: Config): NonNullable<Config['directory']> {
  if (!config.directory) throw new Refusal('no-directory', say('jobs.noDirectoryIsSetUp'));
  return config.directory;
}

async function carry({ db, config, job, progress }: Desk, action: 'apply' | 'undo'): Promise<void> {
  const { planId, oldPasswords, except } = withPlan.parse(job.input);
  let renewed = 0;
  await carryOut(db, planId, action, job.byPersonId, {
    except,
    ...(action === 'undo' && !oldPasswords
      ? {
          instead: () => {
            renewed = 0;
            return async (changes, tx) => {
              const made = await withNewPasswords(db, config, changes, tx);
              renewed += made.count;
              return made.changes;
            };
          },
        }
      : {}),
    progress: (done, total) => progress(action === 'apply' ? 'applying' : 'undoing', done, total),
    alsoWithin: (tx, applied) =>
      finish(db, tx, job.id, {
        ...{ planId, ...applied },
        sentence: renewed === 0 ? applied.sentence : `${applied.sentence} ${anew(renewed)}`,
      }),
  }).catch(async (error: unknown) => {
    const viewer = error instanceof PlanConflict && (await actorOf(db, job.byPersonId));
    if (!viewer) throw error;
    throw new PlanConflict(await blamed(db, viewer, planId, action, error.conflicts), error.count);
  });
  if (action === 'apply') await askForTransfers(db, planId, job.byPersonId);
}

const anew = (count: number): string => say('jobs.passwordsRenewed', { count });

/** Students of other schools whom the plan's file names: their schools are asked for them. */
async function askForTransfers(db: Db, planId: string, by: string): Promise<void> {
  const plan = await db.models.plans.findOne({ attributes: ['intakeId'], where: { id: planId }, raw: true });
  const row = plan?.intakeId
    ? await db.models.intakes.findOne({ attributes: ['transfers'], where: { id: plan.intakeId }, raw: true })
    : null;
  for (const { personId, schoolId, grade } of JSON.parse(row?.transfers ?? '[]') as ImportResult['elsewhere'])
    await requestTransfer(db, by, schoolId, personId, grade);
}

/** What was meant in the parts of an import that are applied already holds on. */
async function withEarlier(db: Db, { head, waits }: IntakeRecord, matched: Matched): Promise<Matched> {
  if (!waits) return matched;
  const row = await db.models.intakes.findOne({ attributes: ['matched'], where: { id: head.id }, raw: true });
  const earlier = row?.matched ? (JSON.parse(row.matched) as Matched) : null;
  return earlier ? { ...matched, people: { ...earlier.people, ...matched.people } } : matched;
}

/** Does a job that this process has leased. */
export const performJob = (db: Db, config: Config, job: JobRecord): Promise<void> =>
  performing(db, config, job, work[job.kind]);

/** Takes one job and does it. False if none waits. `perform` may do it elsewhere. */
export async function workOnce(
  db: Db,
  config: Config,
  perform: (db: Db, config: Config, job: JobRecord) => Promise<void> = performJob,
): Promise<boolean> {
  const job = await claim(db);
  if (!job) return false;
  await perform(db, config, job);
  return true;
}
