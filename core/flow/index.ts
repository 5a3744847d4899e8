/**
 * Minimum-cost flow by successive shortest paths. Published: Ahuja, Magnanti and Orlin, Network Flows (1993), 9.7.
 * Costs are whole numbers and none is negative; capacities may be Infinity. Made for graphs of some hundred arcs:
 * what is large is put together into groups before.
 */
export class Flow {
  private readonly to: number[] = [];
  private readonly room: number[] = [];
  private readonly cost: number[] = [];
  private readonly out: number[][];

  constructor(readonly nodes: number) {
    this.out = Array.from({ length: nodes }, () => []);
  }

  /** Returns the arc's name, see `through`. */
  arc(from: number, to: number, capacity: number, cost: number): number {
    const name = this.to.length;
    this.to.push(to, from);
    this.room.push(capacity, 0);
    this.cost.push(cost, -cost);
    this.out[from]!.push(name);
    this.out[to]!.push(name + 1);
    return name;
  }

  /** What flows through an arc. */
  through = (arc: number): number => this.room[arc + 1]!;

  /** What an arc still has room for. */
  left = (arc: number): number => this.room[arc]!;

  /** Sends along a way that costs nothing, before anything else is sent: it is as short as a way can be. */
  push(arcs: readonly number[], amount: number): void {
    for (const arc of arcs) {
      this.room[arc]! -= amount;
      this.room[arc + 1]! += amount;
    }
  }

  /** Sends as much as there is room for, at the least cost; what was sent and what it costs. */
  send(source: number, sink: number): { sent: number; cost: number } {
    let [sent, total] = [0, 0];
    const far = new Float64Array(this.nodes);
    const via = new Int32Array(this.nodes);
    const waits = new Uint8Array(this.nodes);
    for (;;) {
      // Bellman and Ford with a queue: arcs that lead back have negative costs.
      far.fill(Infinity);
      far[source] = 0;
      via.fill(-1);
      const queue = [source];
      for (let head = 0; head < queue.length; head++) {
        const node = queue[head]!;
        waits[node] = 0;
        for (const arc of this.out[node]!) {
          const next = this.to[arc]!;
          if (this.room[arc]! <= 0 || far[node]! + this.cost[arc]! >= far[next]!) continue;
          far[next] = far[node]! + this.cost[arc]!;
          via[next] = arc;
          if (waits[next]) continue;
          waits[next] = 1;
          queue.push(next);
        }
      }
      if (far[sink] === Infinity) return { sent, cost: total };
      let amount = Infinity;
      for (let node = sink; node !== source; node = this.to[via[node]! ^ 1]!)
        amount = Math.min(amount, this.room[via[node]!]!);
      for (let node = sink; node !== source; node = this.to[via[node]! ^ 1]!) {
        this.room[via[node]!]! -= amount;
        this.room[via[node]! ^ 1]! += amount;
      }
      sent += amount;
      total += amount * far[sink]!;
    }
  }
}
