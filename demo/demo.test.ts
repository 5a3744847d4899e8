import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { applyTo } from '#core/plan/index';
import type { Account, Affiliation, Booking, Enrollment, License, Loan, Person, Seat } from '#core/entities/index';
import { makeFiles } from './files';
import { wallTimeIn } from '#core/time/index';
import { demoZone } from './place';
import { makeScenario } from './scenario';

const make = (today: string) => {
  let n = 0;
  return makeScenario(today, { mint: () => `id${n++}`, seal: (_id, secret) => secret, passwordHash: 'hash' });
};

describe('Skerry Isles Unified', () => {
  const scenario = make('2026-08-17');
  const result = applyTo(new Map(), { changes: scenario.changes });
  if (!('state' in result)) throw new Error(result.conflicts[0]!.message);
  const rows = <T>(entity: string): T[] =>
    [...result.state.get(entity)!].map(([id, fields]) => ({ id, ...fields })) as T[];
  const people = rows<Person>('person');

  it('is as large as told: seven schools, about 2,400 students, 190 staff, 300 classes', () => {
    expect(rows('school')).toHaveLength(7);
    const count = (role: string) => people.filter((p) => p.role === role).length;
    expect(Math.abs(count('student') - 2400)).toBeLessThan(60);
    expect(Math.abs(count('staff') - 190)).toBeLessThan(15);
    expect(Math.abs(rows('class').length - 300)).toBeLessThan(25);
  });

  it('holds what is told: nine products, 24 carts, 1,300 devices, each seat and loan within what there is', () => {
    expect(rows('product')).toHaveLength(9);
    expect(rows('cart')).toHaveLength(24);
    expect(Math.abs(rows('device').length - 1300)).toBeLessThan(40);
    const licenses = rows<License>('license');
    const seats = rows<Seat>('seat');
    for (const { id, seats: owned } of licenses)
      expect(seats.filter((s) => s.licenseId === id).length).toBeLessThanOrEqual(owned ?? Infinity);
    const loans = rows<Loan>('loan');
    expect(new Set(loans.map((l) => l.deviceId)).size).toBe(loans.length);
    expect(loans.filter((l) => l.due !== null && l.due < '2026-08-17')).toHaveLength(12);
    const bookings = rows<Booking>('booking');
    const times = bookings.map(({ cartId, weekday, period }) => `${cartId} ${weekday} ${period}`);
    expect(times.length - new Set(times).size).toBe(1);
  });

  it('holds together: everyone has a place, every enrollment a class, no number or username twice', () => {
    const ids = new Set(people.map((p) => p.id));
    const classes = new Set(rows<{ id: string }>('class').map((c) => c.id));
    const places = rows<Affiliation>('affiliation');
    expect(new Set(places.map((a) => a.personId))).toEqual(ids);
    expect(rows<Enrollment>('enrollment').every((e) => ids.has(e.personId) && classes.has(e.classId))).toBe(true);
    const numbers = people.map((p) => p.number).filter((number) => number !== null);
    expect(new Set(numbers).size).toBe(numbers.length);
    const usernames = rows<Account>('account').map((a) => a.username);
    expect(new Set(usernames).size).toBe(usernames.length);
    expect(usernames.every((u) => /^[a-z0-9]+$/.test(u))).toBe(true);
  });

  it('has its troubles planted: twins in one class, namesakes, a class made twice, 17 old cards', () => {
    const students = scenario.students;
    const twins = students.filter((s) => s.familyName === 'Saltmarsh' && s.birthDate === '2018-03-09');
    expect([...new Set(twins.map((t) => t.className))]).toEqual(['3B']);
    expect(new Set(twins.map((t) => t.givenName)).size).toBe(2);
    const namesakes = students.filter((s) => s.familyName === 'Holloway' && s.givenName === 'June');
    expect(new Set(namesakes.map((s) => s.birthDate)).size).toBe(namesakes.length);
    expect(namesakes.length).toBeGreaterThanOrEqual(2);
    expect(rows<{ name: string }>('class').filter((c) => c.name === 'Reading Circle 4')).toHaveLength(2);
    const version = new Map(rows<Account>('account').map((a) => [a.personId, a.secretVersion]));
    expect(scenario.printed.filter((p) => version.get(p.personId) !== p.secretVersion)).toHaveLength(17);
  });

  it('follows its seed: the same children on any day, and the files in demo/files to the byte', () => {
    const later = make('2031-01-05');
    const names = (s: typeof scenario) =>
      s.students.map((x) => [x.number, x.familyName, x.givenName, x.birthDate, x.username, x.secret]);
    expect(names(later)).toEqual(names(scenario));
    const files = makeFiles(scenario);
    expect(files.map((f) => f.name).sort()).toEqual(readdirSync('demo/files').sort());
    for (const { name, bytes } of files)
      expect([name, Buffer.compare(readFileSync(`demo/files/${name}`), bytes)]).toEqual([name, 0]);
  });
});

it('sets work for the hours of a school day where the district is', () => {
  const works = make('2026-08-17').changes.filter(({ entity }) => entity === 'work');
  expect(works.length).toBeGreaterThan(3);
  for (const { after } of works)
    expect(
      [after.opensAt, after.closesAt].flatMap((at) => (at ? [wallTimeIn(demoZone, String(at)).slice(11)] : [])),
    ).toEqual(after.closesAt ? ['08:00', '15:00'] : ['08:00']);
});
