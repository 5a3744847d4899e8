/** Keys: derived apart, known by an id, checked at the start, and changed without anything being lost. */
import { hkdfSync, randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { World } from '../testing/world';
import { checkKeys, WrongKey } from './key-register';
import { keysFrom, readKeys, writtenKeys } from './keys';
import { rotate } from './rotate';
import { macOf, macsOf, resealed, seal, sealText, unseal, unsealText } from './seal';

describe('a key', () => {
  it('gives a key of its own for each use, by HKDF', () => {
    // Published: RFC 5869, appendix A.1, the first test case: the function used is the standard's.
    const okm = hkdfSync(
      'sha256',
      Buffer.alloc(22, 0x0b),
      Buffer.from('000102030405060708090a0b0c', 'hex'),
      Buffer.from('f0f1f2f3f4f5f6f7f8f9', 'hex'),
      42,
    );
    expect(Buffer.from(okm).toString('hex')).toBe(
      '3cb25f25faacd57a90434f64d0362f2a2d2d0a90cf1a5a4c5db02d56ecc4c5bf34007208d5b887185865',
    );
    const { current } = keysFrom([Buffer.alloc(32, 1)]);
    const parts = [current.raw, current.seal, current.mac, current.calendar].map((part) => part.toString('hex'));
    expect(new Set(parts).size).toBe(4);
    expect(current.id).toMatch(/^[0-9a-f]{16}$/);
    expect(parts.some((part) => part.includes(current.id))).toBe(false);
  });
  it('is read from a file or a variable, the current one first, and refused when it is none', () => {
    const [a, b] = [randomBytes(32), randomBytes(32)];
    const keys = readKeys(`${a.toString('hex')},${b.toString('hex')}`);
    expect(keys.current.raw.equals(a)).toBe(true);
    expect(readKeys(writtenKeys(keys)).all.map(({ id }) => id)).toEqual(keys.all.map(({ id }) => id));
    for (const text of ['', 'abc', `${a.toString('hex')}0`, a.toString('base64')])
      expect(() => readKeys(text)).toThrow(RangeError);
  });
  it('opens what earlier ones sealed, and seals anew the same from the same', () => {
    const [old, fresh] = [randomBytes(32), randomBytes(32)];
    const before = sealText(keysFrom([old]), 'p', 'puffin');
    const both = keysFrom([fresh, old]);
    expect(unsealText(both, 'p', before)).toBe('puffin');
    expect(() => unsealText(keysFrom([fresh]), 'p', before)).toThrow(/which is not here/);
    const bytes = Buffer.from(before, 'base64');
    const anew = resealed(both, 'p', bytes);
    expect(anew.equals(resealed(both, 'p', bytes))).toBe(true);
    expect(unseal(keysFrom([fresh]), 'p', anew).toString()).toBe('puffin');
    expect(seal(both, 'p', 'x').equals(seal(both, 'p', 'x'))).toBe(false);
    // What is kept unreadable by an earlier key is found by the later one's keeper.
    expect(macsOf(both, 'code')).toContain(macOf(keysFrom([old]), 'code'));
  });
});

describe('a database', () => {
  let world: World;
  beforeAll(async () => {
    world = await World.open('keys');
  });
  afterAll(() => world.close());

  it('knows its key: with another one, or none of its own, the server does not start', async () => {
    const { db, config } = world;
    // One from before keys had ids is told by what it sealed.
    await expect(checkKeys(db, keysFrom([randomBytes(32)]))).rejects.toThrow(WrongKey);
    expect(await db.select('SELECT id FROM seal_keys')).toEqual([]);
    expect(await checkKeys(db, config.key)).toBe(false);
    expect(await checkKeys(db, config.key)).toBe(false);
    const refused = await checkKeys(db, keysFrom([randomBytes(32)])).catch((error: Error) => error.message);
    expect(refused).toContain(`sealed by the key ${config.key.current.id}`);
    expect(refused).toContain('Put back the key');
    expect(refused).not.toContain(config.key.current.raw.toString('hex'));
  });

  it('is sealed anew by a new key while it is in use: cards, codes and undoing go on', async () => {
    const { db, config } = world;
    const district = await world.as('district');
    const [one] = (await district.get<{ rows: { id: string }[] }>('/api/people?role=student&limit=1')).body.rows;
    await district.post('/api/sheaf/gather', { ids: [one!.id] });
    const planId = (await district.job('/api/sheaf/secrets')).result!.planId!;
    await district.job(`/api/plans/${planId}/apply`);
    const reveal = async () =>
      (await district.post<{ secret: string }>(`/api/people/${one!.id}/reveal`, { why: 'to compare' })).body.secret;
    const secret = await reveal();
    const klass = (await db.one<{ id: string }>(
      "SELECT id FROM classes WHERE kind = 'homeroom' AND ends IS NULL LIMIT 1",
    ))!;
    const code = (
      await district.post<{ code: string }>('/api/codes', { classId: klass.id, schoolId: null, days: 3, usesMost: 9 })
    ).body.code;

    const old = config.key;
    const fresh = keysFrom([randomBytes(32), old.current.raw]);
    expect(await checkKeys(db, fresh)).toBe(true);
    const told: number[] = [];
    const changed = await rotate(db, fresh, (done) => told.push(done));
    expect(changed).toBeGreaterThan(2000);
    expect(told.at(-1)).toBeGreaterThan(2000);
    // A second time there is nothing left to do.
    expect(await rotate(db, fresh)).toBe(0);
    const head = `02${fresh.current.id}`;
    const sealed = await db.select<{ s: string }>(
      'SELECT secretSealed AS s FROM accounts WHERE secretSealed IS NOT NULL',
    );
    expect(sealed.every(({ s }) => Buffer.from(s, 'base64').toString('hex').startsWith(head))).toBe(true);
    const retired = await db.select<{ id: string }>('SELECT id FROM seal_keys WHERE retiredAt IS NOT NULL');
    expect(retired.map(({ id }) => id)).toEqual([old.current.id]);

    // From here the new key alone is enough.
    config.key = keysFrom([fresh.current.raw]);
    expect(await reveal()).toBe(secret);
    const joined = await world.send('POST', '/api/join', {
      code,
      familyName: 'Nobody',
      givenName: 'Nemo',
      number: '999998',
    });
    expect(joined.status).toBe(200);
    const undone = await district.job(`/api/plans/${planId}/undo`, { oldPasswords: true });
    expect(undone.error).toBeNull();
    expect(await reveal()).not.toBe(secret);
    config.key = old;
  });
});
