/** Files being taken in. */
import { say } from '#core/messages/say';
import { inScope, isEverywhere, isTheirWork } from '#core/authority/index';
import { Op } from 'sequelize';
import { z } from 'zod';
import { fold } from '#core/names/index';
import { fields } from '#core/tabular/index';
import { grades } from '#core/tabular/values';
import { nowIso } from '../../clock';
import { rowKeyOf } from '#core/intake/index';
import { intakeList, intakeRecord, type IntakeRecord } from '../../intake/reader';
import { contentHash, storeIntake } from '../../intake/store';
import { decide } from '../../people/merge';
import { Fault, notFound } from '../../faults';
import type { Services, Viewer } from '../../services';
import { audit } from '../../trail';
import type { IntakeHead, FeedSettings, RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { flag, id, type Routes, text } from './route';

const field = z.enum(fields);
const index = z.coerce.number().int().min(0).max(511);

const shownRows = z.enum(['problems', 'waits', 'new', 'changed', 'same']);

const draftSchema = z.object({
  hints: z.object({
    sheet: z.string().max(100).optional(),
    fillDown: z.boolean().optional(),
    encoding: z.enum(['utf-8', 'utf-16le', 'utf-16be', 'windows-1252']).optional(),
    delimiter: z.enum([',', ';', '\t', '|']).optional(),
    headerLine: z.number().int().min(1).nullable().optional(),
    columns: z.record(index, field).optional(),
    dateOrder: z.enum(['ymd', 'dmy', 'mdy', 'serial']).optional(),
  }),
  repairs: z.record(z.coerce.number().int().min(1), z.record(index, z.string().max(500))),
  leftOut: z.array(z.number().int()).max(100_000),
  schoolId: id.nullable(),
  complete: z.boolean(),
  choices: z
    .record(z.coerce.number().int().min(1), z.record(z.string().max(30), z.enum(['feed', 'record'])))
    .optional(),
  fills: z.record(index, z.string().max(500)).optional(),
  apart: z.array(z.number().int()).max(100_000).optional(),
  readAsOn: z.string().max(30).optional(),
  whole: z.object({ grade: z.enum(grades).optional(), className: z.string().trim().max(120).optional() }).optional(),
  classes: z.array(z.string().max(200)).max(20_000).optional(),
  carried: z.object({ cells: z.number().int().min(0), rows: z.number().int().min(0) }).optional(),
});

async function intakeOf({
  db,
  viewer,
  params,
}: Services & { viewer: Viewer; params: { id: string } }): Promise<IntakeRecord> {
  const record = await intakeRecord(db, params.id);
  if (!record || !isTheirWork(viewer, record.createdBy)) throw notFound(say('api.thisFile'));
  return record;
}

/** Whoever has not the whole district sends files for their own schools alone, so the draft names one. */
function draftInScope(viewer: Viewer, schoolId: string | null): void {
  if (!(schoolId === null && isEverywhere(viewer)) && !inScope(viewer, schoolId))
    throw new Fault('not-allowed', say('api.chooseOneOfYourOwn'));
}

/** Whether it is applied. Throws Fault conflict where nothing of it is left to resolve. */
function mayContinue({ status, waits }: IntakeHead): boolean {
  if (status === 'applied' && waits === 0) throw new Fault('conflict', say('api.thisFileWasAlreadyApplied'));
  return status === 'applied';
}

export const intakeRoutes: Pick<Routes, Extract<RouteName, `${string} /api/intakes${string}`>> = {
  'GET /api/intakes': {
    handle: async ({ db, viewer }) =>
      (await intakeList(db)).filter((record) => isTheirWork(viewer, record.createdBy)).map(({ head }) => head),
  },
  'POST /api/intakes': {
    query: z.object({ name: text(300), feed: id.optional() }),
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
      const isApplied = mayContinue(head);
      draftInScope(viewer, body.schoolId);
      const savedAt = nowIso();
      const { intakes, plans } = db.models;
      await intakes.update(
        { draft: JSON.stringify(body), schoolId: body.schoolId, savedAt, ...(isApplied ? {} : { status: 'open' }) },
        { where: { id: head.id } },
      );
      // A plan made from an older draft is no longer what the sheet shows.
      if (head.planId) await plans.update({ status: 'set-aside' }, { where: { id: head.planId, status: 'ready' } });
      return { savedAt };
    },
  },
  'GET /api/intakes/:id/rows': {
    query: z.object({
      from: z.coerce.number().int().min(0),
      count: z.coerce.number().int().min(1).max(500),
      only: shownRows.optional(),
    }),
    handle: async (request) => {
      await intakeOf(request);
      const { from, count, only } = request.query;
      return request.intake.rows(request.params.id, from, count, only);
    },
  },
  'GET /api/intakes/:id/problem': {
    query: z.object({
      line: z.coerce.number().int().min(0),
      back: flag,
      only: shownRows.optional(),
    }),
    handle: async (request) => {
      await intakeOf(request);
      const { line, back = false, only } = request.query;
      return request.intake.problemBeside(request.params.id, line, back, only);
    },
  },
  'GET /api/intakes/:id/cells': {
    query: z.object({ find: text(200), column: index.optional(), only: shownRows.optional() }),
    handle: async (request) => {
      await intakeOf(request);
      const { find, column, only } = request.query;
      return request.intake.cellsWith(request.params.id, find, column, only);
    },
  },
  'GET /api/intakes/:id/pairs': {
    handle: async (request) => {
      await intakeOf(request);
      return request.intake.pairs(request.params.id);
    },
  },
  'POST /api/intakes/:id/decide': {
    body: z.object({ line: z.number().int().min(1), personId: id, same: z.boolean().nullable() }),
    handle: async (request) => {
      const { db, viewer, body } = request;
      const { head } = await intakeOf(request);
      const row = await request.intake.rowOf(head.id, body.line);
      if (!row) throw notFound(say('api.thisRow'));
      // Nobody is told about whom the row could not mean; what was decided can always be taken back.
      if (body.same !== null) {
        const pair = (await request.intake.pairs(head.id)).find(({ line }) => line === body.line);
        if (!pair?.candidates.some(({ person }) => person.id === body.personId)) throw notFound(say('api.thisPair'));
      }
      const rowKey = rowKeyOf(row);
      const decision = { rowKey, rowHash: contentHash(Buffer.from(rowKey)), personId: body.personId };
      await decide(db, { ...decision, same: body.same, by: viewer.personId });
      const words =
        body.same === null
          ? say('api.leftForLater')
          : body.same
            ? say('api.theSamePerson')
            : say('devices.anotherPerson');
      await audit(db, {
        by: viewer.personId,
        action: 'pair.decide',
        about: body.personId,
        detail: say('api.line', { fileName: head.fileName, line: body.line, words }),
      });
      return { ok: true };
    },
  },
  'POST /api/intakes/:id/plan': {
    handle: async (request) => {
      const { head, draft } = await intakeOf(request);
      mayContinue(head);
      draftInScope(request.viewer, draft.schoolId);
      return startJob(request, 'intake.plan', { intakeId: head.id }, request.viewer);
    },
  },
  'POST /api/intakes/:id/set-aside': {
    handle: async (request) => {
      const { head } = await intakeOf(request);
      await request.db.models.intakes.update(
        { status: 'set-aside' },
        { where: { id: head.id, status: { [Op.ne]: 'applied' } } },
      );
      return { ok: true };
    },
  },
};

/** Takes a file in: its bytes as they are, to be read later. */
export async function takeIn(
  { db, intake }: Services,
  viewer: Viewer,
  fileName: string,
  bytes: Buffer,
  feedId: string | null = null,
): Promise<{ id: string }> {
  const feed = feedId ? await db.models.feeds.findOne({ where: { id: feedId, active: 1 } }) : null;
  if (feedId && !feed) throw notFound(say('api.thisFeed'));
  const settings = feed ? (JSON.parse(feed.settings) as FeedSettings) : null;
  const schools = await db.models.school.findAll({ attributes: ['id', 'name'] });
  const mine = schools.filter((school) => inScope(viewer, school.id));
  const guessed = mine.length === 1 ? mine[0]!.id : schoolNamed(mine, fileName, bytes);
  const schoolId = settings ? settings.schoolId : guessed;
  const complete = settings?.complete ?? false;
  const id = await storeIntake(db, { fileName, bytes, schoolId, complete, feedId, by: viewer.personId });
  await intake.carry(id);
  return { id };
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
