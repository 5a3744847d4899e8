/** Lists written as CSV after RFC 4180, safe to open in a spreadsheet: what it would run as a formula is text. */

const signs = '=+\\-@\uff1d\uff0b\uff0d\uff20';
const runs = `'*(?:[${signs}\\t\\r\\n]|\\s+[${signs}])`;
const runsAfter = `'*[${signs}]`;
const [begins, began] = [new RegExp(`^${runs}`), new RegExp(`^'(?=${runs})`)];
const afterMark = new RegExp(`([;|\\t]\\s*)(?=${runsAfter})`, 'g');
const markedAfter = new RegExp(`([;|\\t]\\s*)'(?=${runsAfter})`, 'g');

/**
 * A cell that a spreadsheet would take for a formula gets an apostrophe in front. Common practice against CSV
 * injection (OWASP): cells that begin with = + - @, a tab or a return; and their full-width forms, which some programs
 * read as the plain ones. So does what follows a semicolon, a bar or a tab within a cell, since a program that takes one
 * of these for the separator begins a cell there. Numbers stay numbers.
 */
export const harmless = (text: string): string =>
  /^-?\d+(\.\d+)?$/.test(text) ? text : `${begins.test(text) ? "'" : ''}${text.replace(afterMark, "$1'")}`;

/** What `harmless` was made from: a file that Sheaf wrote comes back as it was. */
export const asItWas = (cell: string): string =>
  cell.includes("'") ? cell.replace(markedAfter, '$1').replace(began, '') : cell;

/** With a byte-order mark, since spreadsheets else take UTF-8 for another encoding. */
export function writeCsv(header: string[], rows: Iterable<readonly (string | number | null)[]>): Uint8Array {
  const cell = (value: string | number | null): string => {
    const text = typeof value === 'string' ? harmless(value) : value === null ? '' : String(value);
    return /[",\r\n]/.test(text) || text !== text.trim() ? `"${text.replaceAll('"', '""')}"` : text;
  };
  let out = `\ufeff${header.map(cell).join(',')}\r\n`;
  for (const row of rows) out += `${row.map(cell).join(',')}\r\n`;
  return new TextEncoder().encode(out);
}
