/** Whether a name in a file says more than the name on record. */
import { fold } from './index';

/** Initials for words of the name: "O.", "Ana M". */
function isInitialsOf(said: string, onRecord: string): boolean {
  const [short, full] = [fold(said).split(' '), fold(onRecord).split(' ')];
  return (
    short.length === full.length &&
    short.some(({ length }, i) => length === 1 && full[i]!.length > 1) &&
    short.every((word, i) => word === full[i] || (word.length === 1 && full[i]!.startsWith(word)))
  );
}

/**
 * A name in capitals, as initials, or with accents lost that a file's encoding could not carry, says nothing against the
 * name on record.
 */
export function saysNothingNew(said: string, onRecord: string | null): boolean {
  if (onRecord === null) return false;
  if (isInitialsOf(said, onRecord)) return true;
  if (fold(said) !== fold(onRecord)) return false;
  if (said === said.toUpperCase() || /^[\x20-\x7e]*$/.test(said)) return true;
  const [now, before] = [[...said], [...onRecord]];
  return (
    now.length === before.length &&
    now.every((char, i) => char === before[i] || char.toLowerCase() === fold(before[i]!))
  );
}
