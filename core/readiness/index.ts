/**
 * Classes for people who are in none: the homeroom of their grade that has the fewest, and every course that nearly
 * all of that homeroom take. One after the other, so that several arrivals are spread.
 */
import type { SchoolClass } from '#core/entities/index';

export interface Arrival {
  id: string;
  schoolId: string;
  grade: string | null;
  /** Ids of the classes they are in. */
  isIn: ReadonlySet<string>;
}
/** An open class with the ids of its students. */
export interface Roster extends Pick<SchoolClass, 'id' | 'schoolId' | 'grade' | 'kind' | 'name'> {
  students: readonly string[];
}
/** The share of a homeroom from which on a course is all of it. */
const whole = 0.8;

/** Classes that each arrival is to join, by their id; null: their school has no homeroom of their grade. */
export function classesFor(arrivals: readonly Arrival[], rosters: readonly Roster[]): Map<string, Roster[] | null> {
  const sizes = new Map(rosters.map(({ id, students }) => [id, students.length]));
  const members = new Map(rosters.map(({ id, students }) => [id, new Set(students)]));
  const found = new Map<string, Roster[] | null>();
  for (const { id, schoolId, grade, isIn } of arrivals) {
    const here = rosters.filter((one) => one.schoolId === schoolId && one.grade === grade);
    const rooms = here.filter(({ kind }) => kind === 'homeroom');
    const has = rooms.find((room) => isIn.has(room.id));
    let home = has ?? rooms[0];
    if (!home) {
      found.set(id, null);
      continue;
    }
    if (!has) for (const room of rooms) if (sizes.get(room.id)! < sizes.get(home.id)!) home = room;
    const joins = has ? [] : [home];
    const mates = members.get(home.id)!;
    for (const course of here) {
      if (course.kind !== 'course' || isIn.has(course.id) || mates.size === 0) continue;
      const both = course.students.filter((student) => mates.has(student)).length;
      // A course of this homeroom, not one in which many homerooms meet.
      if (both >= whole * mates.size && both >= whole * course.students.length) joins.push(course);
    }
    for (const { id: classId } of joins) sizes.set(classId, sizes.get(classId)! + 1);
    found.set(id, joins);
  }
  return found;
}
