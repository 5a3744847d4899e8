/**
 * Usernames from a pattern, written out in plain ASCII. A username once given to somebody is never given to
 * anybody else, whether its account still exists or not; the same person may have the same one back.
 */
import { say } from '#core/messages/say';
import { squash } from '#core/names/index';

export interface UsernameFacts {
  givenName: string;
  middleName: string;
  familyName: string;
  number: string;
}

/** RFC 5321, 4.5.3.1.1: the local part of an address has 64 octets at most. */
export const localPartMost = 64;

/** Parts of a pattern: {given}, {family}, {middle}, {number}; {given:1} takes so many letters from the left, {number:-2} from the right. */
const part = /\{(given|middle|family|number)(?::(-?\d+))?\}/g;

/** Words for what is wrong with a pattern; null when nothing is. */
export function patternError(pattern: string): string | null {
  const rest = pattern.replace(part, '');
  if (!/\{(given|family|number)/.test(pattern)) return say('accounts.thePatternNeedsOr');
  if (/[{}]/.test(rest)) return say('accounts.aPartMustBeOne');
  if (/:-?0+\}/.test(pattern)) return say('accounts.aLetterCountMustBe');
  return /^[a-z0-9._-]*$/.test(rest) ? null : say('accounts.betweenThePartsUseLowercase');
}

/** The username that the pattern makes of a person, before clashes: 1 to 64 characters of a-z 0-9 . _ - */
export function usernameOf(pattern: string, facts: UsernameFacts): string {
  const made = pattern.replace(part, (_, name: string, count?: string) => {
    const value = squash(
      { given: facts.givenName, middle: facts.middleName, family: facts.familyName, number: facts.number }[name] ?? '',
    );
    if (count === undefined) return value;
    return Number(count) < 0 ? value.slice(Number(count)) : value.slice(0, Number(count));
  });
  return made.replace(/^[._-]+|[._-]+$/g, '').slice(0, localPartMost) || 'user';
}

/**
 * Hands out usernames one after the other. `given` is every username ever given, with whose it is: the key by
 * which the same person is known again. `held` are those that an account has: two people can have one key, and only
 * a username that nobody holds comes back. Clashes get the smallest free number from 2 on, within 64 characters.
 */
export class UsernameGiver {
  private readonly nextSuffix = new Map<string, number>();
  private readonly held: Set<string>;
  constructor(
    private readonly pattern: string,
    private readonly given: Map<string, string>,
    held: Iterable<string> = [],
  ) {
    this.held = new Set(held);
  }

  /** `pattern`: another one than the usual, as a school may have its own. */
  give(facts: UsernameFacts, key: string, pattern = this.pattern): string {
    const base = usernameOf(pattern, facts);
    let candidate = base;
    let suffix = 1;
    while (this.held.has(candidate) || (this.given.has(candidate) && this.given.get(candidate) !== key)) {
      // Below the remembered suffix all are taken; one of them may still be this very person's.
      suffix++;
      const next = this.nextSuffix.get(base) ?? 2;
      if (suffix < next && this.given.get(withSuffix(base, suffix)) !== key) continue;
      candidate = withSuffix(base, suffix);
      this.nextSuffix.set(base, Math.max(next, suffix + 1));
    }
    this.given.set(candidate, key);
    this.held.add(candidate);
    return candidate;
  }
}

const withSuffix = (base: string, suffix: number): string => {
  const digits = String(suffix);
  return base.slice(0, localPartMost - digits.length) + digits;
};

/** Counts how many people a pattern alone would give the same username as another of them; added one by one. */
export class Clashes {
  private readonly counts = new Map<string, number>();
  constructor(private readonly pattern: string) {}

  add(one: UsernameFacts): void {
    const name = usernameOf(this.pattern, one);
    this.counts.set(name, (this.counts.get(name) ?? 0) + 1);
  }

  get count(): number {
    let count = 0;
    for (const n of this.counts.values()) if (n > 1) count += n;
    return count;
  }
}
