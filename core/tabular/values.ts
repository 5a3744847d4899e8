/**
 * Values in the cells of a list of people: dates in whatever order, grades in whatever words. Parsers return null
 * for what they cannot read and never guess beyond what they are told.
 */
/** `serial`: days since 1899-12-30, as spreadsheets count them. */
export type DateOrder = 'ymd' | 'dmy' | 'mdy' | 'serial';
export const dateOrders: DateOrder[] = ['ymd', 'dmy', 'mdy', 'serial'];

const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/**
 * yyyy-mm-dd, or null if there is no such day or the text is no date in this order. Year, month, day with a year of
 * four digits can be nothing else and reads in every order.
 */
export function readDate(text: string, order: DateOrder): string | null {
  if (order === 'serial' && /^\s*\d{4,5}(?:\.0+)?\s*$/.test(text)) return serialDate(Number(text));
  const parts = text
    .trim()
    .match(/^(\d{1,4}|\p{L}{3,})[\s./-]+(\d{1,2}|\p{L}{3,})[\s.,/-]+(\d{1,4})(?:[T ]0?0:00(?::00(?:\.0+)?)?)?$/u);
  if (!parts) {
    const compact = text.trim().match(/^(\d{4})(\d{2})(\d{2})$/);
    return compact && compact[1]! > '1900' && compact[1]! < '2100'
      ? iso(Number(compact[1]), Number(compact[2]), Number(compact[3]))
      : null;
  }
  const [, a, b, c] = parts as unknown as [string, string, string, string];
  const word = (s: string) => {
    const index = months.indexOf(s.slice(0, 3).toLowerCase());
    return index < 0 ? null : index + 1;
  };
  if (/\D/.test(a)) return word(a) === null ? null : iso(year(c), word(a)!, Number(b));
  if (/\D/.test(b)) return word(b) === null ? null : iso(year(c), word(b)!, Number(a));
  if (a.length === 4) return c.length <= 2 ? iso(Number(a), Number(b), Number(c)) : null;
  if (order === 'ymd' || order === 'serial') return null;
  if (c.length !== 4 && c.length !== 2) return null;
  return order === 'dmy' ? iso(year(c), Number(b), Number(a)) : iso(year(c), Number(a), Number(b));
}

/** Day 1 is 1900-01-01, with the day 1900-02-29 that never was: common practice of spreadsheets. Null outside of 1927 to 2050. */
function serialDate(days: number): string | null {
  if (days < 10_000 || days > 55_000) return null;
  return new Date(Date.UTC(1899, 11, 30) + Math.floor(days) * 86_400_000).toISOString().slice(0, 10);
}

/** The same digits as a date that no calendar may have ("2014-02-31"), for comparing; null if they are no three numbers. */
export function dateAsWritten(text: string, order: DateOrder): string | null {
  const parts = text.trim().match(/^(\d{1,4})[\s./-]+(\d{1,2})[\s./-]+(\d{1,4})/);
  if (!parts) return null;
  const [, a, b, c] = parts as unknown as [string, string, string, string];
  const [y, m, d] = a.length === 4 ? [a, b, c] : order === 'mdy' ? [c, a, b] : [c, b, a];
  return `${year(y)}-${m.padStart(2, '0')}-${d.padStart(2, '0')}`;
}

/** Two digits: 00 to 39 are of this century. Nobody in a school's list was born before 1940 or after 2039. */
const year = (text: string): number =>
  text.length === 2 ? Number(text) + (Number(text) < 40 ? 2000 : 1900) : Number(text);

function iso(y: number, m: number, d: number): string | null {
  if (y < 1000 || m < 1 || m > 12 || d < 1) return null;
  const days =
    m === 2 ? (y % 4 === 0 && (y % 100 !== 0 || y % 400 === 0) ? 29 : 28) : [4, 6, 9, 11].includes(m) ? 30 : 31;
  if (d > days) return null;
  return `${y}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}`;
}

/** An order of which less is known is asked about. */
export const sureOrder = 0.7;

/**
 * The order that reads the most cells of a column. Cells that read in two orders say nothing between the two: the
 * confidence is the share of those that read in one alone, with half a doubt where they are few, so that three dates of
 * sixty decide. Where day-month and month-day read equally many, dots and hyphens speak for day-month and nothing speaks
 * for certain: the confidence is 0.5.
 */
export function guessDateOrder(cells: string[]): { order: DateOrder; confidence: number } {
  const filled = cells.filter((cell) => cell.trim() !== '');
  const read = new Map(dateOrders.map((order) => [order, filled.map((cell) => readDate(cell, order) !== null)]));
  const count = (order: DateOrder) => read.get(order)!.filter(Boolean).length;
  const [first, second] = [...dateOrders].sort((a, b) => count(b) - count(a)) as [DateOrder, DateOrder];
  const most = count(first);
  if (most === 0) return { order: 'ymd', confidence: 0 };
  // Dates that read in any order decide nothing between those that need one.
  const undecided = dateOrders.every((order) => count(order) === most || order === 'serial');
  if (undecided) return { order: 'ymd', confidence: 0.99 };
  if (most > count(second)) {
    const alone = (one: DateOrder, other: DateOrder) =>
      read.get(one)!.filter((is, i) => is && !read.get(other)![i]).length;
    const [by, against] = [alone(first, second), alone(second, first)];
    return { order: first, confidence: Math.min(0.99, by / (by + against + 0.25)) };
  }
  const dotted = filled.some((cell) => /^\d+[.-]/.test(cell.trim()));
  return {
    order: dotted ? 'dmy' : 'mdy',
    confidence: filled.some((cell) => /^\d+\.\d+\./.test(cell.trim())) ? 0.85 : 0.5,
  };
}

