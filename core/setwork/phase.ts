/** In which state a piece of work is at a moment; moments are ISO 8601 in UTC, so that they compare as text. */
import type { SetWork } from '#core/entities/index';

/** `shut`: open by its times, and paused. */
export type Phase = 'coming' | 'open' | 'shut' | 'closed';

export function phaseOf(work: Pick<SetWork, 'opensAt' | 'closesAt' | 'paused'>, now: string): Phase {
  if (work.closesAt !== null && work.closesAt <= now) return 'closed';
  if (work.opensAt > now) return 'coming';
  return work.paused ? 'shut' : 'open';
}
