/** The handlers, route by route. What comes in is checked with Zod here; what they do lives in the rooms beside. */
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { fold } from '#core/names/index';
import { keyOf } from '#core/plan/index';
import { secretFields } from '#core/register/index';
import { passwordError } from '../auth/password';
import { sheafIds, gather, letGo, sheafState } from '../people/sheaf';
import { classList, editPerson, mine, personSheet, reveal } from '../people/sheet';
import { peopleFacets, peoplePage, idsOf } from '../people/list';
import { nowIso } from '../clock';

import { district } from '../district';
import { firstRun, setUp } from '../setup';
import { handouts, ribbon, today } from '../today';
import { emptyDraft, intakeList, intakeRecord, type IntakeRecord } from '../intake/reader';
import { changePage, changesOf, mint, planHead, type PlanHead, remaining } from '../plans/store';
import { enqueue, jobById, shownJob } from '../jobs/queue';
import { Fault, notFound, type Services, type Viewer } from './context';
import type { Api, AuditRow, LedgerRow, Me, RouteName } from './contract';

type BodyOf<R extends RouteName> = Api[R] extends { body: infer B } ? B : undefined;
type QueryOf<R extends RouteName> = Api[R] extends { query: infer Q } ? Q : undefined;

export interface Request<R extends RouteName> extends Services {
  /** For routes open to anyone there may be nobody. */
  viewer: Viewer;
  params: { id: string };
  body: BodyOf<R>;
  query: QueryOf<R>;
  address: string;
}

export interface Route<R extends RouteName> {
  body?: z.ZodType<BodyOf<R>>;
  query?: z.ZodType<QueryOf<R>>;
  /** Takes the bytes of the body as they are, see upload. */
  handle: (request: Request<R>) => Promise<Api[R]['out']>;
}

const id = z.string().length(26);
const flag = z.stringbool().optional();
const filterShape = {
  q: z.string().max(100).optional(),
  school: id.optional(),
  grade: z.enum(gradeCodes).optional(),
  classId: id.optional(),
  role: z.enum(['student', 'staff']).optional(),
  lacks: z.enum(['class', 'card', 'signed-in']).optional(),
  status: z.enum(['active', 'left']).optional(),
};
const queryFilter = z.object({ ...filterShape, gathered: flag });
const field = z.enum([
  'number',
  'familyName',
  'givenName',
  'middleName',
  'fullName',
  'birthDate',
  'grade',
  'className',
  'schoolName',
  'email',
  'guardianEmail',
  'skip',
]);
const index = z.coerce.number().int().min(0).max(511);
const draftSchema = z.object({
  hints: z.object({
    encoding: z.enum(['utf-8', 'utf-16le', 'utf-16be', 'windows-1252']).optional(),
    delimiter: z.enum([',', ';', '\t', '|']).optional(),
    headerLine: z.number().int().min(1).nullable().optional(),
    columns: z.record(index, field).optional(),
    dateOrder: z.enum(['ymd', 'dmy', 'mdy']).optional(),
  }),
  repairs: z.record(z.coerce.number().int().min(1), z.record(index, z.string().max(500))),
  leftOut: z.array(z.number().int()).max(100_000),
  schoolId: id.nullable(),
  complete: z.boolean(),
});
const text = (most: number) => z.string().trim().min(1, 'is empty').max(most);

/** Changes whose after or before hold these are shown without them. */
const withoutSecrets = <T extends object>(fields: T): T =>
  Object.fromEntries(
    Object.entries(fields).map(([key, value]) => [key, secretFields.has(key) && value !== null ? '•••' : value]),
  ) as T;

function inScope(viewer: Viewer, schoolId: string | null): boolean {
  return viewer.role === 'district' || (schoolId !== null && viewer.schoolIds.includes(schoolId));
}

async function intakeOf({
  db,
  viewer,
  params,
}: Services & { viewer: Viewer; params: { id: string } }): Promise<IntakeRecord> {
  const record = await intakeRecord(db, params.id);
  if (!record || (viewer.role !== 'district' && record.createdBy !== viewer.personId)) throw notFound('This file');
  return record;
}

