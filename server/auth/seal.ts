/**
 * What must be printable again, sealed: AES-256-GCM under a key outside the database, bound to the person, so that what
 * is sealed does not open when it is moved to another row. And tokens, which are only kept hashed.
 */
import {
  createCipheriv,
  createDecipheriv,
  createHash,
  createHmac,
  randomBytes,
  randomInt,
  timingSafeEqual,
} from 'node:crypto';
import type { Key, Keys } from './keys';

/** Version, id of the key, start value; then what is sealed, and its tag. Version 1 had no id and the key itself. */
const version = 2;
const headLength = 1 + 8 + 12;

export const seal = (keys: Keys, bound: string, plain: string | Buffer): Buffer =>
  sealed(keys.current, bound, plain, randomBytes(12));

function sealed(key: Key, bound: string, plain: string | Buffer, iv: Buffer): Buffer {
  const cipher = createCipheriv('aes-256-gcm', key.seal, iv).setAAD(Buffer.from(bound));
  return Buffer.concat([
    Buffer.from([version]),
    Buffer.from(key.id, 'hex'),
    iv,
    cipher.update(plain),
    cipher.final(),
    cipher.getAuthTag(),
  ]);
}

/** Throws if the key, the binding or a byte is wrong. */
export function unseal(keys: Keys, bound: string, bytes: Buffer): Buffer {
  if (bytes[0] === 1 && bytes.length >= 29) return firstThatOpens(keys, bound, bytes);
  if (bytes[0] !== version || bytes.length < headLength + 16) throw new Error('not sealed by this application');
  const id = bytes.toString('hex', 1, 9);
  const key = keys.all.find((one) => one.id === id);
  if (!key) throw new Error(`sealed by the key ${id}, which is not here`);
  return opened(key.seal, bound, bytes, 9);
}

function firstThatOpens(keys: Keys, bound: string, bytes: Buffer): Buffer {
  let failure: unknown;
  for (const { raw } of keys.all)
    try {
      return opened(raw, bound, bytes, 1);
    } catch (error) {
      failure = error;
    }
  throw failure;
}

function opened(key: Buffer, bound: string, bytes: Buffer, at: number): Buffer {
  const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(at, at + 12)).setAAD(Buffer.from(bound));
  decipher.setAuthTag(bytes.subarray(-16));
  return Buffer.concat([decipher.update(bytes.subarray(at + 12, -16)), decipher.final()]);
}

/** Whether it is sealed by the current key. */
export const isCurrent = (keys: Keys, bytes: Buffer): boolean =>
  bytes[0] === version && bytes.toString('hex', 1, 9) === keys.current.id;

/**
 * The same under the current key. The start value follows from what was sealed before, so that one text sealed anew in
 * two places, or twice after an interruption, is one text again.
 */
export function resealed(keys: Keys, bound: string, bytes: Buffer): Buffer {
  const iv = createHmac('sha256', keys.current.mac).update(bytes).digest().subarray(0, 12);
  return sealed(keys.current, bound, unseal(keys, bound, bytes), iv);
}

export const sealText = (keys: Keys, bound: string, plain: string): string =>
  seal(keys, bound, plain).toString('base64');
export const unsealText = (keys: Keys, bound: string, text: string): string =>
  unseal(keys, bound, Buffer.from(text, 'base64')).toString('utf8');

const mac = (key: Buffer, text: string): string => createHmac('sha256', key).update(text).digest('hex');

/** By what something short is kept without being readable: of no use without the key. */
export const macOf = ({ current }: Keys, text: string): string => mac(current.mac, text);
/** By what it may be kept: under the current key, under earlier ones, and as it was before keys had uses of their own. */
export const macsOf = ({ all }: Keys, text: string): string[] =>
  all.flatMap((key) => [mac(key.mac, text), mac(key.raw, text)]);
export const calendarMac = ({ current }: Keys, text: string): string => mac(current.calendar, text);

export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex');

const alphabet = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
/** Five bits of each byte as a letter or digit, none of which look alike (Crockford's base 32). */
export const tokenFrom = (bytes: Buffer): string => Array.from(bytes, (byte) => alphabet[byte & 31]).join('');
/** A token of 130 bits in 26 letters and digits. */
export const newToken = (): string => tokenFrom(randomBytes(26));

/** Whole numbers from 0 to n−1, from the system's source. */
export const secretBelow = (n: number): number => randomInt(n);

export const sameText = (a: string, b: string): boolean =>
  timingSafeEqual(createHash('sha256').update(a).digest(), createHash('sha256').update(b).digest());
