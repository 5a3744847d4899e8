/**
 * One CSV file of a bundle, kept as bytes with the offsets of its records: a district's enrollments are hundreds of
 * thousands of lines, most of which nobody needs parsed. Written again, it is what it was.
 */
import Papa from 'papaparse';

export class RosterTable {
  readonly header: string[];
  /** Where each record below the header starts, and the end of the last one. */
  private readonly starts: Int32Array;
  readonly count: number;
  /** One line a record: the header is the first. */
  private readonly plain: boolean;
  private readonly words: DataView;
  /** The line of a quotation mark that takes all that follows into one cell; null: there is none. */
  readonly openQuote: number | null;

  constructor(readonly bytes: Uint8Array) {
    this.words = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const { starts, count, plain, open } = recordStarts(bytes);
    this.openQuote = open === null ? null : 1 + newlines(bytes, 0, open);
    this.starts = starts;
    this.plain = plain;
    this.count = Math.max(0, count - 1);
    this.header = count > 0 ? parseRecord(this.textAt(-1)).map((name) => name.replace(/^\ufeff/, '').trim()) : [];
  }

  /** First byte of record `i` and the one after its last, line end left out; -1 is the header. */
  span(i: number): [from: number, to: number] {
    const from = this.starts[i + 1]!;
    let to = this.starts[i + 2]!;
    while (to > from && (this.bytes[to - 1] === 10 || this.bytes[to - 1] === 13)) to--;
    return [from, to];
  }

  /** Whether record `i` is to the byte record `j` of another table, line ends counted in. */
  isSame(i: number, other: RosterTable, j: number): boolean {
    const { bytes, starts, words } = this;
    const there = other.words;
    let at = starts[i + 1]!;
    let to = other.starts[j + 1]!;
    const end = starts[i + 2]!;
    if (end - at !== other.starts[j + 2]! - to) return false;
    // Four bytes at once: three times as quick.
    for (; at + 4 <= end; at += 4, to += 4) if (words.getInt32(at) !== there.getInt32(to)) return false;
    while (at < end) if (bytes[at++] !== other.bytes[to++]) return false;
    return true;
  }

  private textAt(i: number): string {
    const [from, to] = this.span(i);
    return decoder.decode(this.bytes.subarray(from, to));
  }

  cells(i: number): string[] {
    return parseRecord(this.textAt(i));
  }

  /** Index of a field's column; -1 if the file lacks it. */
  column(name: string): number {
    return this.header.indexOf(name);
  }

  /** Where `find` found a cell: its first byte, and the one after its last. */
  private from = 0;
  private to = 0;
  /** Looks for one cell of record `i`; false where quotes stand before its end. A cell that is not there is empty. */
  private find(i: number, column: number): boolean {
    const { bytes, starts } = this;
    const end = starts[i + 2]!;
    let from = starts[i + 1]!;
    let left = column;
    let to = from;
    for (; to < end; to++) {
      const byte = bytes[to];
      if (byte === 34) return false;
      if (byte === 10 || byte === 13) break;
      if (byte !== 44) continue;
      if (left-- === 0) break;
      from = to + 1;
    }
    this.from = left > 0 ? to : from;
    this.to = to;
    return true;
  }

  /** One cell of record `i`, without taking the rest of it apart; '' where there is no such column. */
  value(i: number, column: number): string {
    if (column < 0) return '';
    if (!this.find(i, column)) return this.cells(i)[column] ?? '';
    return decoder.decode(this.bytes.subarray(this.from, this.to));
  }

  /** Indexes of the records that have one of these values in the column; most others are passed over as bytes. */
  having(column: number, wanted: ReadonlySet<string>): number[] {
    if (column < 0 || wanted.size === 0) return [];
    // A place for each value by its hash, sixteen times as many as there are values, so that few others meet one.
    const mask = (1 << Math.ceil(Math.log2(wanted.size * 16))) - 1;
    const places = new Uint8Array(mask + 1);
    for (const value of wanted) {
      const bytes = encoder.encode(value);
      places[hashOf(bytes, 0, bytes.length) & mask] = 1;
    }
    const found: number[] = [];
    for (let i = 0; i < this.count; i++) {
      const plain = this.find(i, column);
      if (plain && places[hashOf(this.bytes, this.from, this.to) & mask] === 0) continue;
      if (wanted.has(this.value(i, column))) found.push(i);
    }
    return found;
  }

