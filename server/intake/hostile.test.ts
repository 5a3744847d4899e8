/** Files that are no lists, or too much of one: a clear answer each, the server stays up and its memory small. */
import { request } from 'node:http';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoPassword } from '#demo/scenario';
import { wordOf } from '#core/random/index';
import type { IntakePreview, IntakeRow } from '../contract';
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
      /Line 2 has 5,000,000 characters\. The most allowed is 200,000/,
    ],
    ['noise.csv', noise, /not text/],
    ['wide.csv', Buffer.from(`${'a,'.repeat(16_000)}\n1,2`), /The most allowed is 512/],
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
  const { outcome, id, rows: count } = await looking.finally(() => (answered = true));
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

/** ECMA-376 part 1, 18.3: as much of a workbook as is needed for one cell, at the last column of the last row. */
function lastCell(): Uint8Array {
  const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
  const rel = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const kind = 'application/vnd.openxmlformats-officedocument.spreadsheetml';
  const parts = {
    '[Content_Types].xml': `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Override PartName="/xl/workbook.xml" ContentType="${kind}.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="${kind}.worksheet+xml"/></Types>`,
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${rel}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `<workbook xmlns="${main}" xmlns:r="${rel}"><sheets><sheet name="List" sheetId="1" r:id="r1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${rel}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
    'xl/worksheets/sheet1.xml': `<worksheet xmlns="${main}"><dimension ref="A1:XFD1048576"/><sheetData><row r="1048576"><c r="XFD1048576" t="inlineStr"><is><t>far</t></is></c></row></sheetData></worksheet>`,
  };
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, Buffer.from(text)])));
}

it('is not held up by one cell at the far end, or by a quote that never closes', async () => {
  const open = Buffer.from(`surname,forename\n"${'Brightwell,Ada\n'.repeat(1_350_000)}`);
  expect(open.byteLength).toBeGreaterThan(20_000_000);
  const cases: [string, Uint8Array, RegExp][] = [
    ['far.xlsx', lastCell(), /column 16,384 and row 1,048,576/],
    ['open.csv', open, /quotation mark/],
  ];
  for (const [name, bytes, message] of cases) {
    const { refusal } = await look(name, bytes);
    expect([name, refusal?.message]).toEqual([name, expect.stringMatching(message)]);
    expect((await remote.get<{ people: unknown[] }>('/api/people?limit=1')).error).toBeUndefined();
  }
});

it('stops taking a body that is too large while it arrives', async () => {
  const before = server.memory().peak;
  const piece = Buffer.from('{},'.repeat(350_000));
  const pieces = Math.ceil(264_000_000 / piece.byteLength);
  /** Sends in pieces, without saying how long it will be, until it is answered. */
  const pour = (path: string, headers: Record<string, string>): Promise<{ status: number; sent: number }> =>
    new Promise((done) => {
      let [sent, ended] = [0, false];
      const asking = request(server.base + path, { method: 'POST', headers: { Origin: server.base, ...headers } });
      const end = (status: number): void => {
        if (ended) return;
        ended = true;
        asking.destroy();
        done({ status, sent });
      };
      asking.on('response', (answer) => end(answer.statusCode!));
      asking.on('error', () => end(0));
      const more = (): void => {
        if (ended) return;
        if (sent / piece.byteLength >= pieces) return void asking.end();
        sent += piece.byteLength;
        if (asking.write(piece)) setImmediate(more);
        else asking.once('drain', more);
      };
      more();
    });
  const json = { 'Content-Type': 'application/json' };
  for (const [path, headers, most] of [
    ['/api/sign-in', json, 16],
    ['/api/people/00000000000000000000000000/edit', { ...json, Cookie: remote.cookie }, 16],
    ['/api/scans', { ...json, Cookie: remote.cookie }, 32],
    ['/api/intakes?name=large.csv', { Cookie: remote.cookie }, 128],
  ] as [string, Record<string, string>, number][]) {
    const { status, sent } = await pour(path, headers);
    expect([path, status, sent < most * 1_000_000]).toEqual([path, 413, true]);
  }
  expect(server.isUp).toBe(true);
  expect(server.memory().peak - before).toBeLessThan(250);
});
