/** How much a field of two people agrees, in a word and in full. */
import type { MessageKey } from '#core/messages/index';
import { t } from '@/words';

type PairKey<K = MessageKey> = K extends `pairs.${infer Name}` ? Name : never;
/** By the level that the comparison found, see core/identity. */
const levels: Record<string, readonly [word: PairKey, full: PairKey]> = {
  'same, rare': ['levelAgrees', 'rareValue'],
  'same, usual': ['levelAgrees', 'usualValue'],
  'same, common': ['levelAgrees', 'commonValue'],
  'same, used by many': ['levelAgrees', 'usedByMany'],
  same: ['levelAgrees', 'sameValue'],
  nearly: ['levelSimilar', 'nearlySame'],
  'another form': ['levelSimilar', 'anotherForm'],
  'in part': ['levelSimilar', 'inPart'],
  'names swapped': ['levelSimilar', 'namesSwapped'],
  'day and month swapped': ['levelSimilar', 'dayAndMonthSwapped'],
  'one digit off': ['levelSimilar', 'oneDigitOff'],
  'two parts same': ['levelSimilar', 'twoPartsSame'],
  'same year': ['levelSimilar', 'sameYear'],
  'moved on by one': ['levelSimilar', 'oneGradeOn'],
  'as most': ['levelAgrees', 'asMost'],
  'as some': ['levelSimilar', 'asSome'],
  'as a sibling': ['levelSimilar', 'asSibling'],
  'as few': ['levelDiffers', 'asFew'],
  different: ['levelDiffers', 'differentValue'],
  other: ['levelDiffers', 'otherGrade'],
};

export const levelWord = (level: string): string => (levels[level] ? t(`pairs.${levels[level][0]}`) : '');
export const levelInFull = (level: string): string => (levels[level] ? t(`pairs.${levels[level][1]}`) : '');
