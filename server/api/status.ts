/** What a fault is called over HTTP (RFC 9110; 429 is of RFC 6585). */
import type { ContentfulStatusCode } from 'hono/utils/http-status';
import type { FaultKind } from '../faults';

export const statusOf: Record<FaultKind, ContentfulStatusCode> = {
  malformed: 400,
  'signed-out': 401,
  'not-allowed': 403,
  missing: 404,
  conflict: 409,
  'too-large': 413,
  invalid: 422,
  'too-many': 429,
  unavailable: 503,
};
