/**
 * Printing: which people, what stands on each piece, the codes that are made for it, and the record of it. What holds
 * secrets is kept sealed for an hour to be fetched, and each person whose secret is on it stands in the trail.
 */
import { speechOf } from '#core/messages/languages';
import { say, spoken } from '#core/messages/say';
import { Op } from 'sequelize';
import { calledName } from '#core/entities/index';
import {
  type CardContent,
  cardSheets,
  english,
  hasPieces,
  isCard,
  type Language,
  languages,
  type Sheet,
  sheetCount,
  type SheetOrder,
  texts,
} from '#core/cards/index';
import { gradeLabel, grades } from '#core/tabular/index';
import type { PrintPreview } from '../contract';
import type { Config } from '../config';
import { fold } from '#core/names/index';
import { hashToken, newToken, seal, unseal, unsealText } from '../auth/seal';
import { isoIn, nowIso } from '../clock';
import { district } from '../district';
import type { Db, Tx } from '../db/connection';
import { inBatches } from '../db/batches';
import { nextVersion } from '../plans/ledger';
import { mint } from '../plans/mint';
import { faceOf } from './face';
import { insertMany } from '../db/bulk';
import { type CardRow, cardRowsOf } from './queries';

export interface PrintOrder extends SheetOrder {
  personIds: string[];
  voidOlder: boolean;
  /** For families of whom no language is known; null: English alone. */
  language: Language | null;
  /** The given name large up to grade 2. */
  large: boolean;
  /** Whose cards, in words. */
  what: string;
  by: string;
}

/** Students of the given ids with an account that is open and a secret to print, in the order in which classes are handed out. */
async function cardRows(db: Db, ids: string[]): Promise<CardRow[]> {
  const rows = await inBatches(ids, 4000, (some) => cardRowsOf(db, some));
  const rank = (grade: string | null) => (grade === null ? -1 : (grades as readonly string[]).indexOf(grade));
  const { compare } = new Intl.Collator('en', { numeric: true });
  const order = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
  const sorted = rows.sort(
    (a, b) =>
      compare(a.school ?? '', b.school ?? '') ||
      rank(a.grade) - rank(b.grade) ||
      compare(a.className ?? '', b.className ?? '') ||
      // As the list of the class has them.
      order(fold(a.familyName), fold(b.familyName)) ||
      order(fold(a.givenName), fold(b.givenName)) ||
      (a.personId < b.personId ? -1 : 1),
  );
  // Who is at two schools has one card, of the first.
  const met = new Set<string>();
  return sorted.filter(({ personId }) => met.size < met.add(personId).size);
}

const isLanguage = (text: string | null): text is Language => text !== null && text in languages;

const dayIn = (language: Language, day: string): string =>
  new Intl.DateTimeFormat(language, { dateStyle: 'medium', timeZone: 'UTC' }).format(new Date(`${day}T00:00:00Z`));

