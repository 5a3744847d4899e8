/** Plans, the jobs that carry them out, the ledger and the trail. */
import { say } from '#core/messages/say';
import { isTheirWork } from '#core/authority/index';
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { withoutSecrets } from '#core/register/words';
import { mustMake } from '../../authority/check';
import { nowIso } from '../../clock';
import { openingKind } from '../../plans/apply';
import { jobById } from '../../jobs/queue';
import { asOf } from '../../people/asof.queries';
import { asOfLists, asOfTable } from '../../people/asof-lists.queries';
import { unmerge } from '../../people/merge';
import { changePage, changesOf, planHead, type PlanHead, remaining } from '../../plans/store';
import { Fault, notFound } from '../../faults';
import type { Services, Viewer } from '../../services';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, plain, type Routes, text } from './route';
import { ledgerRows } from '../../plans/history';
import { trailRows } from '../../plans/queries';
import { spokenName } from '#core/register/index';

export async function planOf({
  db,
  viewer,
  params,
}: Services & { viewer: Viewer; params: { id: string } }): Promise<PlanHead> {
  const head = await planHead(db, params.id);
  if (!head || !isTheirWork(viewer, head.createdBy)) throw notFound(say('api.thisPlan'));
  return head;
}

async function open(request: Services & { viewer: Viewer; params: { id: string } }): Promise<PlanHead> {
  const head = await planOf(request);
  if (head.status !== 'ready' && head.status !== 'undone')
    throw new Fault('conflict', say('api.thisPlanIsDiscardedAnd', { status: head.status }));
  return head;
}

/** Subjects left as they are, when what they change is in the way of something. */
const except = z.array(id).max(1000).optional();

export const planRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'plans' | 'jobs' | 'ledger' | 'audit'}${string}`>
> = {
  'GET /api/plans/:id': {
    handle: async (request) => {
      const { db } = request;
      const head = await planOf(request);
      const by = await db.models.person.findByPk(head.createdBy);
      const ledger = await db.models.ledger.findOne({ where: { planId: head.id }, order: [['version', 'DESC']] });
      const rest = await remaining(db, head);
      return {
        id: head.id,
        kind: head.kind,
        title: head.title,
        status: head.status,
        createdAt: head.createdAt,
        by: by && spokenName(by),
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
    query: z.object({ kind: plain(120).optional(), offset: z.coerce.number().int().min(0) }),
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
        changes: page.changes.map(withoutSecrets),
      };
    },
  },
  'POST /api/plans/:id/take-out': {
    body: z.object({ subject: id.optional(), kind: plain(120).optional(), back: z.boolean() }),
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
      await db.models.plans.update({ takenOut: JSON.stringify(takenOut) }, { where: { id: head.id } });
      return { ok: true };
    },
  },
  'POST /api/plans/:id/release': {
    body: z.object({
      code: text(200),
      reason: z.string().trim().min(5, say('api.sayBrieflyWhyThisIs')).max(500),
    }),
    handle: async (request) => {
      const { db, body, viewer } = request;
      const head = await open(request);
      if (!head.held.some(({ code }) => code === body.code)) throw notFound(say('api.thisGuard'));
      await mustMake(db, viewer.personId, null, changesOf(db, head, false));
      const releases = [
        ...head.releases.filter(({ code }) => code !== body.code),
        { ...body, by: viewer.personId, at: nowIso() },
      ];
      await db.models.plans.update({ releases: JSON.stringify(releases) }, { where: { id: head.id } });
      return { ok: true };
    },
  },
  'POST /api/plans/:id/apply': {
    body: z.object({ except }).default({}),
    handle: async (request) => {
      const head = await open(request);
      await mayApply(request, head, 'apply');
      return startJob(request, 'plan.apply', { planId: head.id, ...request.body }, request.viewer);
    },
  },
  'POST /api/plans/:id/undo': {
    body: z.object({ oldPasswords: z.boolean().optional(), except }).default({}),
    handle: async (request) => {
      const head = await planOf(request);
      if (head.status !== 'applied') throw new Fault('conflict', say('api.onlyAnAppliedPlanCan'));
      if (head.kind === openingKind) throw new Fault('conflict', say('api.thisPlanSetUpThe'));
      await mayApply(request, head, 'undo');
      return startJob(request, 'plan.undo', { planId: head.id, ...request.body }, request.viewer);
    },
  },
  'POST /api/plans/:id/unmerge': { handle: (request) => unmerge(request, request.viewer, request.params.id) },
  'POST /api/plans/:id/set-aside': {
    handle: async (request) => {
      const head = await open(request);
      const { intakes, plans } = request.db.models;
      await plans.update({ status: 'set-aside' }, { where: { id: head.id, status: ['ready', 'undone'] } });
      if (head.intakeId) await intakes.update({ status: 'open' }, { where: { id: head.intakeId, status: 'planned' } });
      return { ok: true };
    },
  },

  'GET /api/jobs/:id': {
    handle: async ({ db, viewer, params }) => {
      const found = await jobById(db, params.id);
      if (!found || !isTheirWork(viewer, found.by)) throw notFound(say('api.thisJob'));
      return found.job;
    },
  },
  'GET /api/ledger': {
    query: z.object({ before: id.optional(), q: z.string().max(100).optional(), day: z.iso.date().optional() }),
    handle: ({ db, viewer, query }) => ledgerRows(db, viewer, query),
  },
  'GET /api/ledger/as-of': {
    query: z.object({
      day: z.iso.date(),
      school: id.optional(),
      grade: z.enum(gradeCodes).optional(),
      q: z.string().max(100).optional(),
      after: id.optional(),
    }),
    handle: ({ db, viewer, query }) => asOf(db, viewer, query),
  },
  'GET /api/ledger/as-of/list': {
    query: z.object({
      list: z.enum(asOfLists),
      day: z.iso.date(),
      school: id.optional(),
      q: z.string().max(100).optional(),
    }),
    handle: ({ db, viewer, query }) => asOfTable(db, viewer, query),
  },
  'GET /api/audit': {
    query: z.object({ before: id.optional() }),
    handle: ({ db, viewer, query }) => trailRows(db, viewer, query.before ?? null),
  },
};

/** What would be refused is refused at once, not by its job: a held plan, and one whose changes are not theirs to make now. */
async function mayApply(
  { db, viewer }: Services & { viewer: Viewer },
  head: PlanHead,
  action: 'apply' | 'undo',
): Promise<void> {
  const released = new Set(head.releases.map(({ code }) => code));
  const held = action === 'apply' ? head.held.find(({ code }) => !released.has(code)) : undefined;
  if (held) throw new Fault('conflict', say('api.aGuardIsHoldingThis', { message: held.message }));
  await mustMake(db, viewer.personId, null, changesOf(db, head, action === 'undo'));
}
