/** Ids: each later than all before it. */
import { randomFillSync } from 'node:crypto';
import { monotonicFactory } from 'ulid';

const pool = Buffer.alloc(4096);
let used = pool.length;
/** A number from 0 to 1 out of a byte of the system's own; asking for each by itself is what costs. */
const random = (): number => {
  if (used >= pool.length) {
    randomFillSync(pool);
    used = 0;
  }
  return pool[used++]! / 256;
};

/** A new id, later than all before it. */
export const mint = monotonicFactory(random);
