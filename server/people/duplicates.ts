/** The same person twice on record, across the schools of a district. */
import { Op } from 'sequelize';
import { duplicates } from '#core/identity/index';
import { knownOf, type Snapshot } from '#core/intake/index';
import type { RecordPair } from '../contract';
import type { Db } from '../db/connection';
import { peopleShown } from './shown';

/** Pairs on record, most telling first; those that somebody said are different are left out. */
export async function duplicatePairs(db: Db, snapshot: Snapshot): Promise<RecordPair[]> {
  const places = new Map(snapshot.affiliations.map((a) => [a.personId, a]));
  const schools = new Map(snapshot.schools.map((s) => [s.id, s.name]));
  const classes = new Map(snapshot.classes.map((c) => [c.id, c.name]));
  const homerooms = new Map(snapshot.enrollments.map((e) => [e.personId, classes.get(e.classId) ?? '']));
  const people = snapshot.people.filter((p) => p.role === 'student');
  const known = people.map((person) => {
    const place = places.get(person.id);
    const school = place ? (schools.get(place.schoolId) ?? '') : '';
    return knownOf({ person, grade: place?.grade ?? null, school, className: homerooms.get(person.id) ?? '' });
  });
  const told = await db.models.decisions.findAll({
    attributes: ['rowKey', 'personId'],
    where: { rowKey: { [Op.like]: 'person:%' }, same: 0 },
    raw: true,
  });
  const different = new Set(told.map(({ rowKey, personId }) => `${rowKey.slice(7)}|${personId}`));
  const shown = peopleShown(snapshot);
  return duplicates(known, 0.05)
    .filter(({ one, two }) => {
      const [a, b] = [people[one]!.id, people[two]!.id];
      return !different.has(`${a}|${b}`) && !different.has(`${b}|${a}`);
    })
    .slice(0, 200)
    .map(({ one, two, bits, never, evidence }) => ({
      one: shown(people[one]!.id),
      two: shown(people[two]!.id),
      bits,
      never,
      evidence: evidence(),
    }));
}
