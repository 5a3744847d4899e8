/** 10,000 login cards in one go, beside pdfkit alone drawing the same pages: the same lines at the same places, one font, no fitting. */
import { keysFrom } from '#server/auth/keys';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import PDFDocument from 'pdfkit';
import QRCode from 'qrcode';
import { type CardContent, cardSheets, type Paper, papers, pointsPerMm, type SheetOrder } from '#core/cards/index';
import { pdfOf } from '#server/cards/pdf';
import { measure } from '#server/cards/type';
import type { Job } from '#server/contract/index';
import { sealText } from '#server/auth/seal';
import { alone, type Config } from '#server/config';
import { Db, jobSeconds } from '#server/db/connection';
import { sampleCard } from '#core/cards/samples';
import type { DemoSignIn } from '#server/demo';
import { type LocalDatabase, makeDatabase } from '#server/local/mariadb';
import { mint } from '#server/plans/mint';
import { ServerProcess } from '#server/testing/process';
import { type BenchRow, print, timed } from './table';
import { today } from './world';

const count = 10_000;
const order: SheetOrder = { layout: 'cards', paper: 'A4', backs: null, stacked: true, skip: 0 };
const content = (i: number): CardContent =>
  sampleCard(i, {
    familyName: `Żółkiewski-Nguyễn ${i}`,
    givenName: 'Thảo',
    username: `tzolkiewski${i}`,
    link: `http://127.0.0.1:8200/c/0123456789ABCDEFGHJK${String(i).padStart(6, '0')}`,
  });
const pt = (mm: number) => mm * pointsPerMm;

async function bare(paper: Paper): Promise<number> {
  const { widthMm, heightMm } = papers[paper];
  const doc = new PDFDocument({ size: [pt(widthMm), pt(heightMm)], margin: 0, autoFirstPage: false });
  let bytes = 0;
  doc.on('data', (piece: Buffer) => (bytes += piece.length));
  doc.font(
    resolve(
      'node_modules/@expo-google-fonts/atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf',
    ),
  );
  for (const { items } of cardSheets(count, content, order, (_, text) => text.length * 0.5)) {
    doc.addPage();
    for (const placed of items) {
      if (placed.kind !== 'at') continue;
      for (const item of placed.items) {
        const x = pt(placed.xMm);
        const y = pt(placed.yMm);
        if (item.kind === 'text')
          doc
            .fontSize(item.sizePt)
            .text(item.text, x + pt(item.xMm), y + pt(item.baseMm) - item.sizePt, { lineBreak: false });
        if (item.kind !== 'qr') continue;
        const { size, data } = QRCode.create(item.text, { errorCorrectionLevel: 'M', maskPattern: 2 }).modules;
        const module = pt(item.sizeMm) / size;
        for (let k = 0; k < size * size; k++)
          if (data[k])
            doc.rect(
              x + pt(item.xMm) + (k % size) * module,
              y + pt(item.yMm) + Math.floor(k / size) * module,
              module,
              module,
            );
        doc.fill();
      }
    }
  }
  await new Promise<void>((done) => {
    doc.on('end', done);
    doc.end();
  });
  return bytes;
}

/** The same as a job of the running server: asked for over HTTP, drawn in its thread, sealed and recorded. */
async function asJob(
  database: LocalDatabase,
): Promise<BenchRow & { memory: { now: number; peak: number }; steps: number }> {
  const name = 'sheaf_bench_cards';
  await makeDatabase(database, name, true);
  const dataFolder = mkdtempSync(join(tmpdir(), 'sheaf-cards-'));
  const config: Config = {
    port: 0,
    dataFolder,
    url: 'http://127.0.0.1',
    today: () => today,
    key: keysFrom([randomBytes(32)]),
    ...alone,
    database: { ...database, name },
  };
  await (await ServerProcess.start(config, { args: ['--demo'] })).stop();
  const db = new Db(config.database, 8, jobSeconds);
  const [school] = await db.select<{ id: string }>('SELECT id FROM schools ORDER BY name LIMIT 1');
  const there = (await db.one<{ n: number }>("SELECT COUNT(*) AS n FROM people WHERE role = 'student'"))!.n;
  const ids = Array.from({ length: count - there }, () => mint());
  await db.transaction(async (tx) => {
    await db.batch(
      "INSERT INTO people (id, role, number, givenName, familyName, status) VALUES (?, 'student', ?, 'Thảo', ?, 'active')",
      ids.map((id, i) => [id, String(500_000 + i), `Żółkiewski-Nguyễn ${i}`]),
      tx,
    );
    await db.batch(
      "INSERT INTO affiliations (id, personId, schoolId, grade, begins) VALUES (?, ?, ?, '03', '2026-07-01')",
      ids.map((id) => [mint(), id, school!.id]),
      tx,
    );
    await db.batch(
      "INSERT INTO accounts (id, personId, username, role, status, secretSealed, secretVersion) VALUES (?, ?, ?, 'student', 'active', ?, 1)",
      ids.map((id, i) => [mint(), id, `zolkiewski${i}`, sealText(config.key, id, 'puffin-harbor-42')]),
      tx,
    );
  });
  await db.close();
  const server = await ServerProcess.start(config);
  try {
    const signIns = JSON.parse(readFileSync(join(dataFolder, 'demo-sign-ins.json'), 'utf8')) as DemoSignIn[];
    const { username, secret } = signIns.find(({ who }) => who.startsWith('district'))!;
    const district = await server.signIn(username, secret);
    await district.post('/api/sheaf/gather', { filter: { role: 'student' } });
    const seen = new Set<number>();
    const { seconds } = await timed(async () => {
      const { jobId } = await district.post<{ jobId: string }>('/api/prints', {
        sheaf: true,
        paper: 'A4',
        voidOlder: false,
      });
      for (;;) {
        const job = await district.get<Job>(`/api/jobs/${jobId}`);
        seen.add(job.done);
        if (job.status === 'done') return;
        if (job.status === 'failed') throw new Error(job.error?.message);
        await new Promise((next) => setTimeout(next, 100));
      }
    });
    const row = { what: '10,000 cards as a job of the server', seconds, count, unit: 'cards' };
    return { ...row, memory: server.memory(), steps: seen.size };
  } finally {
    await server.stop();
    rmSync(dataFolder, { recursive: true, force: true });
  }
}

export async function benchCards(database: LocalDatabase): Promise<void> {
  let steps = 0;
  const drawn = await timed(() =>
    pdfOf(cardSheets(count, content, order, measure), order.paper, 'Bench', () => {
      steps++;
      return new Promise((next) => setImmediate(next));
    }),
  );
  // The most that the process has used so far: nothing was drawn before.
  const memory = process.resourceUsage().maxRSS / 1024;
  const plain = await timed(() => bare(order.paper));
  const mb = (bytes: number) => `${(bytes / 1024 / 1024).toFixed(0)} MB`;
  print(
    `10,000 login cards: ${steps} states of progress, a file of ${mb(drawn.result.length)} (pdfkit alone ${mb(plain.result)}), at most ${memory.toFixed(0)} MB of memory`,
    [
      {
        what: '10,000 cards as a PDF',
        seconds: drawn.seconds,
        count,
        unit: 'cards',
        baseline: { what: 'pdfkit alone', seconds: plain.seconds },
      },
    ],
  );
  const job = await asJob(database);
  print(
    `The same asked of the server: ${job.steps} states of progress were seen; the whole server took at most ${Math.round(job.memory.peak)} MB`,
    [{ ...job, baseline: { what: 'pdfkit alone', seconds: plain.seconds } }],
  );
}
