/** Passwords that people choose: argon2id with the parameters of the OWASP password storage cheat sheet (19 MiB, 2 passes, 1 lane). */
import { say } from '#core/messages/say';
import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';

/** The package's `Algorithm.Argon2id`, an ambient const enum that cannot be imported under isolated modules. */
const argon2id = 2;
const parameters = { algorithm: argon2id, memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password.normalize('NFKC'), parameters);
export const passwordIs = (stored: string, password: string): Promise<boolean> =>
  verify(stored, password.normalize('NFKC'));

/** 49,000 passwords that come first when one is guessed, most of them too short to be chosen at all. */
const common = new Set(dictionary['passwords-common'].filter((word) => typeof word === 'string' && word.length >= 8));

/**
 * NIST SP 800-63B: at least 8 characters, no composition rules, none of the common ones, nor what anyone knows of the
 * person (`context`: username, names). Null when good.
 */
export function passwordError(password: string, context: readonly string[] = []): string | null {
  const length = [...password].length;
  if (length < 8) return say('accounts.chooseAPasswordWithAt');
  if (length > 256) return say('accounts.chooseAPasswordWithAt2');
  const plain = password.toLowerCase();
  const first = say('accounts.thisPasswordIsOneOf');
  if (common.has(plain) || /^(.)\1+$/.test(password) || ours.has(plain)) return first;
  const known = context.map((word) => word.toLowerCase()).filter((word) => word.length >= 4);
  if (known.some((word) => plain.replace(/[\d\W]+$/, '') === word)) return first;
  return null;
}
/** Of schools' own making; common practice. */
const ours = new Set('school123 teacher1 teacher123 welcome123 changeme1 abc12345 letmein1 password12'.split(' '));
