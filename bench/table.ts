/** Times and tables. */
export interface BenchRow {
  what: string;
  seconds: number;
  /** How many of what in that time. */
  count: number;
  unit: string;
  baseline?: { what: string; seconds: number };
}

export async function timed<T>(work: () => T | Promise<T>): Promise<{ seconds: number; result: T }> {
  const from = performance.now();
  const result = await work();
  return { seconds: (performance.now() - from) / 1000, result };
}

/** The quickest of some runs: what the work takes when nothing disturbs it. */
export async function best<T>(runs: number, work: () => T | Promise<T>): Promise<{ seconds: number; result: T }> {
  let quickest = await timed(work);
  for (let i = 1; i < runs; i++) {
    const again = await timed(work);
    if (again.seconds < quickest.seconds) quickest = again;
  }
  return quickest;
}

export function print(title: string, rows: BenchRow[]): void {
  console.log(`\n${title}`);
  const lines = rows.map(({ what, seconds, count, unit, baseline }) => [
    what,
    `${seconds.toFixed(seconds < 1 ? 3 : 2)} s`,
    `${Math.round(count / seconds).toLocaleString('en-US')} ${unit}/s`,
    baseline
      ? `${(seconds / baseline.seconds).toFixed(1)} × ${baseline.what} (${baseline.seconds.toFixed(baseline.seconds < 1 ? 3 : 2)} s)`
      : '',
  ]);
  const widths = [0, 1, 2].map((i) => Math.max(...lines.map((line) => line[i]!.length)));
  for (const line of lines)
    console.log(
      `  ${line[0]!.padEnd(widths[0]!)}  ${line[1]!.padStart(widths[1]!)}  ${line[2]!.padStart(widths[2]!)}  ${line[3]}`,
    );
}

/** Rows of text under headings, for what is not a time alone. */
export function table(title: string, header: string[], rows: string[][]): void {
  if (title) console.log(`\n${title}`);
  const widths = header.map((name, i) => Math.max(name.length, ...rows.map((row) => (row[i] ?? '').length)));
  for (const row of [header, ...rows])
    console.log(
      `  ${row.map((cell, i) => (i === 0 ? cell.padEnd(widths[i]!) : cell.padStart(widths[i]!))).join('  ')}`,
    );
}
