/** The pairs that were compared, each with the number of its pattern; the patterns with their counts. */
import { block } from './block';
import { Comparer } from './compare';
import { field } from './fields';
import type { Patterns } from './model';
import type { Shared, Side } from './people';

export interface Pairs {
  /** Index on the first side, index on the second, and the pattern's number, pair by pair. */
  left: Int32Array;
  right: Int32Array;
  pattern: Int32Array;
  patterns: Patterns;
}

/** A growing list of integers. */
export class Ints {
  private data = new Int32Array(1 << 12);
  length = 0;
  push(value: number): void {
    if (this.length === this.data.length) {
      const wider = new Int32Array(this.data.length * 2);
      wider.set(this.data);
      this.data = wider;
    }
    this.data[this.length++] = value;
  }
  done(): Int32Array {
    return this.data.subarray(0, this.length);
  }
}

/** Numbers patterns as they come. */
class PatternBook {
  private readonly ids = new Map<number, number>();
  private readonly rows: number[] = [];
  private readonly counts: number[] = [];
  private readonly steps: number[] = [];
  constructor(private readonly sizes: number[]) {
    let step = 1;
    for (const size of sizes) {
      this.steps.push(step);
      step *= size;
    }
  }
  note(levels: Uint8Array): number {
    let code = 0;
    for (let f = 0; f < this.steps.length; f++) code += levels[f]! * this.steps[f]!;
    let id = this.ids.get(code);
    if (id === undefined) {
      id = this.counts.length;
      this.ids.set(code, id);
      this.counts.push(0);
      for (let f = 0; f < this.steps.length; f++) this.rows.push(levels[f]!);
    }
    this.counts[id]!++;
    return id;
  }
  done(): Patterns {
    return { width: this.sizes.length, levels: Uint8Array.from(this.rows), counts: Float64Array.from(this.counts) };
  }
}

/** Blocks and compares; school and class are left out, as their weight is learned from the sure pairs. */
export function compareAll(a: Side, b: Side, words: Shared, comparer: Comparer, most?: number): Pairs {
  const [left, right, pattern] = [new Ints(), new Ints(), new Ints()];
  const book = new PatternBook(comparer.levelCounts);
  const levels = new Uint8Array(comparer.levelCounts.length);
  block(
    a,
    b,
    words,
    (i, j) => {
      comparer.compare(i, j, levels);
      left.push(i);
      right.push(j);
      pattern.push(book.note(levels));
    },
    most,
  );
  return { left: left.done(), right: right.done(), pattern: pattern.done(), patterns: book.done() };
}

/** The same pairs with the levels of school and class put in. */
export function withPlaces(
  pairs: Pairs,
  comparer: Comparer,
  school: (e: number) => number,
  klass: (e: number) => number,
): Pairs {
  const book = new PatternBook(comparer.levelCounts);
  const { width, levels: before } = pairs.patterns;
  const levels = new Uint8Array(width);
  const pattern = pairs.pattern.map((p, e) => {
    for (let f = 0; f < width; f++) levels[f] = before[p * width + f]!;
    levels[field.school] = school(e);
    levels[field.class] = klass(e);
    return book.note(levels);
  });
  return { ...pairs, pattern, patterns: book.done() };
}
