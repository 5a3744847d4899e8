/**
 * Who gets which device. Everyone keeps what they have while it works; the others get one so that, in this order, as
 * many as can be have one, as few as can be have another model than their class, and the devices last for as long as
 * their holders stay: of what is short in years the sum is least. Places are people, or the free slots of carts.
 *
 * It is an exact optimum, by a flow between groups: places of one class that stay equally long, devices of one model
 * that last equally long. The class's model is given beforehand: what most of it have, else what most free ones are.
 */
import { Flow } from '../flow/index';

export interface Place {
  /** Class or cart: one model for all of it. */
  group: string;
  /** Whole years for which the device should last. */
  years: number;
  /** Index of the device that they keep; -1: none. */
  has: number;
}
export interface Stock {
  model: string;
  /** Whole years for which it still lasts; 0: not to be given out any more. */
  years: number;
  /** Given to nobody and in order. */
  free: boolean;
}
export interface Assigned {
  /** Index of the device by place: the one that is kept, or a new one; -1: none is left. */
  device: Int32Array;
  /** Devices that go to somebody who has none. */
  moves: number;
  unmet: number;
  /** Of those who get one: how many get another model than their class has. */
  mixed: number;
  /** Years for which devices last less than their holders stay, in all. */
  shortYears: number;
}

/** What each group has, or should get. */
export function modelsOf(places: readonly Place[], stock: readonly Stock[]): Map<string, string> {
  const most = (counts: Map<string, number>): string | undefined =>
    [...counts].sort(([a, n], [b, m]) => m - n || a.localeCompare(b))[0]?.[0];
  const free = new Map<string, number>();
  for (const { model, free: isFree, years } of stock)
    if (isFree && years > 0) free.set(model, (free.get(model) ?? 0) + 1);
  const groups = new Map<string, { has: Map<string, number>; lacking: number }>();
  for (const { group, has } of places) {
    const at = groups.get(group) ?? { has: new Map<string, number>(), lacking: 0 };
    groups.set(group, at);
    if (has < 0) at.lacking++;
    else at.has.set(stock[has]!.model, (at.has.get(stock[has]!.model) ?? 0) + 1);
  }
  const models = new Map<string, string>();
  const take = (group: string, model: string | undefined, count: number) => {
    if (model === undefined) return;
    models.set(group, model);
    free.set(model, (free.get(model) ?? 0) - count);
  };
  for (const [group, { has, lacking }] of groups) if (has.size > 0) take(group, most(has), lacking);
  // The largest first; each takes the model that suffices for it with the least to spare, else the most plentiful.
  const rest = [...groups].filter(([group]) => !models.has(group));
  for (const [group, { lacking }] of rest.sort(([a, x], [b, y]) => y.lacking - x.lacking || a.localeCompare(b))) {
    const enough = [...free].filter(([, n]) => n >= lacking).sort(([a, n], [b, m]) => n - m || a.localeCompare(b));
    take(group, enough[0]?.[0] ?? most(free), lacking);
  }
  return models;
}

/** Costs of giving a device to a place: first the model, then the years. */
export const costOf = (place: Place, device: Stock, model: string | undefined, mixing: number): number =>
  (model !== undefined && device.model !== model ? mixing : 0) + Math.max(0, place.years - device.years);

export function assign(places: readonly Place[], stock: readonly Stock[], models = modelsOf(places, stock)): Assigned {
  const device = Int32Array.from(places, ({ has }) => has);
  const groupBy = <T>(list: readonly T[], key: (one: T, i: number) => string | null): [string, number[]][] => {
    const groups = new Map<string, number[]>();
    list.forEach((one, i) => {
      const k = key(one, i);
      if (k === null) return;
      const at = groups.get(k);
      if (at) at.push(i);
      else groups.set(k, [i]);
    });
    return [...groups];
  };
  const lacking = groupBy(places, ({ group, years, has }) => (has < 0 ? `${years}|${group}` : null));
  const free = groupBy(stock, ({ model, years, free: isFree }) => (isFree && years > 0 ? `${years}|${model}` : null));
  // One device of another model weighs more than all years that could be short.
  const mixing = places.length * 20 + 1;
  const flow = new Flow(lacking.length + free.length + 2);
  const [source, sink] = [lacking.length + free.length, lacking.length + free.length + 1];
  free.forEach(([, list], f) => flow.arc(lacking.length + f, sink, list.length, 0));
  const arcs = lacking.map(([, list], g) => {
    flow.arc(source, g, list.length, 0);
    const first = places[list[0]!]!;
    return free.map(([, devices], f) =>
      flow.arc(g, lacking.length + f, list.length, costOf(first, stock[devices[0]!]!, models.get(first.group), mixing)),
    );
  });
  const { sent, cost } = flow.send(source, sink);
  const next = free.map(() => 0);
  lacking.forEach(([, list], g) => {
    let at = 0;
    arcs[g]!.forEach((arc, f) => {
      for (let n = flow.through(arc); n > 0; n--) device[list[at++]!] = free[f]![1][next[f]!++]!;
    });
  });
  const all = lacking.reduce((sum, [, list]) => sum + list.length, 0);
  return { device, moves: sent, unmet: all - sent, mixed: Math.floor(cost / mixing), shortYears: cost % mixing };
}
