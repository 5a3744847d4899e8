import { theirRows } from '#core/authority/index';
import type { Person } from '#core/entities/index';
import type { Viewer } from '../services';
import type { Db } from '../db/connection';
import { joinedOne } from '../db/joined';

/** Somebody whom the viewer may see; null: there is nobody of this id, or they may not. */
export const findPerson = (db: Db, viewer: Viewer, id: string): Promise<Person | null> =>
  joinedOne(db, 'person', { where: { id }, within: [theirRows(viewer, 'people', 'person')] });
