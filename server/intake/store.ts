/** Files as they came in, kept byte for byte with the draft of how they are read. */
import { createHash } from 'node:crypto';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { mint } from '../plans/mint';
import { emptyDraft } from './reader';
import { insertMany } from '../db/bulk';
import type { Row } from '../db/models';

export const contentHash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

export interface NewIntake {
  fileName: string;
  bytes: Buffer;
  schoolId: string | null;
  complete?: boolean;
  feedId?: string | null;
  by: string;
  /** Nobody sees it yet; see feeds/take. */
  isComing?: boolean;
}

/** Returns the new intake's id. */
export async function storeIntake(db: Db, input: NewIntake): Promise<string> {
  const id = mint();
  const now = nowIso();
  const draft = { ...emptyDraft(input.schoolId), complete: input.complete ?? false };
  const row: Partial<Row<'intakes'>> = {
    ...{ id, fileName: input.fileName, bytes: input.bytes, size: input.bytes.length, schoolId: input.schoolId },
    ...{ createdBy: input.by, createdAt: now, savedAt: now, draft: JSON.stringify(draft) },
    ...{
      feedId: input.feedId ?? null,
      contentHash: contentHash(input.bytes),
      status: input.isComing ? 'coming' : 'open',
    },
  };
  // Sent as it is: written into the statement's text, a large file would take several times its size.
  await db.transaction((tx) => insertMany(db, 'intakes', [row], tx));
  return id;
}
