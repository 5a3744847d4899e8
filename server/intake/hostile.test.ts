/** Files that are no lists, or too much of one: a clear answer each, the server stays up and its memory small. */
import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { wordOf } from '#core/random/index';
import type { IntakePreview, IntakeRow } from '../api/contract';
import { ServerProcess, type Remote } from '../testing/process';
import { World } from '../testing/world';

let world: World;
let server: ServerProcess;
let remote: Remote;
beforeAll(async () => {
  world = await World.open('hostile');
  server = await ServerProcess.start(world.config);
  remote = await server.signIn(world.signIns.find(({ who }) => who.startsWith('district'))!.username, demoPassword);
});
afterAll(async () => {
  await server.stop();
  await world.close();
});

const look = async (name: string, bytes: Uint8Array): Promise<IntakePreview & { id: string }> => {
  const { id } = await remote.post<{ id: string }>(`/api/intakes?name=${name}`, bytes);
  return { id, ...(await remote.get<IntakePreview>(`/api/intakes/${id}`)) };
};

it('says of each what is wrong and goes on', async () => {
  const png = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, ...Array<number>(2000).fill(7)]);
  const noise = Uint8Array.from({ length: 5000 }, (_, i) => (i * 7919) % 256);
  const cases: [string, Uint8Array, RegExp][] = [
    ['empty.csv', new Uint8Array(), /The file is empty\. Export it again/],
    ['picture.csv', png, /a picture \(PNG\), whatever its name says\. Export the list as CSV/],
    [
      'long.csv',
      Buffer.from(`surname,forename\n${'x'.repeat(5_000_000)}`),
      /Line 2 is 5\.0 million characters long; 200,000 is the most/,
    ],
    ['noise.csv', noise, /no text/],
    ['wide.csv', Buffer.from(`${'a,'.repeat(16_000)}\n1,2`), /512 is the most/],
  ];
  for (const [name, bytes, message] of cases) {
    const { refusal, outcome } = await look(name, bytes);
    expect([name, refusal?.message]).toEqual([name, expect.stringMatching(message)]);
    expect(outcome).toBeNull();
    expect(server.isUp).toBe(true);
  }
  // A plan of such a file ends with the same words.
  const { id } = await look('picture.csv', png);
  const { jobId } = await remote.post<{ jobId: string }>(`/api/intakes/${id}/plan`);
  let job = await remote.get<{ status: string; error: { message: string } | null }>(`/api/jobs/${jobId}`);
  while (job.status === 'waiting' || job.status === 'running') job = await remote.get(`/api/jobs/${jobId}`);
  expect(job.error?.message).toMatch(/a picture/);
});

it('reads 200,000 rows, answers others meanwhile, and stays below 700 MB', async () => {
  const rows = Array.from(
    { length: 200_000 },
    (_, i) =>
      `${String(100_000 + i)},${wordOf(i % 9973)},${wordOf(i % 499)},${2006 + (i % 14)}-${String((i % 12) + 1).padStart(2, '0')}-${String((i % 28) + 1).padStart(2, '0')},${(i % 5) + 1},${(i % 5) + 1}${'ABCDEF'[i % 6]},Lantern Point`,
  );
  const bytes = Buffer.from(
    `student number,family name,given name,birth date,grade,class,school\n${rows.join('\n')}\n`,
  );
  const idle = server.memory();
  const looking = look('large.csv', bytes);
  const waits: number[] = [];
  let answered = false;
  const ask = (async () => {
    while (!answered) {
      const from = performance.now();
      await remote.get('/api/people?limit=50');
      waits.push(performance.now() - from);
    }
  })();
  const { outcome, id, rows: count } = await looking;
  answered = true;
  await ask;
  expect(count).toBe(200_000);
  expect(outcome!.fresh).toBeGreaterThan(150_000);
  expect(outcome!.fresh + outcome!.waitingCount + outcome!.changed + outcome!.same).toBe(200_000);
  const page = await remote.get<{ rows: IntakeRow[]; total: number }>(`/api/intakes/${id}/rows?from=199990&count=50`);
  expect(page.rows.at(-1)).toMatchObject({ line: 200_001 });
  const { peak } = server.memory();
  console.log(
    `200,000 rows: peak ${Math.round(peak)} MB (${Math.round(idle.now)} before); ${waits.length} other answers meanwhile, the slowest in ${Math.round(Math.max(...waits))} ms`,
  );
  expect(peak).toBeLessThan(700);
  expect(waits.length).toBeGreaterThan(3);
});