/** A date written in a column's order, for a proposed repair. */
export function writeDate(isoDate: string, order: DateOrder, separator = '/'): string {
  const [y, m, d] = isoDate.split('-') as [string, string, string];
  return { ymd: isoDate, serial: isoDate, dmy: [d, m, y].join(separator), mdy: [m, d, y].join(separator) }[order];
}

/** Grade codes: CEDS grade levels, as the open roster standard uses them (from memory). */
export const grades = [
  'IT',
  'PR',
  'PK',
  'TK',
  'KG',
  '01',
  '02',
  '03',
  '04',
  '05',
  '06',
  '07',
  '08',
  '09',
  '10',
  '11',
  '12',
  '13',
  'PS',
  'UG',
  'Other',
] as const;
export type Grade = (typeof grades)[number];

const gradeWords: Record<string, Grade> = {
  k: 'KG',
  kg: 'KG',
  kindergarten: 'KG',
  kinder: 'KG',
  reception: 'KG',
  r: 'KG',
  pk: 'PK',
  prek: 'PK',
  'pre-k': 'PK',
  preschool: 'PR',
  tk: 'TK',
  ug: 'UG',
  ungraded: 'UG',
  ps: 'PS',
  other: 'Other',
  first: '01',
  second: '02',
  third: '03',
  fourth: '04',
  fifth: '05',
  sixth: '06',
  seventh: '07',
  eighth: '08',
  ninth: '09',
  tenth: '10',
  eleventh: '11',
  twelfth: '12',
  one: '01',
  two: '02',
  three: '03',
  four: '04',
  five: '05',
  six: '06',
  seven: '07',
  eight: '08',
  nine: '09',
  ten: '10',
  eleven: '11',
  twelve: '12',
  i: '01',
  ii: '02',
  iii: '03',
  iv: '04',
  v: '05',
  vi: '06',
  vii: '07',
  viii: '08',
  ix: '09',
  x: '10',
  xi: '11',
  xii: '12',
};

/** "3", "3rd", "Grade 3", "Yr 03", "third", "III", "KG" -> the grade's code; null if it is none. */
export function parseGrade(text: string): Grade | null {
  const word = text
    .trim()
    .toLowerCase()
    .replace(/^(grade|gr|year|yr|class|level)\.?\s*/, '')
    .replace(/\s*(grade|class|year)$/, '');
  const digits = word.match(/^0*(\d{1,2})(?:st|nd|rd|th|\.|\.0+)?$/);
  if (digits) {
    const n = Number(digits[1]);
    return n === 0 ? 'KG' : n <= 13 ? (String(n).padStart(2, '0') as Grade) : null;
  }
  return gradeWords[word] ?? null;
}

/** "03" -> "3", "KG" -> "K": as people say it. */
/** Whether a school has the grade, by its lowest and highest. */
export function hasGrade(grade: string, { lowGrade, highGrade }: { lowGrade: string; highGrade: string }): boolean {
  const rank = (code: string) => (grades as readonly string[]).indexOf(code);
  return rank(grade) >= rank(lowGrade) && rank(grade) <= rank(highGrade);
}

export const gradeLabel = (grade: string | null): string =>
  grade === null ? '—' : grade === 'KG' ? 'K' : grade.replace(/^0/, '');

/** Digits typed as letters: O for 0, l and I for 1. Null if nothing of the kind is there. */
export function lettersToDigits(text: string): string | null {
  if (!/\d/.test(text) || !/[OoIl]/.test(text)) return null;
  return text.replace(/[Oo]/g, '0').replace(/[Il]/g, '1');
}

export type RowRole = 'student' | 'teacher' | 'staff' | 'guardian';
const roleWords: Record<RowRole, string> = {
  student: 'student|pupil|learner|child',
  teacher: 'teacher|instructor|faculty|co teacher|tutor',
  staff: 'staff|administrator|aide|assistant|counselor|principal|employee|secretary|librarian|admin|site administrator',
  guardian: 'guardian|parent|relative|carer|mother|father',
};
const roles = new Map(
  Object.entries(roleWords).flatMap(([role, words]) =>
    words.split('|').map((word) => [word, role as RowRole] as const),
  ),
);

/** Whether a role's word is somebody's who works here. */
export const isStaff = (text: string): boolean => {
  const role = parseRole(text);
  return role !== null && role !== 'student';
};

/** "Pupil", "TEACHERS" -> the role; null if it is none. */
export const parseRole = (text: string): RowRole | null => {
  const word = text
    .toLowerCase()
    .replace(/[^a-z]+/g, ' ')
    .trim();
  return roles.get(word) ?? roles.get(word.replace(/s$/, '')) ?? null;
};
