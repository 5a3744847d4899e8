/** The key, sealed by a passphrase, so that it may lie beside what it opens. Sources: scrypt, RFC 7914; AES-GCM, NIST SP 800-38D. */
import { createCipheriv, createDecipheriv, randomBytes, scryptSync } from 'node:crypto';
import { type Keys, readKeys, writtenKeys } from '../auth/keys';
import { BackupError } from './manifest';

/** 64 MB and about a quarter of a second for each try, as RFC 7914 has it for files. */
const cost = { N: 2 ** 16, r: 8, p: 1, maxmem: 2 ** 27 };
const head = Buffer.from('sheaf key 1\n');
const leastLetters = 12;

const keyOf = (passphrase: string, salt: Buffer): Buffer => scryptSync(passphrase.normalize('NFC'), salt, 32, cost);

/** Throws BackupError for a passphrase that is short. */
export function sealedKey(keys: Keys, passphrase: string): Buffer {
  if ([...passphrase].length < leastLetters)
    throw new BackupError(
      `The passphrase is too short. Use at least ${leastLetters} characters, for example several words.`,
    );
  const [salt, iv] = [randomBytes(16), randomBytes(12)];
  const cipher = createCipheriv('aes-256-gcm', keyOf(passphrase, salt), iv).setAAD(head);
  return Buffer.concat([head, salt, iv, cipher.update(writtenKeys(keys)), cipher.final(), cipher.getAuthTag()]);
}

/** Throws BackupError for another passphrase, or where a byte was changed. */
export function openedKey(bytes: Buffer, passphrase: string): Keys {
  const rest = bytes.subarray(head.length);
  try {
    const decipher = createDecipheriv('aes-256-gcm', keyOf(passphrase, rest.subarray(0, 16)), rest.subarray(16, 28));
    decipher.setAAD(bytes.subarray(0, head.length)).setAuthTag(rest.subarray(-16));
    return readKeys(Buffer.concat([decipher.update(rest.subarray(28, -16)), decipher.final()]).toString());
  } catch (error) {
    throw new BackupError('The key does not open: the passphrase is wrong, or key.sealed is damaged.', {
      cause: error,
    });
  }
}
