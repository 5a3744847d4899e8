/** What a person is typing, kept as it is typed, by the name of the form; theirs alone, and gone when it is done. */
import { say } from '#core/messages/say';
import { Fault } from './faults';
import { nowIso } from './clock';
import type { Db } from './db/connection';

const mostBytes = 500_000;

export async function draft(db: Db, personId: string, name: string): Promise<unknown> {
  const row = await db.models.drafts.findOne({ where: { personId, name } });
  return row ? (JSON.parse(row.body) as unknown) : null;
}

/** When it was kept; null: nothing is. */
export async function keepDraft(db: Db, personId: string, name: string, body: unknown): Promise<string | null> {
  if (body === null) {
    await db.models.drafts.destroy({ where: { personId, name } });
    return null;
  }
  const text = JSON.stringify(body);
  if (text.length > mostBytes) throw new Fault('too-large', say('api.thisDraftIsTooLarge'));
  const savedAt = nowIso();
  await db.models.drafts.upsert({ personId, name, body: text, savedAt });
  return savedAt;
}
