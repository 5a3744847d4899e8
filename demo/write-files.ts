/** Writes demo/files/ anew: `./run demo-files`. The day does not matter, as the files hold nothing that follows from it. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { makeFiles } from './files';
import { makeScenario } from './scenario';

let n = 0;
const scenario = makeScenario('2026-08-17', { mint: () => `id${n++}`, seal: () => '', passwordHash: '' });
const folder = resolve(import.meta.dirname, 'files');
mkdirSync(folder, { recursive: true });
for (const { name, bytes } of makeFiles(scenario)) {
  writeFileSync(resolve(folder, name), bytes);
  console.log(`demo/files/${name}  ${bytes.length} bytes`);
}