/** What stands on the pieces; the secret is opened only when its sheet is drawn. */
function contents(config: Config, rows: CardRow[], order: PrintOrder, link: (index: number) => string) {
  const day = config.today();
  const printed = spoken(say('handouts.printed', { day }), speechOf('en-US'));
  const base = config.url.replace(/^https?:\/\//, '');
  return (index: number): CardContent => {
    const row = rows[index]!;
    const language = isLanguage(row.language) ? row.language : order.language;
    return {
      familyName: row.familyName,
      givenName: calledName(row),
      className: row.className,
      grade: row.grade && gradeLabel(row.grade),
      school: row.school,
      username: row.username,
      secret: order.layout === 'labels' ? '' : unsealText(config.key, row.personId, row.secretSealed),
      link: link(index),
      // What a school wrote itself it wrote in its own words.
      foot: row.cardText
        ? [`${row.cardText} ${printed}`]
        : [`${english.scan} ${printed}`, ...(language ? [`${texts[language].scan} ${dayIn(language, day)}`] : [])],
      family: row.guardianEmail?.trim().toLowerCase() || row.personId,
      large: order.large && ['IT', 'PR', 'PK', 'TK', 'KG', '01', '02'].includes(row.grade ?? ''),
      language,
      where: row.door ? `${base}/d/${row.door}` : `${base}/sign-in`,
    };
  };
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
  if (rows.length === 0) throw new Error(say('handouts.noneOfThemHasAn'));
  const printId = mint();
  const isNew = isCard(order.layout);
  const tokens = isNew ? rows.map(() => newToken()) : [];
  const content = contents(config, rows, order, (index) => `${config.url}/c#${tokens[index]}`);
  // Drawing and its fonts are loaded by the first print, not by every start.
  const [{ pdfOf }, { measure }] = await Promise.all([import('./pdf'), import('./type')]);
  let done = 0;
  let last: Sheet | null = null;
  const pdf = await pdfOf(
    cardSheets(rows.length, content, { ...order, consent: await consentOf(db) }, measure),
    order.paper,
    say('handouts.loginCards'),
    async (sheet) => {
      // A back has the cards of its front.
      if (last === null || last.of[0] !== sheet.of[0]) done += sheet.of.length;
      last = sheet;
      await options.progress?.(done, rows.length);
    },
  );
  const at = nowIso();
  const printed = { printId, cards: rows.length };
  await db.transaction(async (tx) => {
    if (isNew && order.voidOlder)
      await db.models.printedCards.update(
        { voidedAt: at },
        { where: { voidedAt: null, personId: [...rows.map(({ personId }) => personId)] }, transaction: tx },
      );
    const until = isoIn(3_600_000);
    await db.models.prints.create(
      {
        ...{ id: printId, byPersonId: order.by, at, paper: order.paper, what: order.what, cards: rows.length },
        ...{ sealedPdf: seal(config.key, printId, pdf), fetchUntil: until },
      },
      { transaction: tx },
    );
    // Some at a time: a statement for all of them is as large as the print itself.
    for (let from = 0; from < rows.length; from += 1000) {
      const some = rows.slice(from, from + 1000);
      if (isNew)
        await insertMany(
          db,
          'printedCards',
          some.map((row, i) => ({
            ...{ printId, personId: row.personId, secretVersion: row.secretVersion },
            tokenHash: hashToken(tokens[from + i]!),
            face: faceOf({ ...row, givenName: calledName(row) }),
          })),
          tx,
        );
      if (order.layout !== 'labels')
        await insertMany(
          db,
          'audit',
          some.map((row) => ({
            ...{ id: mint(), at, byPersonId: order.by, action: isNew ? 'card.print' : 'list.print' },
            ...{ aboutPersonId: row.personId, detail: `${order.layout}, ${order.what}` },
          })),
          tx,
        );
    }
    await db.models.prints.update(
      { sealedPdf: null },
      { where: { sealedPdf: { [Op.not]: null }, fetchUntil: { [Op.lt]: at } }, transaction: tx },
    );
    await options.alsoWithin?.(tx, printed);
    await db.models.prints.update({ version: await nextVersion(db, tx) }, { where: { id: printId }, transaction: tx });
  });
  return printed;
}

const consentOf = async (db: Db) => (await district(db))?.settings.consent ?? {};

/** Sheets that a preview draws. */
const shownSheets = 2;
const hidden = '••••••••••';

/** The first sheet and its back as they will be printed; secrets and codes are only made at the print. */
export async function previewCards(db: Db, config: Config, order: PrintOrder): Promise<PrintPreview> {
  const rows = await cardRows(db, order.personIds);
  const content = contents(config, rows, order, () => '');
  const { measure, missingLetters } = await import('./type');
  const all = cardSheets(
    rows.length,
    (index) => ({ ...content(index), secret: order.layout === 'labels' ? '' : hidden }),
    { ...order, consent: await consentOf(db) },
    measure,
  );
  const sheets: Sheet[] = [];
  let pages = 0;
  // Pages of a list and of letters are as many as classes and families ask for; those of pieces are told from their number.
  for (const sheet of all) {
    pages++;
    if (sheets.length < shownSheets) sheets.push(sheet);
    else if (hasPieces(order.layout)) break;
  }
  const count = !hasPieces(order.layout)
    ? pages
    : sheetCount(rows.length, order) * (order.backs && (order.layout === 'cards' || order.layout === 'badges') ? 2 : 1);
  const first = order.stacked ? (sheets[0]?.of ?? []).map((index) => rows[index]!) : [];
  return {
    cards: rows.length,
    pages: count,
    sheets,
    missing: rows
      .map((row) => ({
        name: `${calledName(row)} ${row.familyName}`,
        letters: missingLetters([row.familyName, calledName(row), row.className, row.school].join(' ')).join(' '),
      }))
      .filter(({ letters }) => letters)
      .slice(0, 20),
    stacks: first.map((row) => `${row.familyName}, ${calledName(row)}${row.className ? ` · ${row.className}` : ''}`),
  };
}

/** The PDF of a print, while it can be fetched; null later. */
export async function fetchPrint(
  db: Db,
  config: Config,
  printId: string,
): Promise<{ pdf: Buffer; by: string; what: string } | null> {
  const row = await db.models.prints.findOne({
    attributes: ['sealedPdf', 'byPersonId', 'what', 'fetchUntil'],
    where: { id: printId },
    raw: true,
  });
  if (!row?.sealedPdf || row.fetchUntil < nowIso()) return null;
  return { pdf: unseal(config.key, printId, Buffer.from(row.sealedPdf)), by: row.byPersonId, what: row.what };
}