async function planOf({
  db,
  viewer,
  params,
}: Services & { viewer: Viewer; params: { id: string } }): Promise<PlanHead> {
  const head = await planHead(db, params.id);
  if (!head || (viewer.role !== 'district' && head.createdBy !== viewer.personId)) throw notFound('This plan');
  return head;
}

async function open(request: Services & { viewer: Viewer; params: { id: string } }): Promise<PlanHead> {
  const head = await planOf(request);
  if (head.status !== 'ready' && head.status !== 'undone')
    throw new Fault(409, `This plan is ${head.status}; it can no longer be changed.`);
  return head;
}

async function startJob(
  services: Services,
  kind: Parameters<typeof enqueue>[1],
  input: object,
  viewer: Viewer,
): Promise<{ jobId: string }> {
  const jobId = await enqueue(services.db, kind, input, viewer.personId);
  services.nudge();
  return { jobId };
}

/** A school coordinator may send files for their own schools alone, so the draft names one. */
function draftInScope(viewer: Viewer, schoolId: string | null): void {
  if (!inScope(viewer, schoolId))
    throw new Fault(403, 'Choose one of your own schools as the school that the file is about.');
}

const personName = (alias: string): string => `CONCAT(${alias}.givenName, ' ', ${alias}.familyName)`;

