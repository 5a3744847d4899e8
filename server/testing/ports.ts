/** Ports for what tests start. */
import { portIsFree } from '../local/mariadb';

const given = new Set<number>();
/**
 * The first of `count` ports in a row that are free and were given to nobody else in this process. From anywhere in a
 * wide range below the ports of outgoing connections, so that two runs at once do not meet.
 */
export async function freePorts(count = 1): Promise<number> {
  for (;;) {
    const first = 20_000 + Math.floor(Math.random() * 12_000);
    const row = Array.from({ length: count }, (_, i) => first + i);
    if (row.some((port) => given.has(port))) continue;
    for (const port of row) given.add(port);
    if ((await Promise.all(row.map(portIsFree))).every(Boolean)) return first;
  }
}
