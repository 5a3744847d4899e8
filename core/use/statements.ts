/**
 * Statements of the open xAPI 1.0.3 (ADL, "Experience API", part two) as records of use. Who is an account's name or a
 * mail address; time is the result's duration; what is finished is said by the verb or by `completion`; a level is a
 * score of an activity that is an objective. What a statement says beyond that is not kept.
 */
import { bandOf, type UseRecord } from './record';

export interface Statement {
  id?: string;
  actor: { account?: { homePage?: string; name: string }; mbox?: string; objectType?: string };
  verb: { id: string };
  object: {
    id: string;
    objectType?: string;
    definition?: { type?: string; name?: Record<string, string> };
  };
  result?: {
    completion?: boolean;
    duration?: string;
    score?: { scaled?: number; raw?: number; min?: number; max?: number };
  };
  timestamp?: string;
}

/** Activity type of a skill, from ADL's vocabulary. */
export const objective = 'http://adlnet.gov/expapi/activities/objective';
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

function shareOf(score: NonNullable<NonNullable<Statement['result']>['score']>): number | null {
  const { scaled, raw, min = 0, max } = score;
  const share = scaled ?? (raw !== undefined && max !== undefined && max > min ? (raw - min) / (max - min) : null);
  return share === null ? null : Math.min(1, Math.max(0, share));
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
  const names = Object.values(object.definition?.name ?? {});
  return {
    who,
    at,
    seconds: Math.round(seconds),
    address: isSkill ? null : object.id,
    finished: !isSkill && (result?.completion ?? finishing.has(verb.id)),
    share,
    level: isSkill && share !== null ? { skill: names[0] ?? object.id, band: bandOf(share) } : null,
  };
}