export const routes: { [R in RouteName]: Route<R> } = {
  'GET /healthz': {
    handle: async ({ db }) => {
      const row = await db.one<{ n: number; version: string }>(
        'SELECT COUNT(*) AS n, VERSION() AS version FROM migrations',
      );
      return {
        status: 'ok',
        database: `up, MariaDB ${row?.version.split('-')[0]}`,
        migrations: row?.n ?? 0,
        version: '0.1.0',
      };
    },
  },
  'GET /api/setup': { handle: ({ db }) => firstRun(db) },
  'POST /api/setup': {
    body: z.object({
      district: text(200),
      school: text(200),
      lowGrade: z.enum(gradeCodes),
      highGrade: z.enum(gradeCodes),
      givenName: text(100),
      familyName: text(100),
      username: z.string().regex(/^[a-z0-9._-]{2,64}$/, 'takes small letters, digits, dots and hyphens, at least two'),
      password: z.string(),
    }),
    handle: async ({ db, config, body }) => {
      const bad = passwordError(body.password);
      if (bad) throw new Fault(422, bad);
      await setUp(db, config, body);
      return { ok: true };
    },
  },
  // Both set a cookie, which the app does with what they return; see app.
  'POST /api/sign-in': {
    body: z.object({ username: text(200), secret: z.string().min(1).max(300) }),
    handle: async () => Promise.reject(new Error('answered by the app')),
  },
  'POST /api/sign-in/card': {
    body: z.object({ code: text(500) }),
    handle: async () => Promise.reject(new Error('answered by the app')),
  },
  'POST /api/sign-out': { handle: async () => Promise.reject(new Error('answered by the app')) },

  'GET /api/me': {
    handle: async ({ db, config, viewer }) => {
      const here = await district(db);
      const person = await db.one<{ givenName: string; familyName: string }>(
        'SELECT givenName, familyName FROM people WHERE id = :id',
        { id: viewer.personId },
      );
      const schools =
        viewer.role === 'student' ? [] : await db.select<Me['schools'][number]>('SELECT * FROM schools ORDER BY name');
      if (!here || !person) throw notFound('This account');
      return {
        personId: viewer.personId,
        name: `${person.givenName[0]}. ${person.familyName}`,
        role: viewer.role,
        district: here.name,
        today: config.today(),
        year: here.settings.year,
        schools: schools.filter((school) => inScope(viewer, school.id)),
      };
    },
  },
  'GET /api/mine': { handle: ({ db, viewer }) => mine(db, viewer) },
  'GET /api/ribbon': {
    handle: async ({ db, viewer }) => {
      const ticks = await ribbon(db, (await district(db))!);
      // Which plans there were is not for teachers.
      return viewer.role === 'teacher' ? ticks.filter(({ kind }) => kind === 'year') : ticks;
    },
  },
  'GET /api/today': { handle: ({ db, viewer }) => today(db, viewer) },

  'GET /api/people': {
    query: z.object({
      ...filterShape,
      gathered: flag,
      sort: z.enum(['family', 'given', 'number', 'grade', 'username']).optional(),
      desc: flag,
      after: z.string().max(2000).optional(),
      limit: z.coerce.number().int().min(1).max(1000).optional(),
    }),
    handle: ({ db, viewer, query: { sort = 'family', desc = false, after, limit = 200, ...filter } }) =>
      peoplePage(db, viewer, filter, { sort, desc, after, limit }),
  },
  'GET /api/people/facets': { query: queryFilter, handle: ({ db, viewer, query }) => peopleFacets(db, viewer, query) },
  'GET /api/people/:id': { handle: ({ db, viewer, params }) => personSheet(db, viewer, params.id) },
  'POST /api/people/:id/edit': {
    body: z
      .object({
        field: z.enum(['givenName', 'middleName', 'familyName', 'number', 'birthDate', 'email', 'guardianEmail']),
        before: z.string().max(254).nullable(),
        after: z
          .string()
          .trim()
          .max(200)
          .nullable()
          .transform((value) => value || null),
      })
      .refine(
        ({ field: name, after }) => name !== 'birthDate' || after === null || z.iso.date().safeParse(after).success,
        'A birth date is a day as in 2017-05-04.',
      ),
    handle: ({ viewer, params, body, ...services }) => editPerson(services, viewer, params.id, body),
  },
  'POST /api/people/:id/reveal': {
    body: z.object({ why: text(300) }),
    handle: ({ viewer, params, body, ...services }) => reveal(services, viewer, params.id, body.why),
  },
  'GET /api/classes': {
    query: z.object({ school: id.optional(), grade: z.enum(gradeCodes).optional(), q: z.string().max(100).optional() }),
    handle: ({ db, viewer, query }) => classList(db, viewer, query),
  },

  'GET /api/sheaf': { handle: ({ db, viewer }) => sheafState(db, viewer) },
  'POST /api/sheaf/gather': {
    body: z.object({
      ids: z.array(id).max(50_000).optional(),
      filter: z.object({ ...filterShape, gathered: z.boolean().optional() }).optional(),
    }),
    handle: async ({ db, viewer, body }) => {
      await gather(db, viewer, body);
      return sheafState(db, viewer);
    },
  },
  'POST /api/sheaf/let-go': {
    body: z.object({ ids: z.array(id).max(50_000).optional(), all: z.boolean().optional() }),
    handle: async ({ db, viewer, body }) => {
      await letGo(db, viewer, body);
      return sheafState(db, viewer);
    },
  },
  'POST /api/sheaf/secrets': {
    handle: async ({ viewer, ...services }) => {
      const personIds = await sheafIds(services.db, viewer.personId);
      if (personIds.length === 0) throw new Fault(422, 'Nobody is gathered.');
      return startJob(services, 'secrets.plan', { personIds }, viewer);
    },
  },

  'GET /api/intakes': {
    handle: async ({ db, viewer }) =>
      (await intakeList(db))
        .filter((record) => viewer.role === 'district' || record.createdBy === viewer.personId)
        .map(({ head }) => head),
  },
  'POST /api/intakes': {
    query: z.object({ name: text(300) }),
    handle: async () => Promise.reject(new Error('answered by the app')),
  },
  'GET /api/intakes/:id': {
    handle: async (request) => {
      await intakeOf(request);
      return request.intake.preview(request.params.id);
    },
  },
  'POST /api/intakes/:id/draft': {
    body: draftSchema,
    handle: async (request) => {
      const { head } = await intakeOf(request);
      const { db, body, viewer } = request;
      if (head.status === 'applied')
        throw new Fault(409, 'This file was applied. Undo that first, or open the file again.');
      if (body.schoolId !== null || viewer.role !== 'district') draftInScope(viewer, body.schoolId);
      const savedAt = nowIso();
      await db.run(
        "UPDATE intakes SET draft = :draft, schoolId = :schoolId, savedAt = :savedAt, status = 'open' WHERE id = :id",
        { draft: JSON.stringify(body), schoolId: body.schoolId, savedAt, id: head.id },
      );
      // A plan made from an older draft is no longer what the sheet shows.
      if (head.planId)
        await db.run("UPDATE plans SET status = 'set-aside' WHERE id = :id AND status = 'ready'", { id: head.planId });
      return { savedAt };
    },
  },
  'GET /api/intakes/:id/rows': {
    query: z.object({
      from: z.coerce.number().int().min(0),
      count: z.coerce.number().int().min(1).max(500),
      only: z.enum(['problems', 'waits', 'new', 'changed', 'same']).optional(),
    }),
    handle: async (request) => {
      await intakeOf(request);
      const { from, count, only } = request.query;
      return request.intake.rows(request.params.id, from, count, only);
    },
  },
  'POST /api/intakes/:id/plan': {
    handle: async (request) => {
      const { head, draft } = await intakeOf(request);
      if (head.status === 'applied') throw new Fault(409, 'This file was applied already.');
      if (request.viewer.role !== 'district') draftInScope(request.viewer, draft.schoolId);
      return startJob(request, 'intake.plan', { intakeId: head.id }, request.viewer);
    },
  },
  'POST /api/intakes/:id/set-aside': {
    handle: async (request) => {
      const { head } = await intakeOf(request);
      await request.db.run("UPDATE intakes SET status = 'set-aside' WHERE id = :id AND status <> 'applied'", {
        id: head.id,
      });
      return { ok: true };
    },
  },

  'GET /api/plans/:id': {
    handle: async (request) => {
      const { db } = request;
      const head = await planOf(request);
      const by = await db.one<{ name: string }>(`SELECT ${personName('p')} AS name FROM people p WHERE p.id = :id`, {
        id: head.createdBy,
      });
      const ledger = await db.one<{ id: string }>('SELECT id FROM ledger WHERE planId = :id ORDER BY id DESC LIMIT 1', {
        id: head.id,
      });
      const rest = await remaining(db, head);
      return {
        id: head.id,
        kind: head.kind,
        title: head.title,
        status: head.status,
        createdAt: head.createdAt,
        by: by?.name ?? null,
        total: head.summary,
        remaining: rest.summary,
        sentence: rest.sentence,
        held: head.held.map((held) => ({
          ...held,
          released: head.releases.find(({ code }) => code === held.code) ?? null,
        })),
        takenOut: head.takenOut,
        waiting: head.waiting,
        intakeId: head.intakeId,
        ledgerId: ledger?.id ?? null,
      };
    },
  },
  'GET /api/plans/:id/changes': {
    query: z.object({ kind: z.string().max(120).optional(), offset: z.coerce.number().int().min(0) }),
    handle: async (request) => {
      const page = await changePage(
        request.db,
        await planOf(request),
        request.query.kind ?? null,
        request.query.offset,
        200,
      );
      return {
        ...page,
        changes: page.changes.map((change) => ({
          ...change,
          before: withoutSecrets(change.before),
          after: withoutSecrets(change.after),
        })),
      };
    },
  },
  'POST /api/plans/:id/take-out': {
    body: z.object({ subject: id.optional(), kind: z.string().max(120).optional(), back: z.boolean() }),
    handle: async (request) => {
      const { db, body } = request;
      const head = await open(request);
      const change = (list: string[] | undefined, item: string | undefined) => {
        const rest = (list ?? []).filter((other) => other !== item);
        return item && !body.back ? [...rest, item] : rest;
      };
      const takenOut = {
        ...head.takenOut,
        subjects: change(head.takenOut.subjects, body.subject),
        kinds: change(head.takenOut.kinds, body.kind),
      };
      await db.run('UPDATE plans SET takenOut = :takenOut WHERE id = :id', {
        takenOut: JSON.stringify(takenOut),
        id: head.id,
      });
      return { ok: true };
    },
  },
  'POST /api/plans/:id/release': {
    body: z.object({
      code: text(200),
      reason: z.string().trim().min(5, 'Say in a few words why this is right.').max(500),
    }),
    handle: async (request) => {
      const { db, body, viewer } = request;
      const head = await open(request);
      if (!head.held.some(({ code }) => code === body.code)) throw notFound('This guard');
      const releases = [
        ...head.releases.filter(({ code }) => code !== body.code),
        { ...body, by: viewer.personId, at: nowIso() },
      ];
      await db.run('UPDATE plans SET releases = :releases WHERE id = :id', {
        releases: JSON.stringify(releases),
        id: head.id,
      });
      return { ok: true };
    },
  },
  'POST /api/plans/:id/apply': {
    handle: async (request) => {
      const head = await open(request);
      await mayApply(request, head);
      return startJob(request, 'plan.apply', { planId: head.id }, request.viewer);
    },
  },
  'POST /api/plans/:id/undo': {
    handle: async (request) => {
      const head = await planOf(request);
      if (head.status !== 'applied') throw new Fault(409, 'Only a plan that was applied can be undone.');
      return startJob(request, 'plan.undo', { planId: head.id }, request.viewer);
    },
  },
  'POST /api/plans/:id/set-aside': {
    handle: async (request) => {
      const head = await open(request);
      await request.db.run("UPDATE plans SET status = 'set-aside' WHERE id = :id AND status IN ('ready', 'undone')", {
        id: head.id,
      });
      if (head.intakeId)
        await request.db.run("UPDATE intakes SET status = 'open' WHERE id = :id AND status = 'planned'", {
          id: head.intakeId,
        });
      return { ok: true };
    },
  },

  'GET /api/jobs/:id': {
    handle: async ({ db, viewer, params }) => {
      const job = await jobById(db, params.id);
      if (!job || (viewer.role !== 'district' && job.byPersonId !== viewer.personId)) throw notFound('This job');
      return shownJob(job);
    },
  },
  'GET /api/ledger': {
    query: z.object({ before: id.optional() }),
    handle: async ({ db, viewer, query }) => {
      const rows = await db.select<Omit<LedgerRow, 'canUndo'> & { latest: string; status: string }>(
        `SELECT l.id, l.planId, pl.title, l.action, ${personName('p')} AS \`by\`, l.at, l.changes, l.sentence, pl.status,
           (SELECT MAX(o.id) FROM ledger o WHERE o.planId = l.planId) AS latest
         FROM ledger l JOIN plans pl ON pl.id = l.planId LEFT JOIN people p ON p.id = l.byPersonId
         WHERE ${viewer.role === 'district' ? '1 = 1' : 'pl.createdBy = :me'} ${query.before ? 'AND l.id < :before' : ''} ORDER BY l.id DESC LIMIT 200`,
        { me: viewer.personId, before: query.before ?? null },
      );
      return rows.map(({ latest, status, ...row }) => ({
        ...row,
        canUndo: row.action === 'apply' && status === 'applied' && latest === row.id,
      }));
    },
  },
  'GET /api/audit': {
    query: z.object({ before: id.optional() }),
    handle: ({ db, viewer, query }) =>
      db.select<AuditRow>(
        `SELECT au.id, au.at, ${personName('b')} AS \`by\`, au.action, ${personName('p')} AS about, au.detail FROM audit au LEFT JOIN people b ON b.id = au.byPersonId LEFT JOIN people p ON p.id = au.aboutPersonId
         WHERE ${viewer.role === 'district' ? '1 = 1' : 'au.byPersonId = :me'} ${query.before ? 'AND au.id < :before' : ''} ORDER BY au.id DESC LIMIT 200`,
        { me: viewer.personId, before: query.before ?? null },
      ),
  },

  'GET /api/handouts': { handle: ({ db, viewer }) => handouts(db, viewer) },
  'POST /api/prints': {
    body: z.object({
      classId: id.optional(),
      sheaf: z.boolean().optional(),
      onlyOutdated: z.boolean().optional(),
      paper: z.enum(['A4', 'Letter']),
      voidOlder: z.boolean(),
    }),
    handle: async ({ viewer, body, ...services }) => {
      const filter = {
        role: 'student' as const,
        ...(body.classId ? { classId: body.classId } : { gathered: true }),
        ...(body.onlyOutdated ? { lacks: 'card' as const } : {}),
      };
      if (!body.classId && !body.sheaf) throw new Fault(422, 'Choose a class, or gather people first.');
      const personIds = await idsOf(services.db, viewer, filter);
      if (personIds.length === 0)
        throw new Fault(
          422,
          body.onlyOutdated ? 'All of them have a card that holds.' : 'There is nobody to print a card for.',
        );
      const name = body.classId
        ? await services.db.one<{ name: string }>('SELECT name FROM classes WHERE id = :id', { id: body.classId })
        : null;
      const what = name ? `class ${name.name}` : `${personIds.length} gathered people`;
      return {
        ...(await startJob(
          services,
          'cards.print',
          { personIds, paper: body.paper, voidOlder: body.voidOlder, what },
          viewer,
        )),
        cards: personIds.length,
      };
    },
  },
};

