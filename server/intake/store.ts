/** Files as they came in, kept byte for byte with the draft of how they are read. */
import { createHash } from 'node:crypto';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { mint } from '../plans/mint';
import { emptyDraft } from './reader';

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
  const row = [
    id,
    input.fileName,
    input.bytes,
    input.bytes.length,
    input.schoolId,
    input.by,
    now,
    now,
    JSON.stringify(draft),
    input.feedId ?? null,
    contentHash(input.bytes),
    input.isComing ? 'coming' : 'open',
  ];
  // Sent as it is: written into the statement's text, a large file would take several times its size.
  await db.transaction((tx) =>
    db.batch(
      'INSERT INTO intakes (id, fileName, bytes, size, schoolId, createdBy, createdAt, savedAt, draft, feedId, contentHash, status) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [row],
      tx,
    ),
  );
  return id;
}