  /** The same file with other cells in some records, by index; all others stay to the byte. */
  with(records: ReadonlyMap<number, string[]>): RosterTable {
    const parts: Uint8Array[] = [];
    let at = 0;
    for (const [i, cells] of [...records].sort(([one], [other]) => one - other)) {
      const [from, to] = this.span(i);
      parts.push(this.bytes.subarray(at, from), encoder.encode(writeRecord(cells)));
      at = to;
    }
    parts.push(this.bytes.subarray(at));
    const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
    let put = 0;
    for (const part of parts) {
      bytes.set(part, put);
      put += part.length;
    }
    return new RosterTable(bytes);
  }

  private lines: Int32Array | null = null;
  /** The line where record `i` starts, counted from 1. */
  lineOf(i: number): number {
    if (this.plain) return i + 2;
    if (!this.lines) {
      this.lines = new Int32Array(this.count);
      let line = 1 + newlines(this.bytes, 0, this.starts[1] ?? 0);
      for (let k = 0; k < this.count; k++) {
        this.lines[k] = line;
        line += newlines(this.bytes, this.starts[k + 1]!, this.starts[k + 2]!);
      }
    }
    return this.lines[i]!;
  }

  /** Calls `use` with one cell of each record; the rest is not taken apart. */
  values(column: number, use: (value: string, index: number) => void): void {
    for (let i = 0; i < this.count; i++) use(this.value(i, column), i);
  }

  /** Calls `row` for each record with its cells; `line` is where it starts, counted from 1. */
  each(row: (cells: string[], line: number, index: number) => void): void {
    for (let i = 0; i < this.count; i++) row(this.cells(i), this.lineOf(i), i);
  }
}

const decoder = new TextDecoder('utf-8', { ignoreBOM: true });
const encoder = new TextEncoder();

/** A number of 32 bits for these bytes: FNV-1a, its bits mixed once more. */
export function hashOf(bytes: Uint8Array, from: number, to: number): number {
  let hash = 0x811c9dc5;
  for (let i = from; i < to; i++) hash = Math.imul(hash ^ bytes[i]!, 0x01000193);
  hash ^= hash >>> 15;
  hash = Math.imul(hash, 0x2c1b3c6d);
  return hash ^ (hash >>> 12);
}

/** Most records hold no quotes at all. */
function parseRecord(text: string): string[] {
  if (!text.includes('"')) return text.split(',');
  return Papa.parse<string[]>(text, { delimiter: ',' }).data[0] ?? [''];
}

function newlines(bytes: Uint8Array, from: number, to: number): number {
  let count = 0;
  for (let i = bytes.indexOf(10, from); i >= 0 && i < to; i = bytes.indexOf(10, i + 1)) count++;
  return count;
}

/** Offsets of all records, blank lines left out; line ends within quotes do not end a record. */
function recordStarts(bytes: Uint8Array): {
  starts: Int32Array;
  count: number;
  plain: boolean;
  open: number | null;
} {
  let starts = new Int32Array(1 << 12);
  let count = 0;
  const note = (at: number) => {
    if (count + 1 >= starts.length) {
      const wider = new Int32Array(starts.length * 2);
      wider.set(starts);
      starts = wider;
    }
    starts[count++] = at;
  };
  const { length } = bytes;
  let at = 0;
  const quoted = bytes.includes(34);
  let plain = !quoted;
  let open: number | null = null;
  while (at < length) {
    let end = bytes.indexOf(10, at);
    if (end < 0) end = length;
    if (quoted) {
      let quotes = countQuotes(bytes, at, end);
      const first = end;
      while (quotes % 2 === 1 && end < length) {
        const next = bytes.indexOf(10, end + 1);
        const to = next < 0 ? length : next;
        quotes += countQuotes(bytes, end, to);
        end = to;
      }
      if (quotes % 2 === 1 && end > first + 1) open = at;
    }
    if (end > at && !(end === at + 1 && bytes[at] === 13)) note(at);
    else plain = false;
    at = end + 1;
  }
  starts[count] = length;
  return { starts, count, plain, open };
}

function countQuotes(bytes: Uint8Array, from: number, to: number): number {
  let count = 0;
  for (let i = from; i < to; i++) if (bytes[i] === 34) count++;
  return count;
}

/** RFC 4180: quotes where a cell needs them. */
const writeRecord = (cells: string[]): string =>
  cells.map((text) => (/[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)).join(',');

/** RFC 4180: CRLF between records. */
export const writeTable = (header: string[], rows: Iterable<string[]>): Uint8Array => {
  let out = `${writeRecord(header)}\r\n`;
  for (const row of rows) out += `${writeRecord(row)}\r\n`;
  return encoder.encode(out);
};