/** A held plan is refused at once, not by its job; a school coordinator's plan must stay within their schools. */
async function mayApply(request: Services & { viewer: Viewer }, head: PlanHead): Promise<void> {
  const released = new Set(head.releases.map(({ code }) => code));
  const held = head.held.find(({ code }) => !released.has(code));
  if (held) throw new Fault(409, `A guard holds this plan. ${held.message}. Release it with a reason first.`);
  if (request.viewer.role === 'district') return;
  const schools = new Set(request.viewer.schoolIds);
  for await (const changes of changesOf(request.db, head, false)) {
    const stray = changes.find(
      ({ entity, op, after }) => entity === 'affiliation' && op === 'create' && !schools.has(String(after.schoolId)),
    );
    if (stray) throw new Fault(403, `${stray.label} would go to a school that is not yours (${keyOf(stray)}).`);
  }
}

/** Takes a file in: its bytes as they are, to be read later. */
export async function takeIn(
  { db }: Services,
  viewer: Viewer,
  fileName: string,
  bytes: Buffer,
): Promise<{ id: string }> {
  const intakeId = mint();
  const now = nowIso();
  const schools = await db.select<{ id: string; name: string }>('SELECT id, name FROM schools');
  const mine = schools.filter((school) => inScope(viewer, school.id));
  const schoolId = mine.length === 1 ? mine[0]!.id : schoolNamed(mine, fileName, bytes);
  const row = [
    intakeId,
    fileName,
    bytes,
    bytes.length,
    schoolId,
    viewer.personId,
    now,
    now,
    JSON.stringify(emptyDraft(schoolId)),
  ];
  // Sent as it is: written into the statement's text, a large file would take several times its size.
  await db.transaction((tx) =>
    db.batch(
      "INSERT INTO intakes (id, fileName, bytes, size, schoolId, createdBy, createdAt, savedAt, status, draft) VALUES (?, ?, ?, ?, ?, ?, ?, ?, 'open', ?)",
      [row],
      tx,
    ),
  );
  return { id: intakeId };
}

/** The one school whose name stands in the file's name or its first lines: a guess that the sheet shows and that can be changed. */
function schoolNamed(schools: { id: string; name: string }[], fileName: string, bytes: Buffer): string | null {
  const start = fold(
    `${fileName} ${bytes
      .subarray(0, 600)
      .toString('latin1')
      .replaceAll('\0', '')
      .split(/\r?\n|\r/)
      .slice(0, 3)
      .join(' ')}`,
  );
  const named = schools.filter(({ name }) => ` ${start} `.includes(` ${fold(name)} `));
  return named.length === 1 ? named[0]!.id : null;
}
