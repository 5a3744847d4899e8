/**
 * What a plan does, told as people would: whom it adds, moves, lets leave. Changes of one person belong together (a
 * new student's place, account and enrollment are not counted apart), so each person is told once, by the most that
 * happens to them.
 */
import type { MessageKey } from '#core/messages/index';
import { say } from '#core/messages/say';
import type { Change } from '#core/plan/index';

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
  gradeBack: 262144,
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
      if (op === 'restore' && 'grade' in after) return bit.gradeBack;
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

/** Tellings in their order; the first that fits a person is theirs. */
const tellings: [fits: (bits: number) => boolean, key: MessageKey][] = [
  [(b) => has(b, bit.made), 'plan.adds'],
  [(b) => has(b, bit.gone), 'plan.deletes'],
  [(b) => has(b, bit.left), 'plan.withdraws'],
  [(b) => has(b, bit.back), 'plan.reenrolls'],
  [(b) => has(b, bit.placeBegins, bit.gradeEnds), 'plan.promotes'],
  [(b) => has(b, bit.gradeBack, bit.placeEnds), 'plan.demotes'],
  [(b) => has(b, bit.placeBegins, bit.placeEnds), 'plan.transfers'],
  [(b) => has(b, bit.classBegins, bit.classEnds), 'plan.changesClass'],
  [(b) => has(b, bit.placeBegins) || has(b, bit.gradeBack), 'plan.assignsSchool'],
  [(b) => has(b, bit.placeEnds) || has(b, bit.gradeEnds), 'plan.removesFromSchool'],
  [(b) => has(b, bit.classBegins), 'plan.enrolls'],
  [(b) => has(b, bit.classEnds), 'plan.endsEnrollments'],
  [(b) => has(b, bit.groupBegins), 'plan.addsToGroup'],
  [(b) => has(b, bit.groupEnds), 'plan.removesFromGroup'],
  [(b) => has(b, bit.seatBegins, bit.seatEnds), 'plan.movesSeats'],
  [(b) => has(b, bit.seatBegins), 'plan.assignsSeats'],
  [(b) => has(b, bit.seatEnds), 'plan.takesSeats'],
  [(b) => has(b, bit.loanBegins, bit.loanEnds), 'plan.swapsDevices'],
  [(b) => has(b, bit.loanBegins), 'plan.assignsDevices'],
  [(b) => has(b, bit.loanEnds), 'plan.collectsDevices'],
  [(b) => has(b, bit.edited), 'plan.changesRecords'],
  [(b) => has(b, bit.secret), 'plan.changesPasswords'],
  [() => true, 'plan.changesAccounts'],
];
/** What happens to what is counted itself, as a list. */
const listed: Record<Change['op'], MessageKey> = {
  create: 'plan.adds',
  purge: 'plan.deletes',
  update: 'plan.changesThings',
  end: 'plan.ends',
  restore: 'plan.restores',
};
const lists = new Set(Object.values(listed));
const countOf = (entity: string, n: number): string => say('plan.count', { entity, n });

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

  /** "Adds 8 people and 1 class. Moves 37 people to another class." A plan without changes: "Changes nothing." */
  get sentence(): string {
    const counts = tellings.map(() => 0);
    for (const bits of this.people.values()) counts[tellings.findIndex(([fits]) => fits(bits))]!++;
    /** Those that count people alone are told a number, the others a list of what they count. */
    const told = new Map<MessageKey, number | string[]>();
    for (const [i, [, key]] of tellings.entries())
      if (counts[i]) told.set(key, lists.has(key) ? [countOf('person', counts[i])] : counts[i]);
    for (const [key, count] of this.others) {
      const [op, entity] = key.split(':') as [Change['op'], string];
      const list = (told.get(listed[op]) ?? []) as string[];
      told.set(listed[op], [...list, countOf(entity, count)]);
    }
    if (told.size === 0) return say('plan.changesNothing');
    return [...told].map(([key, what]) => say(key, typeof what === 'number' ? { n: what } : { what })).join(' ');
  }
}

export function tell(changes: Iterable<Change>): string {
  const story = new Story();
  for (const change of changes) story.add(change);
  return story.sentence;
}
