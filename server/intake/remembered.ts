/** Readings that a person set right, kept for any file of the same shape that comes without a feed. */
import { createHash } from 'node:crypto';
import type { Transaction } from 'sequelize';
import {
  type Hints,
  isZip,
  type OpenFile,
  recall,
  recognize,
  remember,
  type Remembered,
  shapeOf,
} from '#core/tabular/index';
import { nowIso } from '../clock';
import type { Db } from '../db/connection';
import { openTable } from './opened';

/** Of so many, the last ones are looked through. */
const most = 300;

/** What a file is like stands in its first lines; a workbook or an archive is read whole. */
const start = (bytes: Uint8Array): Uint8Array =>
  bytes.length < 300_000 || isZip(bytes) ? bytes : bytes.subarray(0, bytes.lastIndexOf(10, 300_000) + 1 || 300_000);

/** How a file was read once its plan was made, if a person said anything about it. */
export async function keepReading(
  db: Db,
  file: Pick<OpenFile, 'reading' | 'records'>,
  hints: Hints,
  transaction: Transaction,
): Promise<void> {
  if (file.reading.format === 'bundle' || Object.keys(hints).length === 0) return;
  const remembered = remember(file);
  const shape = createHash('sha256').update(shapeOf(remembered)).digest('hex');
  const body = JSON.stringify({ ...remembered, ...(hints.encoding ? { encoding: hints.encoding } : {}) });
  await db.models.readings.upsert({ shape, body, usedAt: nowIso() }, { transaction });
}

/** Hints for a file that looks like one whose reading was kept, and when that was; null: none does. Throws Refusal. */
export async function readingLike(db: Db, bytes: Uint8Array): Promise<{ hints: Hints; at: string } | null> {
  const rows = await db.models.readings.findAll({ order: [['usedAt', 'DESC']], limit: most, raw: true });
  if (rows.length === 0) return null;
  const kept = rows.map(({ body, usedAt }) => ({ ...(JSON.parse(body) as Remembered), usedAt }));
  const head = start(bytes);
  const first = await openTable(head, {});
  if (first.bundle) return null;
  const { sheets, sheet } = first.file.reading;
  // A person may have chosen another sheet than the one that reads most like a list.
  const others = new Set(kept.flatMap((one) => (one.sheet !== null && one.sheet !== sheet ? [one.sheet] : [])));
  for (const other of [null, ...sheets.filter((name) => others.has(name)).slice(0, 5)]) {
    const { file } = other === null ? first : await openTable(head, { sheet: other });
    const like = recognize(
      kept.filter((one) => other === null || one.sheet === other),
      file,
    );
    if (!like) continue;
    const told: Hints = { headerLine: like.headings ? (like.headerLine ?? null) : null };
    if (other !== null) told.sheet = other;
    if (like.encoding && like.encoding !== 'utf-8') told.encoding = like.encoding;
    const { hints } = recall(like, (await openTable(head, told)).file.reading);
    return { hints: { ...hints, ...told }, at: like.usedAt };
  }
  return null;
}
