/** The operator's commands `./run backup`, `./run verify` and `./run restore`. */
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Keys } from '../auth/keys';
import { writtenKeys } from '../auth/keys';
import { type Config, keyFile, readConfig } from '../config';
import { withDatabase } from '../local/own';
import { BackupError, type Manifest, readManifest } from './manifest';
import { keyIn, restoreBackup, verifyBackup } from './read';
import { writeBackup } from './write';

const usage = `./run backup TO      writes all data to the new folder TO, also while Sheaf is in use
./run verify FROM    restores the backup next to the real data, compares everything, opens a sealed password
./run restore FROM   fills an empty database from the backup
If SHEAF_BACKUP_PASSPHRASE is set, the key is stored in the backup, sealed with it.`;

const rowsOf = ({ tables }: Manifest): string =>
  `${tables.reduce((sum, { rows }) => sum + rows, 0).toLocaleString('en-US')} rows of ${tables.length} tables`;
const hasKey = (config: Config): boolean => !!process.env.SHEAF_KEY || existsSync(keyFile(config.dataFolder));
/** The key from the backup, the environment or the data folder; null if there is none. */
const keyAtHand = (config: Config, folder: string): Keys | null =>
  keyIn(folder, config.passphrase) ?? (hasKey(config) ? config.key : null);

const commands: Record<string, (config: Config, folder: string) => Promise<string>> = {
  backup: (config, to) =>
    withDatabase(config, async () => {
      const { passphrase } = config;
      const made = await writeBackup(config.database, to, passphrase ? { key: { keys: config.key, passphrase } } : {});
      const key = passphrase
        ? 'The key is sealed in the backup and opens only with the passphrase.'
        : `The key is not in the backup. Keep a copy of it elsewhere: ${process.env.SHEAF_KEY ? 'SHEAF_KEY' : keyFile(config.dataFolder)}.`;
      return `${rowsOf(made)} as they were at ${made.madeAt} are in ${to}.\n${key}\nCheck it with: ./run verify ${to}`;
    }),

  verify: (config, folder) => {
    readManifest(folder);
    const keys = keyAtHand(config, folder);
    return withDatabase(
      config,
      async () => {
        const { made, opened } = await verifyBackup(config.database, folder, keys);
        const key =
          opened === null
            ? `The key was not checked, because there is none here. The passwords are sealed with the key ${made.keys.join(', ')}.`
            : opened
              ? 'A sealed password opened.'
              : 'The backup has no sealed passwords.';
        return `${rowsOf(made)}, made at ${made.madeAt}, can be restored and match the backup. ${key}`;
      },
      { makes: true },
    );
  },

  restore: (config, folder) => {
    const made = readManifest(folder);
    const sealed = keyIn(folder, config.passphrase);
    if (hasKey(config) && made.keys.length > 0 && !config.key.all.some(({ id }) => made.keys.includes(id)))
      throw new BackupError(
        `This backup was sealed with the key ${made.keys.join(', ')}, but the key here is ${config.key.current.id}. Nothing was changed.`,
      );
    return withDatabase(
      config,
      async () => {
        await restoreBackup(config.database, folder);
        return `${rowsOf(made)} are restored as they were at ${made.madeAt}. ${keptKey(config, made, sealed)}`;
      },
      { makes: true },
    );
  },
};

/** Puts the key where the server looks for it, if it is not there. */
function keptKey(config: Config, { keys }: Manifest, sealed: Keys | null): string {
  if (hasKey(config)) return 'The key here fits.';
  const file = keyFile(config.dataFolder);
  if (!sealed)
    return `Put the key ${keys.join(', ')} into ${file} before you start Sheaf. Without it, sealed passwords cannot be opened.`;
  mkdirSync(config.dataFolder, { recursive: true });
  writeFileSync(file, writtenKeys(sealed), { mode: 0o600, flag: 'wx' });
  return `The key is in ${file}.`;
}

async function main(): Promise<void> {
  const [name = '', folder] = process.argv.slice(2);
  const command = Object.hasOwn(commands, name) ? commands[name] : undefined;
  if (!command || !folder) {
    console.error(usage);
    process.exit(2);
  }
  console.log(await command(readConfig(), resolve(folder)));
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
