/**
 * What a plan does, told as people would: whom it adds, moves, lets leave. Changes of one person belong together (a
 * new student's place, account and enrollment are not counted apart), so each person is told once, by the most that
 * happens to them.
 */
import { type Change, counted } from '#core/plan/index';

const bit = {
  made: 1,
  gone: 2,
  left: 4,
  back: 8,
  placeBegins: 16,
  placeEnds: 32,
  classBegins: 64,
  classEnds: 128,
  edited: 256,
  secret: 512,
  account: 1024,
  groupBegins: 2048,
  groupEnds: 4096,
  seatBegins: 8192,
  seatEnds: 16384,
  loanBegins: 32768,
  loanEnds: 65536,
  gradeEnds: 131072,
};

/** What one change is about, as one of the bits; 0 for classes and schools, which are counted themselves. */
function bitOf({ entity, op, before, after }: Change): number {
  const begins = op === 'create' || op === 'restore';
  const ends = op === 'end' || op === 'purge';
  switch (entity) {
    case 'person':
      if (op === 'create') return bit.made;
      if (op === 'purge') return bit.gone;
      if (after.status === 'left') return bit.left;
      return before.status === 'left' ? bit.back : bit.edited;
    case 'affiliation':
      // A place that ends for the next grade says which grade it was.
      if (op === 'end' && 'grade' in before) return bit.gradeEnds;
      return begins ? bit.placeBegins : ends ? bit.placeEnds : bit.edited;
    case 'enrollment':
      return begins ? bit.classBegins : ends ? bit.classEnds : bit.edited;
    case 'membership':
      return begins ? bit.groupBegins : ends ? bit.groupEnds : bit.edited;
    case 'seat':
      return begins ? bit.seatBegins : ends || 'ends' in after ? bit.seatEnds : bit.edited;
    case 'loan':
      return begins ? bit.loanBegins : ends ? bit.loanEnds : bit.edited;
    case 'account':
      return 'secretVersion' in after && op === 'update' ? bit.secret : bit.account;
    default:
      return 0;
  }
}

const has = (bits: number, ...all: number[]): boolean => all.every((one) => (bits & one) !== 0);

/** Tellings in their order; the first that fits a person is theirs. `%` stands for "12 people". */
const tellings: [fits: (bits: number) => boolean, text: string][] = [
  [(b) => has(b, bit.made), 'adds %'],
  [(b) => has(b, bit.gone), 'removes %'],
  [(b) => has(b, bit.left), 'lets % leave'],
  [(b) => has(b, bit.back), 'takes % back'],
  [(b) => has(b, bit.placeBegins, bit.gradeEnds), 'moves % up a grade'],
  [(b) => has(b, bit.placeBegins, bit.placeEnds), 'moves % to another school'],
  [(b) => has(b, bit.classBegins, bit.classEnds), 'moves % to another class'],
  [(b) => has(b, bit.placeBegins), 'gives % a school'],
  [(b) => has(b, bit.placeEnds), 'ends the school of %'],
  [(b) => has(b, bit.classBegins), 'enrolls %'],
  [(b) => has(b, bit.classEnds), 'ends enrollments of %'],
  [(b) => has(b, bit.groupBegins), 'puts % into a group'],
  [(b) => has(b, bit.groupEnds), 'takes % out of a group'],
  [(b) => has(b, bit.seatBegins, bit.seatEnds), 'moves the seat of %'],
  [(b) => has(b, bit.seatBegins), 'gives a seat to %'],
  [(b) => has(b, bit.seatEnds), 'takes a seat back from %'],
  [(b) => has(b, bit.loanBegins, bit.loanEnds), 'gives another device to %'],
  [(b) => has(b, bit.loanBegins), 'gives a device to %'],
  [(b) => has(b, bit.loanEnds), 'takes a device back from %'],
  [(b) => has(b, bit.edited), 'changes the record of %'],
  [(b) => has(b, bit.secret), 'gives % a new secret'],
  [() => true, 'changes the account of %'],
];

const things: Record<string, [one: string, many: string]> = {
  class: ['class', 'classes'],
  school: ['school', 'schools'],
  year: ['school year', 'school years'],
  dayOff: ['day off', 'days off'],
  rule: ['rule of entitlement', 'rules of entitlement'],
  material: ['material', 'materials'],
  work: ['piece of set work', 'pieces of set work'],
  assignee: ['child who is to do it', 'children who are to do it'],
  booking: ['booking of a cart', 'bookings of carts'],
  directory: ['entry of the directory', 'entries of the directory'],
};
const verbs = { create: 'adds', purge: 'removes', update: 'changes', end: 'ends', restore: 'restores' } as const;

export class Story {
  private readonly people = new Map<string, number>();
  private readonly others = new Map<string, number>();

  add(change: Change): void {
    const one = bitOf(change);
    if (one > 0) this.people.set(change.subject, (this.people.get(change.subject) ?? 0) | one);
    else {
      const key = `${change.op}:${change.entity}`;
      this.others.set(key, (this.others.get(key) ?? 0) + 1);
    }
  }

  /** "Adds 8 people and 1 class; moves 37 people to another class." A plan without changes: "Changes nothing." */
  get sentence(): string {
    const counts = tellings.map(() => 0);
    for (const bits of this.people.values()) counts[tellings.findIndex(([fits]) => fits(bits))]!++;
    const parts = tellings.flatMap(([, text], i) =>
      counts[i] ? [text.replace('%', counted(counts[i], ['person', 'people']))] : [],
    );
    for (const [key, count] of this.others) {
      const [op, entity] = key.split(':') as [Change['op'], string];
      const what = counted(count, things[entity] ?? [entity, `${entity}s`]);
      const same = parts.findIndex((part) => part.startsWith(verbs[op]) && /^\w+ [\d,]+ /.test(part));
      if (same >= 0)
        parts[same] = parts[same]!.includes(' and ')
          ? parts[same]!.replace(' and ', ', ').concat(` and ${what}`)
          : `${parts[same]} and ${what}`;
      else parts.push(`${verbs[op]} ${what}`);
    }
    const text = parts.join('; ');
    return text === '' ? 'Changes nothing.' : `${text[0]!.toUpperCase()}${text.slice(1)}.`;
  }
}

export function tell(changes: Iterable<Change>): string {
  const story = new Story();
  for (const change of changes) story.add(change);
  return story.sentence;
}
