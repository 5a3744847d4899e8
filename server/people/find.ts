import { theirRows } from '#core/authority/index';
import type { Person } from '#core/entities/index';
import type { Viewer } from '../services';
import type { Db } from '../db/connection';
import { joinedOne } from '../db/joined';

/** A person by id; null where there is none or the viewer may not see them. */
export const findPerson = (db: Db, viewer: Viewer, id: string): Promise<Person | null> =>
  joinedOne(db, 'person', { where: { id }, within: [theirRows(viewer, 'people', 'person')] });
