/**
 * Keys: what seals the students' passwords, makes short codes unreadable, and names the calendar's address. Each use
 * has a key of its own, derived from one of 32 bytes by HKDF (RFC 5869), so that none tells anything of another. A key
 * is known by an id, which stands in the database and in all that it sealed; the key itself never does.
 */
import { hkdfSync } from 'node:crypto';

export interface Key {
  /** 16 hexadecimal digits. */
  id: string;
  /** The 32 bytes from which the others are derived. */
  raw: Buffer;
  seal: Buffer;
  mac: Buffer;
  calendar: Buffer;
}
export interface Keys {
  /** By which is sealed from now on. */
  current: Key;
  /** The current one first, then those that it took the place of. */
  all: readonly Key[];
}

const derived = (raw: Buffer, use: string, bytes = 32): Buffer =>
  Buffer.from(hkdfSync('sha256', raw, Buffer.alloc(0), `sheaf ${use}`, bytes));

const keyFrom = (raw: Buffer): Key => ({
  id: derived(raw, 'id', 8).toString('hex'),
  raw,
  seal: derived(raw, 'seal'),
  mac: derived(raw, 'mac'),
  calendar: derived(raw, 'calendar'),
});

/** The first is the current one. */
export function keysFrom(raws: readonly Buffer[]): Keys {
  const all = raws.map(keyFrom);
  const [current] = all;
  if (!current) throw new RangeError('no key');
  return { current, all };
}

/** Keys as they stand in a file or a variable: 64 hexadecimal digits each, apart by commas, spaces or line ends. */
export function readKeys(text: string): Keys {
  const words = text.split(/[\s,]+/).filter(Boolean);
  if (words.length === 0 || words.some((word) => !/^[0-9a-f]{64}$/.test(word)))
    throw new RangeError('a key is 64 hexadecimal digits; several stand on lines of their own, the current one first');
  return keysFrom(words.map((word) => Buffer.from(word, 'hex')));
}
export const writtenKeys = ({ all }: Keys): string => all.map(({ raw }) => `${raw.toString('hex')}\n`).join('');
