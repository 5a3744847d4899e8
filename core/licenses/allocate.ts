/**
 * Who has a seat on one day, of one product. In this order: as many of the most urgent needs are met as there can
 * be, then of the next; nobody who uses a seat loses it; as few seats as possible are given and taken; who had one
 * yesterday goes before who had none; a school's own seats before the district's.
 *
 * It is an exact optimum. People between whom nothing makes a difference are one group, so that the flow runs over
 * some dozens of groups and not over people. Needs weighed by urgency are bases of a matroid (who can be seated is a
 * transversal), so weights that only grow with urgency serve the most urgent ones first.
 */
import { Flow } from '../flow/index';

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
/** So many who are alike in all that matters, and use nothing that they hold. */
export interface Alike extends Pick<Claim, 'urgency' | 'held' | 'had'> {
  /** Indices of the pools of which they may have a seat. */
  reach: readonly number[];
  count: number;
}
export interface Share {
  /** -1: no seat. */
  pool: number;
  count: number;
}

/** Pools that somebody of a school may have a seat of. */
export const reachOf = (pools: readonly Pool[], school: string | null): number[] =>
  pools.flatMap(({ schoolId }, pool) => (schoolId === null || schoolId === school ? [pool] : []));

/** How many of each group have a seat of which pool; those who stay first, those without one last. */
export function allocateAlike(pools: readonly Pool[], groups: readonly Alike[]): Share[][] {
  // Costs in tiers, each more than all that can come together below it on one chain of exchanges.
  const chain = pools.length + 2;
  const had = 3 * chain;
  const move = 4 * had;
  const need = 4 * chain * move;
  const flow = new Flow(groups.length + pools.length + 2);
  const [source, sink] = [groups.length + pools.length, groups.length + pools.length + 1];
  const seats = pools.map(({ seats: count }, pool) => flow.arc(groups.length + pool, sink, Math.max(0, count), 0));
  const arcs = groups.map((group, g) => {
    const { urgency, held, count, reach } = group;
    const from = flow.arc(source, g, count, 0);
    const takes = held < 0 ? 0 : move;
    const into = (urgency > 0 ? reach : reach.includes(held) ? [held] : []).map((pool) => {
      const { seats: all, schoolId } = pools[pool]!;
      const far = all === Infinity ? 0 : schoolId === null ? 2 : 1;
      const arc = flow.arc(g, groups.length + pool, count, pool === held ? 0 : move + takes + far);
      // Who stays costs nothing, so that is sent at once; what it blocks is sent back where that is worth it.
      if (pool === held) flow.push([from, arc, seats[pool]!], Math.min(count, flow.left(seats[pool]!)));
      return { pool, arc };
    });
    const without = flow.arc(g, sink, count, urgency * need + takes + (group.had ? had : 0));
    return { into: into.sort((a, b) => Number(b.pool === held) - Number(a.pool === held)), without };
  });
  flow.send(source, sink);
  return arcs.map(({ into, without }) =>
    [
      ...into.map(({ pool, arc }) => ({ pool, count: flow.through(arc) })),
      { pool: -1, count: flow.through(without) },
    ].filter(({ count }) => count > 0),
  );
}

export interface Allocated {
  /** By claim, the pool of which they have a seat; -1: none. */
  pools: Int32Array;
  /** Claims with an urgency that got none. */
  unmet: number;
  /** Seats given and seats taken. */
  moves: number;
}

/** The same for single people. */
export function allocate(pools: readonly Pool[], claims: readonly Claim[]): Allocated {
  const result = new Int32Array(claims.length).fill(-1);
  // What is used stays, and is no part of the question; a license with more users than seats gives none away.
  const left = pools.map((pool) => ({ ...pool }));
  const groups = new Map<string, Alike & { members: number[] }>();
  claims.forEach((claim, i) => {
    if (claim.uses && claim.held >= 0) {
      result[i] = claim.held;
      left[claim.held]!.seats--;
      return;
    }
    const reach = reachOf(pools, claim.schoolId);
    const key = `${reach.join()}|${claim.urgency}|${claim.held}|${claim.had}`;
    const group = groups.get(key) ?? { ...claim, reach, count: 0, members: [] };
    group.count++;
    group.members.push(i);
    groups.set(key, group);
  });
  const list = [...groups.values()];
  const shares = allocateAlike(left, list);
  list.forEach(({ members }, g) => {
    let next = 0;
    for (const { pool, count } of shares[g]!) for (let i = 0; i < count; i++) result[members[next++]!] = pool;
  });
  const moves = claims.reduce(
    (sum, { held }, i) => sum + (result[i] === held ? 0 : Number(held >= 0) + Number(result[i]! >= 0)),
    0,
  );
  return { pools: result, unmet: claims.filter(({ urgency }, i) => urgency > 0 && result[i]! < 0).length, moves };
}
