/** What a check of changes asks of the register, read for many changes at once. */
import {
  type Actor,
  type Facts,
  placesThatCount,
  referenceColumns,
  refersTo,
  roleOf,
  ruleTerms,
} from '#core/authority/index';
import type { Change, Fields } from '#core/plan/index';
import type { Affiliation, Entity } from '#core/entities/index';
import { inBatches } from '../db/batches';
import type { Db, Tx } from '../db/connection';
import { someModel } from '../db/models';

const atOnce = 4000;
type Rows = Map<string, Fields>;

/**
 * Facts about the changes as the register is now; within `tx` where the plan is about to be applied. Whose a person is
 * follows for a teacher from the classes that the person is in, so those classes are read for `actor`s of that scope.
 */
export async function factsFor(db: Db, changes: readonly Change[], actor: Actor, tx?: Tx): Promise<Facts> {
  const wanted = new Map<string, Set<string>>();
  const want = (entity: string, id: unknown) => {
    if (typeof id !== 'string' || !(referenceColumns[entity as Entity] ?? []).length) return;
    const ids = wanted.get(entity) ?? new Set<string>();
    wanted.set(entity, ids.add(id));
  };
  const people = new Set<string>();
  const refer = (fields: Fields) => {
    for (const [column, entity] of Object.entries(refersTo)) want(entity, fields[column]);
    if (typeof fields.terms === 'string') for (const id of ruleTerms(fields).classes) want('class', id);
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
  if (roleOf(actor.role).scope === 'classes') {
    const classes = new Set([...people].flatMap((id) => about.classesOf(id)).filter((id) => !rows.has(`class:${id}`)));
    for (const { id, ...fields } of await read(db, 'class', [...classes], tx)) rows.set(`class:${id}`, fields);
  }
  return { row: (entity, id) => rows.get(`${entity}:${id}`) ?? {}, ...about };
}

async function read(db: Db, entity: Entity, ids: string[], tx?: Tx): Promise<(Fields & { id: string })[]> {
  return inBatches(
    ids,
    atOnce,
    (some) =>
      someModel(db.models, entity).findAll({
        attributes: ['id', ...referenceColumns[entity]!],
        where: { id: some },
        transaction: tx,
        raw: true,
      }) as unknown as Promise<(Fields & { id: string })[]>,
  );
}

/** What a check asks of people. */
export async function factsOfPeople(db: Db, ids: string[], tx?: Tx): Promise<Omit<Facts, 'row'>> {
  const { models } = db;
  const asked = (personId: string[]) => ({ where: { personId }, transaction: tx, raw: true }) as const;
  type Place = Pick<Affiliation, 'id' | 'personId' | 'schoolId' | 'begins' | 'ends'>;
  const places = new Map<string, Place[]>();
  for (const place of await inBatches(ids, atOnce, (some) =>
    models.affiliation.findAll({ attributes: ['id', 'personId', 'schoolId', 'begins', 'ends'], ...asked(some) }),
  ))
    places.set(place.personId, [...(places.get(place.personId) ?? []), place]);
  const schools = new Map([...places].map(([id, list]) => [id, placesThatCount(list).map((p) => p.schoolId)]));
  const classes = new Map<string, string[]>();
  const studies = { ends: null, role: 'student' } as const;
  for (const { personId, classId } of await inBatches(ids, atOnce, (some) =>
    models.enrollment.findAll({
      attributes: ['personId', 'classId'],
      ...asked(some),
      where: { personId: some, ...studies },
    }),
  ))
    classes.set(personId, [...(classes.get(personId) ?? []), classId]);
  const accounts = new Map(
    (
      await inBatches(ids, atOnce, (some) =>
        models.account.findAll({ attributes: ['personId', 'role'], ...asked(some) }),
      )
    ).map(({ personId, role }) => [personId, role]),
  );
  return {
    schoolsOf: (id) => schools.get(id) ?? [],
    classesOf: (id) => classes.get(id) ?? [],
    accountRole: (id) => accounts.get(id) ?? null,
  };
}
