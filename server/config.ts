/** What the environment says: port, data folder, day, database. Everything else is in the database. */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import { resolve } from 'node:path';
import { z } from 'zod';

const environment = z.object({
  SHEAF_PORT: z.coerce.number().int().min(1).max(65_535).default(8200),
  SHEAF_DATA: z.string().default('data'),
  SHEAF_TODAY: z.iso.date().optional(),
  /** Where people reach Sheaf: stands in the codes of the cards. */
  SHEAF_URL: z.url().optional(),
  SHEAF_DB_HOST: z.string().default('127.0.0.1'),
  SHEAF_DB_PORT: z.coerce.number().int().default(8206),
  SHEAF_DB_NAME: z.string().default('sheaf'),
  SHEAF_DB_USER: z.string().default('sheaf'),
  SHEAF_DB_PASSWORD: z.string().default(''),
  /** 32 bytes in hexadecimal; else kept in the data folder. */
  SHEAF_KEY: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .optional(),
});

export interface Config {
  port: number;
  dataFolder: string;
  url: string;
  /** yyyy-mm-dd */
  today: () => string;
  key: Buffer;
  database: { host: string; port: number; name: string; user: string; password: string };
}

export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const parsed = environment.safeParse(env);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new Error(`${issue?.path.join('.')}: ${issue?.message}. Correct it in the environment.`);
  }
  const e = parsed.data;
  const dataFolder = resolve(e.SHEAF_DATA);
  return {
    port: e.SHEAF_PORT,
    dataFolder,
    url: (e.SHEAF_URL ?? `http://127.0.0.1:${e.SHEAF_PORT}`).replace(/\/$/, ''),
    today: () => e.SHEAF_TODAY ?? localDay(),
    key: e.SHEAF_KEY ? Buffer.from(e.SHEAF_KEY, 'hex') : keyOf(dataFolder),
    database: {
      host: e.SHEAF_DB_HOST,
      port: e.SHEAF_DB_PORT,
      name: e.SHEAF_DB_NAME,
      user: e.SHEAF_DB_USER,
      password: e.SHEAF_DB_PASSWORD,
    },
  };
}

function localDay(): string {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
}

/** The key that seals students' secrets: made once, readable by its owner alone, never in the database. */
function keyOf(folder: string): Buffer {
  const file = resolve(folder, 'seal.key');
  if (!existsSync(file)) {
    mkdirSync(folder, { recursive: true });
    writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
  }
  return Buffer.from(readFileSync(file, 'utf8').trim(), 'hex');
}
