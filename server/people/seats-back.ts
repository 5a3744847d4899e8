/** The seats to which whoever is back is entitled where they are now: as many as are free, at the cost of nobody. */
import { needs, type Holder, spanOf } from '#core/licenses/index';
import type { Change, Plan } from '#core/plan/index';
import type { Config } from '../config';
import type { Db } from '../db/connection';
import { giveSeats } from '../licenses/propose';
import { readLicenses } from '../licenses/state';

/** `plan`: by which they are back; `back`: ids of those who had left. Whom the plan leaves as they are gets none. */
export async function seatsOnReturn(
  db: Db,
  config: Pick<Config, 'today'>,
  plan: Plan,
  back: ReadonlySet<string>,
): Promise<Change[]> {
  const state = await readLicenses(db, config);
  const found = new Map<string, Holder>();
  const of = (id: string): Holder => {
    const one = found.get(id) ?? { id, role: 'student', stopped: false, places: [], classes: [] };
    found.set(id, one);
    return one;
  };
  for (const { entity, op, after } of plan.changes) {
    const personId = String(after.personId);
    if (op !== 'create' || !back.has(personId)) continue;
    const dates = spanOf({ begins: String(after.begins), ends: null });
    if (entity === 'affiliation')
      of(personId).places.push({
        schoolId: String(after.schoolId),
        grade: (after.grade ?? null) as string | null,
        ...dates,
      });
    if (entity === 'enrollment')
      of(personId).classes.push({
        classId: String(after.classId),
        role: after.role === 'teacher' ? 'teacher' : 'student',
        ...dates,
      });
  }
  const chosen = [...found.keys()].flatMap((id) => state.index.get(id) ?? []);
  const holders = chosen.map((who): Holder => ({
    ...found.get(state.people[who]!.id)!,
    role: state.people[who]!.role,
  }));
  return [...needs(holders, state.book, state.window)].flatMap(
    ([productId, list]) =>
      giveSeats(
        state,
        productId,
        list.map((need) => ({ ...need, who: chosen[need.who]! })),
      ).changes,
  );
}
