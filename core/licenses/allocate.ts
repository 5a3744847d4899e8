/**
 * Who has a seat on one day, of one product. In this order: as many of the most urgent needs are met as there can
 * be, then of the next; nobody who uses a seat loses it; as few seats as possible are given and taken; who had one
 * yesterday goes before who had none; a school's own seats before the district's.
 *
 * It is an exact optimum. People between whom nothing makes a difference are one group, so that the flow runs over
 * some dozens of groups and not over people. Needs weighed by urgency are bases of a matroid (who can be seated is a
 * transversal), so weights that only grow with urgency serve the most urgent ones first.
 */
import { Flow } from '#core/flow/index';

export interface Pool {
  /** Infinity: site-wide. */
  seats: number;
  /** Whose; null: the district's. */
  schoolId: string | null;
}
export interface Claim {
  schoolId: string | null;
  /** 1 to 3; 0: holds a seat without being entitled to one. */
  urgency: number;
  /** Index of the pool of which they hold a seat; -1: none. */
  held: number;
  /** Uses the seat that they hold, so keeps it. */
  uses: boolean;
  /** Had a seat up to now, of a license that ended. */
  had: boolean;
}
export interface Allocated {
  /** By claim, the pool of which they have a seat; -1: none. */
  pools: Int32Array;
  /** Claims with an urgency that got none. */
  unmet: number;
  /** Seats given and seats taken. */
  moves: number;
}

/** Where who has no seat is put. */
const none = -1;

export function allocate(pools: readonly Pool[], claims: readonly Claim[]): Allocated {
  const result = new Int32Array(claims.length).fill(none);
  const left = pools.map(({ seats }) => seats);
  // What is used stays, and is no part of the question; a license with more users than seats gives none away.
  const groups = new Map<string, { first: Claim; members: number[]; reach: number[] }>();
  const reaches = new Map<string | null, { key: string; reach: number[] }>();
  claims.forEach((claim, i) => {
    if (claim.uses && claim.held !== none) {
      result[i] = claim.held;
      left[claim.held]!--;
      return;
    }
    let at = reaches.get(claim.schoolId);
    if (!at) {
      const reach = pools.flatMap(({ schoolId }, pool) =>
        schoolId === null || schoolId === claim.schoolId ? [pool] : [],
      );
      reaches.set(claim.schoolId, (at = { key: reach.join(), reach }));
    }
    const key = `${at.key}|${claim.urgency}|${claim.held}|${claim.had}`;
    const group = groups.get(key);
    if (group) group.members.push(i);
    else groups.set(key, { first: claim, members: [i], reach: at.reach });
  });

  // Costs in tiers, each more than all that can come together below it on one chain of exchanges.
  const chain = pools.length + 2;
  const had = 3 * chain;
  const move = 4 * had;
  const need = 4 * chain * move;
  const list = [...groups.values()];
  const flow = new Flow(list.length + pools.length + 2);
  const [source, sink] = [list.length + pools.length, list.length + pools.length + 1];
  pools.forEach((_, pool) => flow.arc(list.length + pool, sink, Math.max(0, left[pool]!), 0));
  const arcs = list.map(({ first, members, reach }, g) => {
    flow.arc(source, g, members.length, 0);
    const takes = first.held === none ? 0 : move;
    const without = flow.arc(g, sink, members.length, first.urgency * need + takes + (first.had ? had : 0));
    const into = (first.urgency > 0 ? reach : reach.includes(first.held) ? [first.held] : []).map((pool) => {
      const { seats, schoolId } = pools[pool]!;
      const far = seats === Infinity ? 0 : schoolId === null ? 2 : 1;
      const cost = pool === first.held ? 0 : move + takes;
      return { pool, arc: flow.arc(g, list.length + pool, members.length, cost + far) };
    });
    return { without, into };
  });
  flow.send(source, sink);

  let [unmet, moves] = [0, 0];
  list.forEach(({ first, members }, g) => {
    let next = 0;
    // Who stays is counted first, so that the first in the order stay.
    const into = [...arcs[g]!.into].sort((a, b) => Number(b.pool === first.held) - Number(a.pool === first.held));
    for (const { pool, arc } of into) {
      const count = flow.through(arc);
      for (let i = 0; i < count; i++) result[members[next++]!] = pool;
      if (pool !== first.held) moves += count * (first.held === none ? 1 : 2);
    }
    const without = members.length - next;
    if (first.urgency > 0) unmet += without;
    if (first.held !== none) moves += without;
  });
  return { pools: result, unmet, moves };
}
