/** What a check of changes asks of the register, read for many changes at once. */
import { type Facts, placesThatCount, referenceColumns, refersTo } from '#core/authority/index';
import type { Change, Fields } from '#core/plan/index';
import { entities, type Entity } from '#core/entities/index';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';

const atOnce = 4000;
type Rows = Map<string, Fields>;

/** Facts about the changes as the register is now; within `tx` where the plan is about to be applied. */
export async function factsFor(db: Db, changes: readonly Change[], tx?: Tx): Promise<Facts> {
  const wanted = new Map<string, Set<string>>();
  const want = (entity: string, id: unknown) => {
    if (typeof id !== 'string' || !(referenceColumns[entity as Entity] ?? []).length) return;
    const ids = wanted.get(entity) ?? new Set<string>();
    wanted.set(entity, ids.add(id));
  };
  const people = new Set<string>();
  const refer = (fields: Fields) => {
    for (const [column, entity] of Object.entries(refersTo)) want(entity, fields[column]);
    if (typeof fields.personId === 'string') people.add(fields.personId);
  };
  for (const { entity, id, op, before, after } of changes) {
    if (op !== 'create') want(entity, id);
    if (entity === 'person') people.add(id);
    refer(before);
    refer(after);
  }
  const rows: Rows = new Map();
  // A row refers to a group, the group to its class: three steps reach whatever a check asks about.
  for (let step = 0; step < 3 && wanted.size > 0; step++) {
    const now = [...wanted];
    wanted.clear();
    for (const [entity, ids] of now)
      for (const row of await read(
        db,
        entity as Entity,
        [...ids].filter((id) => !rows.has(`${entity}:${id}`)),
        tx,
      )) {
        const { id, ...fields } = row;
        rows.set(`${entity}:${id}`, fields);
        refer(fields);
      }
    for (const [entity, ids] of wanted) {
      for (const id of ids) if (rows.has(`${entity}:${id}`)) ids.delete(id);
      if (ids.size === 0) wanted.delete(entity);
    }
  }
  const about = await factsOfPeople(db, [...people], tx);
  return { row: (entity, id) => rows.get(`${entity}:${id}`) ?? {}, ...about };
}

async function read(db: Db, entity: Entity, ids: string[], tx?: Tx): Promise<(Fields & { id: string })[]> {
  const columns = ['id', ...referenceColumns[entity]!].map((column) => `\`${column}\``).join(', ');
  return inBatches(ids, atOnce, (some) =>
    db.select<Fields & { id: string }>(
      `SELECT ${columns} FROM ${entities[entity].table} WHERE id IN (:some)`,
      { some },
      tx,
    ),
  );
}

/** What a check asks of people. */
export async function factsOfPeople(db: Db, ids: string[], tx?: Tx): Promise<Omit<Facts, 'row'>> {
  const by = <T extends object>(sql: string) => inBatches(ids, atOnce, (some) => db.select<T>(sql, { some }, tx));
  type Place = { id: string; personId: string; schoolId: string; begins: string; ends: string | null };
  const places = new Map<string, Place[]>();
  for (const place of await by<Place>(
    'SELECT id, personId, schoolId, begins, ends FROM affiliations WHERE personId IN (:some)',
  ))
    places.set(place.personId, [...(places.get(place.personId) ?? []), place]);
  const schools = new Map([...places].map(([id, list]) => [id, placesThatCount(list).map((p) => p.schoolId)]));
  const classes = new Map<string, string[]>();
  for (const { personId, classId } of await by<{ personId: string; classId: string }>(
    "SELECT personId, classId FROM enrollments WHERE ends IS NULL AND role = 'student' AND personId IN (:some)",
  ))
    classes.set(personId, [...(classes.get(personId) ?? []), classId]);
  const accounts = new Map(
    (await by<{ personId: string; role: string }>('SELECT personId, role FROM accounts WHERE personId IN (:some)')).map(
      ({ personId, role }) => [personId, role],
    ),
  );
  return {
    schoolsOf: (id) => schools.get(id) ?? [],
    classesOf: (id) => classes.get(id) ?? [],
    accountRole: (id) => accounts.get(id) ?? null,
  };
}
