/**
 * Students' secrets, sealed so that they can be printed again: AES-256-GCM under a key outside the database, bound
 * to the person, so that a sealed secret moved to another row does not open. And tokens, which are only kept hashed.
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

export function seal(key: Buffer, bound: string, plain: string | Buffer): Buffer {
  const iv = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', key, iv).setAAD(Buffer.from(bound));
  return Buffer.concat([Buffer.from([1]), iv, cipher.update(plain), cipher.final(), cipher.getAuthTag()]);
}

/** Throws if the key, the binding or a byte is wrong. */
export function unseal(key: Buffer, bound: string, sealed: Buffer): Buffer {
  if (sealed[0] !== 1 || sealed.length < 29) throw new Error('not sealed by this application');
  const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(1, 13)).setAAD(Buffer.from(bound));
  decipher.setAuthTag(sealed.subarray(-16));
  return Buffer.concat([decipher.update(sealed.subarray(13, -16)), decipher.final()]);
}

export const sealText = (key: Buffer, bound: string, plain: string): string =>
  seal(key, bound, plain).toString('base64');
export const unsealText = (key: Buffer, bound: string, sealed: string): string =>
  unseal(key, bound, Buffer.from(sealed, 'base64')).toString('utf8');

/** By what something short is looked up without being kept: of no use without the key. */
export const macOf = (key: Buffer, text: string): string => createHmac('sha256', key).update(text).digest('hex');

export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex');

/** A token of 130 bits in 26 letters and digits, none of which look alike (Crockford's base 32). */
export function newToken(): string {
  const alphabet = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
  return Array.from(randomBytes(26), (byte) => alphabet[byte & 31]).join('');
}

/** Whole numbers from 0 to n−1, from the system's source. */
export const secretBelow = (n: number): number => randomInt(n);

export const sameText = (a: string, b: string): boolean =>
  timingSafeEqual(createHash('sha256').update(a).digest(), createHash('sha256').update(b).digest());
