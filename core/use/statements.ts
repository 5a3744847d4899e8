/**
 * Statements of the open xAPI 1.0.3 (ADL, "Experience API", part two) as records of use. Who is an account's name or a
 * mail address; time is the result's duration; what is finished is said by the verb or by `completion`; skills and words
 * are said as ./extensions reads them. What a statement says beyond that is not kept.
 */
import { skillsIn, wordsIn } from './extensions';
import { objective, shareOf, type Statement } from './shape';
import type { UseRecord } from './record';

export const verbIri = (verb: string): string => `http://adlnet.gov/expapi/verbs/${verb}`;
const finishing = new Set(['completed', 'passed', 'failed', 'mastered'].map(verbIri));

/**
 * ISO 8601 durations of weeks, days, hours, minutes and seconds, in seconds; null: none of these (years and months have
 * no length of their own).
 */
export function secondsOf(duration: string): number | null {
  const found =
    /^P(?:(\d+(?:\.\d+)?)W)?(?:(\d+(?:\.\d+)?)D)?(?:T(?:(\d+(?:\.\d+)?)H)?(?:(\d+(?:\.\d+)?)M)?(?:(\d+(?:\.\d+)?)S)?)?$/.exec(
      duration,
    );
  if (!found || duration.endsWith('P') || duration.endsWith('T')) return null;
  const lengths = [604_800, 86_400, 3600, 60, 1];
  return lengths.reduce((sum, length, i) => sum + length * Number(found[i + 1] ?? 0), 0);
}

/** `now`: for a statement that does not say when. Throws RangeError, in words, for what cannot be a record. */
export function recordOf(statement: Statement, now: string): UseRecord {
  const { actor, verb, object, result, timestamp } = statement;
  const who = actor.account?.name ?? actor.mbox?.replace(/^mailto:/i, '');
  if (!who) throw new RangeError('actor: it has neither an account’s name nor an mbox, so nobody is meant');
  const at = timestamp === undefined ? now : new Date(timestamp).toISOString();
  const seconds = result?.duration === undefined ? 0 : secondsOf(result.duration);
  if (seconds === null) throw new RangeError(`result.duration: “${result?.duration}” is no duration as in PT12M30S`);
  const share = result?.score ? shareOf(result.score) : null;
  const isSkill = object.definition?.type === objective;
  return {
    who,
    at,
    seconds: Math.round(seconds),
    address: isSkill ? null : object.id,
    finished: !isSkill && (result?.completion ?? finishing.has(verb.id)),
    share,
    levels: skillsIn(statement, share),
    words: wordsIn(statement),
  };
}
