/** What is asked for many values, some at a time and on several connections at once. */
export async function inBatches<V, T>(
  values: readonly V[],
  size: number,
  ask: (batch: V[]) => Promise<T[]>,
): Promise<T[]> {
  const asked: Promise<T[]>[] = [];
  for (let at = 0; at < values.length; at += size) asked.push(ask(values.slice(at, at + size)));
  return (await Promise.all(asked)).flat();
}

/** IN () is no SQL: a list of nobody. */
export const orNone = (ids: readonly string[]): string[] => (ids.length > 0 ? [...ids] : ['-']);
