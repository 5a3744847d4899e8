/**
 * A keyboard-wedge scanner, simulated: it types what it scans, letter by letter, ends each with Enter, and knows
 * nothing of what becomes of it. A real one types through the operating system; this one into a browser's tab, over
 * the DevTools protocol.
 *   node --import tsx standins/scanner/main.ts --debugger 127.0.0.1:9222 --file codes.txt [--rate 5]
 */
import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { WebSocket } from 'ws';

const { values } = parseArgs({
  options: { debugger: { type: 'string' }, file: { type: 'string' }, rate: { type: 'string', default: '5' } },
});
if (!values.debugger || !values.file) throw new Error('Say --debugger host:port and --file with one code a line.');
const codes = readFileSync(values.file, 'utf8').split('\n').filter(Boolean);
const everyMs = 1000 / Number(values.rate);

const tabs = (await (await fetch(`http://${values.debugger}/json`)).json()) as {
  type: string;
  webSocketDebuggerUrl: string;
}[];
const tab = tabs.find(({ type }) => type === 'page');
if (!tab) throw new Error('No tab is open.');
const socket = new WebSocket(tab.webSocketDebuggerUrl, { perMessageDeflate: false });
await new Promise((done, failed) => socket.once('open', done).once('error', failed));

let next = 1;
const answers = new Map<number, () => void>();
socket.on('message', (data: Buffer) => {
  const { id } = JSON.parse(data.toString()) as { id?: number };
  if (id !== undefined) answers.get(id)?.();
});
/** Resolves once the browser has taken the key. */
function key(type: 'keyDown' | 'keyUp', params: object): Promise<void> {
  const id = next++;
  return new Promise((done) => {
    answers.set(id, done);
    socket.send(JSON.stringify({ id, method: 'Input.dispatchKeyEvent', params: { type, ...params } }));
  });
}
const enter = { key: 'Enter', code: 'Enter', windowsVirtualKeyCode: 13 };

const begin = Date.now();
for (const [i, code] of codes.entries()) {
  const wait = begin + i * everyMs - Date.now();
  if (wait > 0) await new Promise((done) => setTimeout(done, wait));
  for (const letter of code) {
    await key('keyDown', { text: letter, key: letter });
    await key('keyUp', { key: letter });
  }
  await key('keyDown', { ...enter, text: '\r' });
  await key('keyUp', enter);
}
socket.close();
console.log(`${codes.length} codes in ${((Date.now() - begin) / 1000).toFixed(1)} s`);
