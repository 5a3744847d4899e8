/**
 * The server: connects, migrates, ends what a dead process left, starts its threads and answers. With --demo it
 * fills an empty database with the demo scenario.
 */
import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { serve } from '@hono/node-server';
import pino from 'pino';
import { watchAnswers } from './api/answering';
import { forLog } from './log';
import { checkKeys, WrongKey } from './auth/key-register';
import { sweep } from './auth/sweep';
import { makeApp } from './api/app';
import { type Config, readConfig } from './config';
import { isAway, isRefused } from './db/away';
import { Db, pauseAfter } from './db/connection';
import { migrate } from './db/migrate';
import { type DemoSignIn, loadDemo, loadDemoWeeks } from './demo';
import { endInterrupted, endOwn, enqueue, renew, renewEveryMs } from './jobs/queue';
import { portIsFree } from './local/mariadb';
import { noteReadiness } from './readiness/days';
import { sendDigests } from './readiness/digest';
import { keepTime } from './district';
import { firstRun, setupCode } from './setup';
import { Roll } from './people/roll';
import { startThreads } from './threads';
import { countAhead } from './use/figures';

/** How long a server that ends waits for answers that are on their way. */
const mostWaitMs = 10_000;
/** How long one that starts waits for its database. */
const mostReachMs = 600_000;

const log = pino({ level: 'warn', base: null, timestamp: pino.stdTimeFunctions.isoTime });

/** In whose name the program itself works. */
const nobody = '0'.repeat(26);
const wrong = (error: unknown): void => log.error(forLog(error));

async function main(): Promise<void> {
  const config = readConfig();
  log.level = config.logLevel;
  if (!(await portIsFree(config.port)))
    throw new Error(`Port ${config.port} on 127.0.0.1 is taken. Stop what uses it, or set SHEAF_PORT to another one.`);
  const db = new Db(config.database);
  await reach(db, config);
  const ran = await migrate(db);
  if (ran.length > 0) console.log(`tables brought up to date: ${ran.join(', ')}`);
  const rotates = await checkKeys(db, config.key);
  if (process.argv.includes('--demo')) await demo(db, config);
  await keepTime(db);
  if ((await firstRun(db)).needed) console.log(`Set-up code, which the first run asks for: ${setupCode(config)}`);

  for (const { id, kind } of await endInterrupted(db))
    console.log(`job ${kind} ${id} was interrupted when the server stopped: nothing of it was kept`);
  if (rotates) {
    await enqueue(db, 'key.rotate', {}, nobody);
    console.log(`everything is being sealed by the new key ${config.key.current.id}; keep the old one in its file`);
  }
  const threads = startThreads((thread, error) => {
    log.error(forLog(error), `the ${thread} thread ended and is started anew`);
    if (thread === 'jobs') endOwn(db).catch(wrong);
  });
  const keep = async () => {
    const job = threads.job();
    // First, so that a job that outlived the database's absence is not taken for left behind.
    if (job) await renew(db, job);
    for (const { id, kind } of await endInterrupted(db))
      log.warn(`job ${kind} ${id} was interrupted: nothing of it was kept`);
  };
  const renewal = setInterval(() => void keep().catch(wrong), renewEveryMs);

  const webRoot = resolve(import.meta.dirname, import.meta.filename.endsWith('.ts') ? '../dist/web' : '../web');
  // Called before anyone asks; who asks meanwhile waits for it, and a failure is theirs to meet again.
  const roll = new Roll(db, config.today);
  const daily = async () => {
    await sweep(db);
    if ((await firstRun(db)).needed) return;
    await keepTime(db);
    await noteReadiness(db, roll, config.today());
    await sendDigests({ db, config, roll, licenses: threads.licenses });
    await countAhead({ db, config, use: threads.use });
  };
  const hourly = () => void daily().catch(wrong);
  roll.everyone().then(hourly, wrong);
  const everyHour = setInterval(hourly, 3_600_000);
  const app = makeApp(
    {
      db,
      config,
      nudge: threads.nudge,
      intake: threads.intake,
      licenses: threads.licenses,
      year: threads.year,
      use: threads.use,
      papers: threads.papers,
      roll,
    },
    {
      webRoot: existsSync(webRoot) ? webRoot : undefined,
      log: (error, requestId) => log.error({ requestId, ...forLog(error) }),
    },
  );
  const server = serve({ fetch: app.fetch, port: config.port, hostname: config.listen }, () => {
    console.log(`Sheaf answers at ${config.url}`);
    process.send?.('up');
  });
  // Longer than proxies keep theirs (60 s, common practice): whoever asks on a connection that is closed just then fails.
  if ('keepAliveTimeout' in server) server.keepAliveTimeout = 75_000;
  const answered = watchAnswers(server);

  let ending = false;
  const end = () => {
    if (ending) return;
    ending = true;
    clearInterval(renewal);
    clearInterval(everyHour);
    server.close();
    // Who asked is answered first. A job that is being done is given up with its transaction.
    answered(mostWaitMs)
      .then(() => Promise.all([threads.stop(), db.close()]))
      .catch(wrong)
      .finally(() => process.exit(0));
  };
  process.on('SIGTERM', end);
  process.on('SIGINT', end);
  process.on('disconnect', end);
}

/** Waits for a database that is still starting, as after a power cut, and says so. Throws what it says after ten minutes. */
async function reach(db: Db, { database: { host, port, others = [] } }: Config): Promise<void> {
  const until = performance.now() + mostReachMs;
  for (let tries = 0; ; tries++)
    try {
      await db.sequelize.authenticate();
      return;
    } catch (error) {
      if (!isAway(error) || isRefused(error) || performance.now() > until) throw error;
      if (tries === 0)
        console.log(
          `waiting for the database at ${[{ host, port }, ...others].map((at) => `${at.host}:${at.port}`).join(', ')}: ${(error as Error).message}`,
        );
      await pauseAfter(tries);
    }
}

async function demo(db: Db, config: Config): Promise<void> {
  const file = resolve(config.dataFolder, 'demo-sign-ins.json');
  if ((await firstRun(db)).needed) {
    const from = performance.now();
    const made = await loadDemo(db, config);
    await loadDemoWeeks(db, config);
    // Passwords stand in it.
    writeFileSync(file, JSON.stringify(made, null, 2), { mode: 0o600 });
    chmodSync(file, 0o600);
    console.log(`demo scenario loaded in ${((performance.now() - from) / 1000).toFixed(1)} s`);
  }
  if (!existsSync(file)) return;
  console.log('\nDemo sign-ins:');
  for (const { who, username, secret } of JSON.parse(readFileSync(file, 'utf8')) as DemoSignIn[])
    console.log(`  ${who.padEnd(36)} ${username.padEnd(16)} ${secret}`);
  console.log();
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  // What a person must put right first: starting again would not help.
  process.exit(error instanceof WrongKey ? 78 : 1);
});
