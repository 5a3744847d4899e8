/**
 * Where somebody wanted to go before they had to sign in; they get there afterwards, by whichever way they sign in. What
 * one person's session left behind is not where the next one goes.
 */
const key = 'sheaf-after';
interface Wish {
  to: string;
  /** It was asked for before anybody was signed in. */
  isAnyones: boolean;
}
const kept = (): Wish | null => {
  const text = sessionStorage.getItem(key);
  return text === null ? null : (JSON.parse(text) as Wish);
};

export function wish(to: string, isAnyones: boolean): void {
  if (to !== '/') sessionStorage.setItem(key, JSON.stringify({ to, isAnyones } satisfies Wish));
}

/** It is given once. */
export function wished(): string | null {
  const one = kept();
  sessionStorage.removeItem(key);
  return one?.to ?? null;
}

/** Empties the store of this tab; what anyone may have asked for stays. */
export function forgetSession(): void {
  const one = kept();
  sessionStorage.clear();
  if (one?.isAnyones) wish(one.to, true);
}
