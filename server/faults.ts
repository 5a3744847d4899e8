/** Why something is not done, in words for whoever asked. What it is called over HTTP is for api/ to say. */
import { say } from '#core/messages/say';

/**
 * `malformed`: it cannot be read. `signed-out`: nobody asks. `not-allowed`: not by this person. `missing`: it is not
 * there, or not theirs to see. `conflict`: not as things are now. `invalid`: it can be read and makes no sense.
 * `too-many`: not again so soon. `unavailable`: not by this server, or not now.
 */
export type FaultKind =
  | 'malformed'
  | 'signed-out'
  | 'not-allowed'
  | 'missing'
  | 'conflict'
  | 'too-large'
  | 'invalid'
  | 'too-many'
  | 'unavailable';

/** What is wrong, where, and what to do. */
export class Fault extends Error {
  constructor(
    readonly kind: FaultKind,
    message: string,
  ) {
    super(message);
  }
}
export const notFound = (what: string): Fault => new Fault('missing', say('api.doesntExistOrYouDont', { what }));

/** What core refuses in words is a fault. */
export function orFault<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    throw error instanceof RangeError ? new Fault('invalid', error.message) : error;
  }
}
