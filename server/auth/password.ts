/** Passwords that people choose: argon2id with the parameters of the OWASP password storage cheat sheet (19 MiB, 2 passes, 1 lane). */
import { hash, verify } from '@node-rs/argon2';

/** The package's `Algorithm.Argon2id`, an ambient const enum that cannot be imported under isolated modules. */
const argon2id = 2;
const parameters = { algorithm: argon2id, memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password.normalize('NFKC'), parameters);
export const passwordIs = (stored: string, password: string): Promise<boolean> =>
  verify(stored, password.normalize('NFKC'));

const common = new Set(
  'password password1 password12 password123 12345678 123456789 1234567890 qwertyuiop qwerty123 iloveyou sunshine princess football baseball letmein1 welcome1 welcome123 abcd1234 abc12345 trustno1 superman starwars computer school123 teacher1 teacher123 changeme changeme1 admin123 administrator'.split(
    ' ',
  ),
);

/** NIST SP 800-63B: at least 8 characters, no composition rules, none of the common ones. Null when good. */
export function passwordError(password: string): string | null {
  if ([...password].length < 8) return 'Choose a password of at least 8 characters; a few words make a good one.';
  if ([...password].length > 256) return 'Choose a password of at most 256 characters.';
  if (common.has(password.toLowerCase()) || /^(.)\1+$/.test(password))
    return 'This password is one of the first that anyone would try. Choose another one.';
  return null;
}
