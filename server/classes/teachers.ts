/** Who teaches which class, as a line to be read. */
import { Op } from 'sequelize';
import { spokenName } from '#core/register/index';
import type { Db } from '../db/connection';
import { joined } from '../db/joined';

/** By class, in the order of their family names; a class without a teacher is missing. */
export async function teachersOf(db: Db, classIds: readonly string[]): Promise<Map<string, string>> {
  const rows = await joined(db, 'enrollment', {
    fields: ['classId'],
    of: { familyName: 'person.familyName', givenName: 'person.givenName' },
    where: { classId: [...classIds], role: 'teacher', ends: null },
    order: ['person.familyName'],
  });
  const names = new Map<string, string[]>();
  for (const { classId, ...name } of rows) names.set(classId, [...(names.get(classId) ?? []), spokenName(name)]);
  return new Map([...names].map(([id, some]) => [id, some.join(', ')]));
}

/** Ids of those who teach the homerooms that a student is in now, but for the given class. */
export async function homeroomTeachers(db: Db, personId: string, besides: string): Promise<string[]> {
  const rooms = await joined(db, 'enrollment', {
    fields: ['classId'],
    where: { personId, role: 'student', ends: null, classId: { [Op.ne]: besides } },
    whose: { 'class.kind': 'homeroom' },
  });
  const rows = await joined(db, 'enrollment', {
    fields: ['personId'],
    where: { classId: rooms.map((room) => room.classId), role: 'teacher', ends: null },
    distinct: true,
  });
  return rows.map((row) => row.personId);
}
