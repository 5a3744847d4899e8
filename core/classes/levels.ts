/**
 * Groups of a class by the levels that a product reports: alike, so that each works on what it needs, or mixed, so
 * that each has of all. Sizes differ by one at most.
 */
import { say } from '#core/messages/say';
export interface Leveled {
  id: string;
  label: string;
  /** 1 to 3; null: not reported, which counts as the middle. */
  band: number | null;
}

/** The groups by their members. Throws RangeError for fewer children than groups. */
export function groupsByLevel<T extends Leveled>(children: readonly T[], how: 'alike' | 'mixed', count: number): T[][] {
  if (children.length < count)
    throw new RangeError(say('classes.studentsAreTooFewFor', { count: children.length, groups: count }));
  const sorted = [...children].sort(
    (a, b) => (a.band ?? 2) - (b.band ?? 2) || (a.label < b.label ? -1 : a.label > b.label ? 1 : 0),
  );
  const groups = Array.from({ length: count }, (): T[] => []);
  sorted.forEach((one, i) => groups[how === 'mixed' ? i % count : Math.floor((i * count) / sorted.length)]!.push(one));
  return groups;
}
