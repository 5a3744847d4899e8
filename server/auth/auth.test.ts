import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Db } from '../db/connection';
import { World } from '../testing/world';
import { keysFrom } from './keys';
import { attempt } from './limits';
import { hashPassword, passwordError, passwordIs } from './password';
import { newToken, seal, sealText, unseal, unsealText } from './seal';

let world: World;
beforeAll(async () => {
  world = await World.open('auth', { demo: false });
});
afterAll(() => world.close());

describe('a sealed secret', () => {
  const key = keysFrom([randomBytes(32)]);
  it('opens with its key for its person alone, and never twice looks the same', () => {
    const sealed = sealText(key, 'person-1', 'puffin-harbor-42');
    expect(unsealText(key, 'person-1', sealed)).toBe('puffin-harbor-42');
    expect(sealText(key, 'person-1', 'puffin-harbor-42')).not.toBe(sealed);
    expect(() => unsealText(key, 'person-2', sealed)).toThrow();
    expect(() => unsealText(keysFrom([randomBytes(32)]), 'person-1', sealed)).toThrow();
  });
  it('does not open when any byte of it was changed or cut off', () => {
    const sealed = seal(key, 'p', 'ab');
    for (let i = 0; i < sealed.length; i++) {
      const bent = Buffer.from(sealed);
      bent[i]! ^= 1;
      expect(() => unseal(key, 'p', bent)).toThrow();
      expect(() => unseal(key, 'p', sealed.subarray(0, i))).toThrow();
    }
  });
});

describe('passwords', () => {
  it('are hashed as OWASP asks, each with a salt of its own', async () => {
    const [a, b] = [await hashPassword('a few words'), await hashPassword('a few words')];
    // Published: OWASP password storage cheat sheet: argon2id, 19 MiB, 2 passes, 1 lane (memory).
    expect(a).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(a).not.toBe(b);
    expect([await passwordIs(a, 'a few words'), await passwordIs(a, 'A few words')]).toEqual([true, false]);
  });
  it('of people are long enough and none of the common ones; nothing else is asked', () => {
    // Published: NIST SP 800-63B: at least 8 characters, no composition rules, checked against common ones.
    for (const good of ['ferry at dawn', 'zzzyxwvu', '日本語のパスワード', 'a word and '.repeat(8)])
      expect([good, passwordError(good)]).toEqual([good, null]);
    expect(passwordError('wanstruther7!', ['wanstruther'])).toEqual(expect.any(String));
    for (const bad of ['short', 'Password1', '12345678', 'aaaaaaaaaa', 'iloveyou', 'Sunshine1', 'trustno1'])
      expect(passwordError(bad)).toEqual(expect.any(String));
  });
});

describe('tokens', () => {
  it('hold 130 bits in an alphabet without look-alikes', () => {
    const tokens = Array.from({ length: 2000 }, newToken);
    expect(new Set(tokens).size).toBe(2000);
    // Published: Crockford, Base 32: no I, L, O, U.
    expect(tokens.every((token) => /^[0-9A-HJKMNP-TV-Z]{26}$/.test(token))).toBe(true);
    expect(new Set(tokens.join('')).size).toBe(32);
  });
});

describe('a limit', () => {
  it('holds over two processes at once', async () => {
    const other = new Db(world.config.database);
    const tries = await Promise.all(
      Array.from({ length: 60 }, (_, i) => attempt(i % 2 ? other : world.db, ['user:both', 10, 900])),
    );
    // Counting and looking are two steps, so under a rush it may close early, never late.
    expect(tries.filter(Boolean).length).toBeLessThanOrEqual(10);
    expect(await attempt(other, ['user:both', 10, 900])).toBe(false);
    await world.db.run("UPDATE attempts SET until = until - INTERVAL 901 SECOND WHERE bucket = 'user:both'");
    expect(await attempt(world.db, ['user:both', 10, 900])).toBe(true);
    await other.close();
  });
});
