/**
 * Printing login cards: which people, what stands on each card, the codes that are made for it, and the record of
 * it. The finished PDF is kept sealed for an hour to be fetched, since it holds secrets.
 */
import { fullName } from '#core/register/index';
import { gradeLabel } from '#core/tabular/index';
import type { Paper } from '#core/cards/index';
import type { Config } from '../config';
import { hashToken, newToken, seal, unseal, unsealText } from '../auth/seal';
import { isoIn, nowIso } from '../clock';
import type { Db, Tx } from '../db/connection';
import { mint } from '../plans/store';
import type { CardContent } from './pdf';

export interface PrintOrder {
  personIds: string[];
  paper: Paper;
  voidOlder: boolean;
  /** Whose cards, in words. */
  what: string;
  by: string;
}

interface CardRow {
  personId: string;
  givenName: string;
  familyName: string;
  username: string;
  secretSealed: string;
  secretVersion: number;
  grade: string | null;
  school: string | null;
  className: string | null;
  cardText: string | null;
}

/** Students of the given ids with an account that is open and a secret to print, in the order in which classes are handed out. */
async function cardRows(db: Db, ids: string[]): Promise<CardRow[]> {
  if (ids.length === 0) return [];
  return db.select<CardRow>(
    `SELECT p.id AS personId, p.givenName, p.familyName, ac.username, ac.secretSealed, ac.secretVersion, a.grade, s.name AS school, s.cardText,
       (SELECT MIN(c.name) FROM enrollments e JOIN classes c ON c.id = e.classId WHERE e.personId = p.id AND e.ends IS NULL AND c.kind = 'homeroom') AS className
     FROM people p JOIN accounts ac ON ac.personId = p.id AND ac.status = 'active' AND ac.secretSealed IS NOT NULL
       LEFT JOIN affiliations a ON a.personId = p.id AND a.ends IS NULL LEFT JOIN schools s ON s.id = a.schoolId
     WHERE p.id IN (:ids) AND p.role = 'student' AND p.status = 'active' ORDER BY s.name, className, p.familyName, p.givenName, p.id`,
    { ids },
  );
}

export interface Printed {
  printId: string;
  cards: number;
}

/** Makes the PDF and, in one transaction with its record, the codes. `alsoWithin` runs in that transaction, last. */
export async function printCards(
  db: Db,
  config: Config,
  order: PrintOrder,
  options: {
    progress?: (done: number, total: number) => Promise<void>;
    alsoWithin?: (tx: Tx, printed: Printed) => Promise<void>;
  } = {},
): Promise<Printed> {
  const rows = await cardRows(db, order.personIds);
  if (rows.length === 0) throw new Error('None of them has an account with a secret to print.');
  const printId = mint();
  const tokens = rows.map(() => newToken());
  const day = config.today();
  const cards = rows.map((row, i): CardContent => ({
    name: fullName(row),
    place: [row.className, row.grade ? `grade ${gradeLabel(row.grade)}` : null, row.school].filter(Boolean).join(' · '),
    username: row.username,
    secret: unsealText(config.key, row.personId, row.secretSealed),
    link: `${config.url}/c/${tokens[i]}`,
    foot: `${row.cardText ?? 'Scan the code to sign in.'} Printed ${day}.`,
  }));
  // Drawing and its fonts are loaded by the first print, not by every start.
  const { cardsPdf } = await import('./pdf');
  const pdf = await cardsPdf(cards, order.paper, async (done) => options.progress?.(done, rows.length));
  const at = nowIso();
  const printed = { printId, cards: rows.length };
  await db.transaction(async (tx) => {
    if (order.voidOlder)
      await db.run(
        'UPDATE printed_cards SET voidedAt = :at WHERE voidedAt IS NULL AND personId IN (:ids)',
        { at, ids: rows.map((row) => row.personId) },
        tx,
      );
    const until = isoIn(3_600_000);
    await db.batch(
      'INSERT INTO prints (id, byPersonId, at, paper, what, cards, sealedPdf, fetchUntil) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [[printId, order.by, at, order.paper, order.what, rows.length, seal(config.key, printId, pdf), until]],
      tx,
    );
    await db.batch(
      'INSERT INTO printed_cards (printId, personId, secretVersion, tokenHash) VALUES (?, ?, ?, ?)',
      rows.map((row, i) => [printId, row.personId, row.secretVersion, hashToken(tokens[i]!)]),
      tx,
    );
    await db.batch(
      'INSERT INTO audit (id, at, byPersonId, action, aboutPersonId, detail) VALUES (?, ?, ?, ?, ?, ?)',
      rows.map((row) => [mint(), at, order.by, 'card.print', row.personId, `login card, ${order.what}`]),
      tx,
    );
    await db.run('UPDATE prints SET sealedPdf = NULL WHERE sealedPdf IS NOT NULL AND fetchUntil < :at', { at }, tx);
    await options.alsoWithin?.(tx, printed);
  });
  return printed;
}

/** The PDF of a print, while it can be fetched; null later. */
export async function fetchPrint(
  db: Db,
  config: Config,
  printId: string,
): Promise<{ pdf: Buffer; by: string; what: string } | null> {
  const row = await db.one<{ sealedPdf: Buffer | null; byPersonId: string; what: string; fetchUntil: string }>(
    'SELECT sealedPdf, byPersonId, what, fetchUntil FROM prints WHERE id = :printId',
    { printId },
  );
  if (!row?.sealedPdf || row.fetchUntil < nowIso()) return null;
  return { pdf: unseal(config.key, printId, row.sealedPdf), by: row.byPersonId, what: row.what };
}
