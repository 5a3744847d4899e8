/** What of a statement is looked at (xAPI 1.0.3, part two); all else in it is allowed and left. */

/** By IRI; what they hold is the product's own. */
export type Extensions = Record<string, unknown>;
export interface Activity {
  id: string;
  objectType?: string;
  definition?: {
    type?: string;
    name?: Record<string, string>;
    description?: Record<string, string>;
    extensions?: Extensions;
  };
}
export interface Score {
  scaled?: number;
  raw?: number;
  min?: number;
  max?: number;
}
export interface Statement {
  id?: string;
  actor: { account?: { homePage?: string; name: string }; mbox?: string; objectType?: string };
  verb: { id: string };
  object: Activity;
  result?: { completion?: boolean; success?: boolean; duration?: string; score?: Score; extensions?: Extensions };
  context?: { contextActivities?: Record<string, Activity | Activity[] | undefined>; extensions?: Extensions };
  timestamp?: string;
}

/** Activity type of a skill, from ADL's vocabulary. */
export const objective = 'http://adlnet.gov/expapi/activities/objective';

/** Share of the points, 0 to 1; null: it says none. */
export function shareOf({ scaled, raw, min = 0, max }: Score): number | null {
  const share = scaled ?? (raw !== undefined && max !== undefined && max > min ? (raw - min) / (max - min) : null);
  return share === null ? null : Math.min(1, Math.max(0, share));
}
