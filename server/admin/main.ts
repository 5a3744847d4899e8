/**
 * Commands for the operator: a locked-out coordinator, sessions, limits, and the key. Works beside a running
 * server or without one; what it does stands in the trail.
 */
import { Op } from 'sequelize';
import type { Columns } from '#core/entities/index';
import { renameSync, writeFileSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { ordered } from '#core/register/index';
import { creates } from '#core/register/steps';
import { audit } from '../trail';
import { checkKeys } from '../auth/key-register';
import { keysFrom, writtenKeys } from '../auth/keys';
import { emptyAll } from '../auth/limits';
import { newLink } from '../auth/own';
import { unsealText } from '../auth/seal';
import { endSessionsOf } from '../auth/sessions';
import { type Config, keyFile, readConfig } from '../config';
import { Db, jobSeconds } from '../db/connection';
import { migrate } from '../db/migrate';
import { withDatabase } from '../local/own';
import { carryOut } from '../plans/apply';
import { mint } from '../plans/mint';
import { savePlan } from '../plans/store';

const usage = `./run admin COMMAND
  coordinator USERNAME [GIVEN FAMILY]   make a district coordinator, or let one choose a new password; removes their
                                        second factors and prints a link that works for an hour
  end-sessions [USERNAME]               sign a person out everywhere, or everyone
  unlock                                forget all failed attempts, which ends every wait
  rotate-key                            make a new key; the server seals everything by it at its next start
  check-key                             say whether the key fits the database`;

type Command = (db: Db, config: Config, args: string[]) => Promise<string>;

const commands: Record<string, Command> = {
  coordinator: async (db, config, [username = '', given = '', family = '']) => {
    if (!/^[a-z0-9._-]{2,64}$/.test(username))
      throw new Error('Name a username: small letters, digits, dots, hyphens.');
    let account = await accountOf(db, username);
    if (!account) {
      if (!given || !family)
        throw new Error(`No account is named ${username}. To create it, add a given name and a family name.`);
      account = await makeCoordinator(db, config, username, given, family);
    }
    const { id, personId } = account;
    await db.transaction(async (tx) => {
      const within = { transaction: tx };
      const { account, person, passkeys, appCodes, recoveryCodes } = db.models;
      await account.update({ role: 'district', status: 'active', passwordHash: null }, { where: { id }, ...within });
      await person.update({ status: 'active' }, { where: { id: personId }, ...within });
      for (const factor of [passkeys, appCodes, recoveryCodes])
        await (factor as typeof passkeys).destroy({ where: { accountId: id }, ...within });
      await endSessionsOf(db, [id], tx);
      await audit(db, { by: null, action: 'admin.coordinator', about: personId, detail: username }, tx);
    });
    return `${username} is a coordinator of the district. Choose a password within an hour:\n\n${await newLink(db, config, id)}\n`;
  },

  'end-sessions': async (db, _, [username]) => {
    if (username === undefined) {
      const ended = await db.models.sessions.destroy({ where: {} });
      await audit(db, { by: null, action: 'admin.sessions', detail: `all: ${ended}` });
      return `${ended} sessions ended.`;
    }
    const account = await accountOf(db, username);
    if (!account) throw new Error(`No account is named ${username}.`);
    const ended = await db.transaction((tx) => endSessionsOf(db, [account.id], tx));
    await audit(db, { by: null, action: 'admin.sessions', about: account.personId, detail: String(ended) });
    return `${ended} sessions of ${username} ended.`;
  },

  unlock: async (db) => {
    await emptyAll(db);
    await audit(db, { by: null, action: 'admin.unlock', detail: '' });
    return 'All failed attempts are forgotten. A running server notices within 10 seconds.';
  },

  'rotate-key': async (db, config) => {
    await checkKeys(db, config.key);
    if (process.env.SHEAF_KEY) {
      const fresh = randomBytes(32).toString('hex');
      return `Put this new key before the present one in SHEAF_KEY, apart by a comma, and start the server again:\n\n${fresh}\n`;
    }
    const file = keyFile(config.dataFolder);
    const keys = keysFrom([randomBytes(32), ...config.key.all.map(({ raw }) => raw)]);
    // Written beside it and moved: a file cut short would be no key at all.
    writeFileSync(`${file}.new`, writtenKeys(keys), { mode: 0o600 });
    renameSync(`${file}.new`, file);
    await audit(db, { by: null, action: 'admin.rotate-key', detail: keys.current.id });
    return `The new key ${keys.current.id} stands first in ${file}; the old one stays after it.
Start the server again: it seals everything by the new key, as a job. Then copy the file to where its copy is kept.`;
  },

  'check-key': async (db, config) => {
    await checkKeys(db, config.key);
    const rows = await db.models.account.findAll({
      where: { secretSealed: { [Op.not]: null } },
      order: ['id'],
      limit: 1000,
    });
    let opened = 0;
    for (const { personId, secretSealed } of rows) {
      unsealText(config.key, personId, secretSealed!);
      opened++;
    }
    return `The key ${config.key.current.id} fits the database: ${opened} sealed passwords opened.`;
  },
};

const accountOf = (db: Db, username: string): Promise<{ id: string; personId: string } | null> =>
  db.models.account.findOne({ where: { username } });

async function makeCoordinator(db: Db, config: Config, username: string, givenName: string, familyName: string) {
  const school = await db.models.school.findOne({ order: ['name'] });
  if (!school)
    throw new Error('Nothing is set up yet. Start the server and open its page: the first run makes the coordinator.');
  const [personId, id] = [mint(), mint()];
  const about = { label: `${familyName}, ${givenName}`, subject: personId };
  const person: Columns<'person'> = {
    ...{ role: 'staff', number: null, givenName, middleName: null, familyName, birthDate: null },
    ...{ email: null, guardianEmail: null, status: 'active', mergedInto: null },
  };
  const place = { personId, schoolId: school.id, grade: null, begins: config.today(), ends: null };
  const account: Columns<'account'> = {
    ...{ personId, username, role: 'district', status: 'active' },
    ...{ secretSealed: null, secretVersion: 1, passwordHash: null },
  };
  const reason = 'made by whoever runs the server';
  const grant = { is: 'opening' as const };
  const planId = await db.transaction((tx) =>
    savePlan(db, tx, {
      ...{ kind: 'staff', title: `New coordinator: ${familyName}, ${givenName}`, createdBy: personId, grant },
      plan: ordered([
        { ...creates('person', personId, person, reason), ...about },
        { ...creates('affiliation', mint(), place, reason), ...about },
        { ...creates('account', id, account, reason), ...about },
      ]),
    }),
  );
  await carryOut(db, planId, 'apply', null, { grant });
  return { id, personId };
}

async function main(): Promise<void> {
  const [name = '', ...args] = process.argv.slice(2);
  const command = Object.hasOwn(commands, name) ? commands[name] : undefined;
  if (!command) {
    console.error(usage);
    process.exit(2);
  }
  const config = readConfig();
  await withDatabase(config, async () => {
    const db = new Db(config.database, 2, jobSeconds);
    try {
      await migrate(db);
      console.log(await command(db, config, args));
    } finally {
      await db.close();
    }
  });
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
