/**
 * What was scanned, kept in the browser until the server has booked it: scans are numbered as they come and sent in
 * that order, again and again while the connection is lost. The server books each number once.
 */
import { get, set } from 'idb-keyval';
import { ulid } from 'ulid';
import { reactive, ref } from 'vue';
import type { ScanAnswer } from '../../server/contract';
import { call, CallError } from '@/api';
import { type Mode, modeTexts, type Tone } from '#core/devices/index';

/** `due`: until when a device is lent by it, as it was set when it was scanned. */
interface Waiting {
  seq: number;
  text: string;
  due: string | null;
}
interface Kept {
  station: string;
  /** Of the next scan. */
  next: number;
  waiting: Waiting[];
}
export interface Line {
  seq: number;
  text: string;
  /** null: not booked yet. */
  said: { tone: Tone; text: string } | null;
}
const retryMs = 700;
const batch = 100;

/** `owner`: whoever is signed in; each has a station of their own in this browser. */
export function useScanQueue(owner: string, due: () => string | null, onSaid: (tone: Tone) => void) {
  const key = `scans ${owner}`;
  const lines = ref<Line[]>([]);
  const status = reactive({ waiting: 0, lost: false, mode: 'give' as Mode, failure: '' });
  let kept: Kept = { station: ulid(), next: 1, waiting: [] };
  let sending = false;
  let closed = false;
  /** How often in a row the server found the numbers out of turn. */
  let refused = 0;
  // Scans that come before what was kept is read wait for it.
  const ready = get<Kept>(key).then(async (found) => {
    // Kept before scans had a day of their own.
    if (found) kept = { ...found, waiting: found.waiting.map((one) => ({ ...one, due: one.due ?? null })) };
    else await set(key, kept);
    lines.value = kept.waiting.map((one) => ({ ...one, said: null })).reverse();
    status.waiting = kept.waiting.length;
    void send();
  });
  /** What the server said last; what is chosen counts at once, also while it is away. */
  let told: Mode = 'give';
  const showMode = () => {
    const chosen = kept.waiting.flatMap(({ text }) => modeTexts[text.toUpperCase()] ?? []).at(-1);
    status.mode = chosen ?? told;
  };
  const save = () => set(key, JSON.parse(JSON.stringify(kept)) as Kept);

  async function add(text: string): Promise<void> {
    await ready;
    const one = { seq: kept.next++, text, due: due() };
    kept.waiting.push(one);
    lines.value = [{ ...one, said: null }, ...lines.value].slice(0, 400);
    status.waiting = kept.waiting.length;
    showMode();
    await save();
    void send();
  }

  function booked({ seq, mode, said }: ScanAnswer): void {
    const answers = new Map(said.map((line) => [line.seq, line]));
    lines.value = lines.value.map((line) => (answers.has(line.seq) ? { ...line, said: answers.get(line.seq)! } : line));
    kept.waiting = kept.waiting.filter((one) => one.seq > seq);
    status.waiting = kept.waiting.length;
    told = mode;
    showMode();
    const last = said.at(-1);
    if (last) onSaid(last.tone);
  }

  async function send(): Promise<void> {
    if (sending || closed) return;
    sending = true;
    while (kept.waiting.length > 0 && !closed) {
      try {
        const body = { station: kept.station, scans: kept.waiting.slice(0, batch) };
        booked(await call('POST /api/scans', { body }));
        status.lost = false;
        status.failure = '';
        await save();
      } catch (error) {
        const { status: code, message } = error as CallError;
        // Answered by nobody, or by a server that is just starting: sent again until it is.
        status.lost = !(error instanceof CallError) || code === 0 || code >= 500;
        status.failure = status.lost ? '' : message;
        refused = code === 409 ? refused + 1 : 0;
        if (code === 403 || code === 422 || refused > 5) {
          // Somebody else's station, or one that the server no longer knows: what waits goes on under a new one.
          refused = 0;
          kept = {
            station: ulid(),
            next: kept.waiting.length + 1,
            waiting: kept.waiting.map((one, i) => ({ ...one, seq: i + 1 })),
          };
          await save();
        }
        await new Promise((next) => setTimeout(next, retryMs));
      }
    }
    sending = false;
  }
  return { lines, status, add, close: () => (closed = true) };
}
