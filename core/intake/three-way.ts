/**
 * Three ways to a value: what the feed said last time, what it says now, what is on record. A correction made by
 * hand stays while the feed repeats itself; when the feed says something new against it, a person is asked and
 * nothing is overwritten. Only where the record is still what the feed said, the feed's news are taken over.
 */

/** What a row said, by field: those of a person, and grade, className, school. */
export type Said = Partial<Record<string, string | null>>;

/** What the feed said last time; and where a person put that right before it was taken over, what they put. */
export interface SaidBefore {
  said: Said;
  mended?: Said;
}

/** Take over what the feed says, or leave the record as it is. */
export type Choice = 'feed' | 'record';

export interface Ask {
  line: number;
  personId: string;
  label: string;
  field: string;
  /** What the feed said last time. */
  before: string | null;
  now: string;
  record: string | null;
  /** The answer, once there is one; until then the record stays. */
  choice: Choice | null;
}

export interface Case {
  line: number;
  personId: string;
  label: string;
  before: SaidBefore | null;
  kept: readonly string[];
  choices: Record<string, Choice>;
}

export class ThreeWay {
  readonly asks: Ask[] = [];
  private readonly left = new Set<string>();
  constructor(private readonly about: Case) {}

  /** True if the record's value gives way to `now`, which differs from it. */
  takes(field: string, now: string, record: string | null): boolean {
    const take = this.decide(field, now, record);
    if (!take) this.left.add(field);
    return take;
  }

  /** True if the feed said something of the field and the record was kept against it. */
  stays(field: string): boolean {
    return this.left.has(field);
  }

  private decide(field: string, now: string, record: string | null): boolean {
    const { before: last, kept, choices, line, personId, label } = this.about;
    if (kept.includes(field) && record !== null && record !== '') return false;
    if (last === null) return true;
    const before = last.said[field] ?? null;
    const mended = last.mended?.[field];
    if (before === now || mended === now) return false;
    // What a person put in the file is a correction too.
    const corrected = mended !== undefined && mended === record;
    if (!corrected && (before === record || before === null || before === '')) return true;
    const choice = choices[field] ?? null;
    this.asks.push({ line, personId, label, field, before, now, record, choice });
    return choice === 'feed';
  }
}
