/** `diff`: what changed from one night's bundle of the roster standard to the next, file by file. */
import { diffTables, fileNames, RosterTable } from '#core/oneroster/index';
import { Refusal } from '#core/tabular/decode';
import { openFolder } from './files';

export function diff(before: string, after: string, json: boolean): number {
  const start = performance.now();
  const [a, b] = [openFolder(before), openFolder(after)];
  for (const [path, { names }] of [
    [before, a],
    [after, b],
  ] as const)
    if (!names.some((name) => (fileNames as readonly string[]).includes(name)))
      throw new Refusal('no-bundle', `${path} holds no file of the roster standard.`);
  const names = [...new Set([...a.names, ...b.names])].filter((name) => name !== 'manifest.csv').sort();
  const files: Record<string, { created: number; changed: number; removed: number }> = {};
  for (const name of names) {
    const open = (bytes: Uint8Array | null) => (bytes ? new RosterTable(bytes) : null);
    const { created, changed, removed } = diffTables(open(a.file(name)), open(b.file(name)));
    files[name] = { created: created.length, changed: changed.length, removed: removed.length };
  }
  const seconds = Math.round(performance.now() - start) / 1000;
  const peakMegabytes = Math.round(process.resourceUsage().maxRSS / 1024);
  if (json) console.log(JSON.stringify({ files, seconds, peakMegabytes }));
  else {
    console.log(`${'file'.padEnd(24)} ${'created'.padStart(9)} ${'changed'.padStart(9)} ${'removed'.padStart(9)}`);
    for (const [name, { created, changed, removed }] of Object.entries(files))
      console.log(
        `${name.padEnd(24)} ${String(created).padStart(9)} ${String(changed).padStart(9)} ${String(removed).padStart(9)}`,
      );
    console.log(`${seconds} s, ${peakMegabytes} MB at the peak`);
  }
  return 0;
}
