/** The way in, and what is the same for everybody: health, first run, signing in, who one is, Today and the ribbon. */
import { say } from '#core/messages/say';
import { isTheirs, may } from '#core/authority/index';
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { isZone } from '#core/time/index';
import { passwordError } from '../../auth/password';
import { district } from '../../district';
import { preferencesOf, preferencesSchema, setPreferences } from '../../preferences';
import { mine } from '../../people/sheet';
import { firstRun, mustHaveCode, setUp } from '../../setup';
import { classesToday } from '../../classes/today';
import { readinessWeeks } from '../../readiness/days';
import { attention } from '../../attention';
import { ribbon, today } from '../../today';
import { Fault, notFound } from '../../faults';
import type { Me, RouteName } from '../../contract';
import { id, plain, type Routes, text } from './route';

export const doorRoutes: Pick<
  Routes,
  Extract<
    RouteName,
    | `${string} /healthz`
    | `${string} /api/${'setup' | 'sign-in' | `sign-in/${string}` | 'sign-out' | 'me' | `me/${string}` | 'mine' | 'ribbon' | 'readiness' | 'today' | `today/${string}`}`
  >
> = {
  'GET /healthz': {
    handle: async ({ db, viewer }) => {
      const { migrations, version } = await db.probe().catch(() => {
        throw new Fault('unavailable', say('api.theDatabaseIsNotResponding'));
      });
      if (!viewer || !may(viewer, 'health')) return { status: 'ok' };
      return {
        status: 'ok',
        database: `up, MariaDB ${version.split('-')[0]}`,
        migrations,
        version: '0.1.0',
      };
    },
  },
  'GET /api/setup': { handle: ({ db }) => firstRun(db) },
  'POST /api/setup': {
    body: z.object({
      district: text(200),
      givenName: text(100),
      familyName: text(100),
      username: z.string().regex(/^[a-z0-9._-]{2,64}$/, say('api.needsAtLeastTwoLowercase')),
      password: z.string().max(300),
      code: z.string().max(40),
      zone: plain(64).refine(isZone, say('api.mustBeATimeZone')),
      yearBegins: z.iso.date(),
      yearEnds: z.iso.date(),
    }),
    handle: async ({ db, config, body, address }) => {
      await mustHaveCode(db, config, body.code, address);
      const bad = passwordError(body.password);
      if (bad) throw new Fault('invalid', bad);
      await setUp(db, body);
      return { ok: true };
    },
  },
  // Both set a cookie, which the app does with what they return; see app.
  'POST /api/sign-in': {
    body: z.object({ username: text(200), secret: z.string().min(1).max(300) }),
    handle: async () => Promise.reject(new Error('answered by the app')),
  },
  'POST /api/sign-in/code': {
    body: z.object({ code: text(20) }),
    handle: async () => Promise.reject(new Error('answered by the app')),
  },
  'POST /api/sign-in/passkey/begin': { handle: async () => Promise.reject(new Error('answered by the app')) },
  'POST /api/sign-in/passkey': {
    body: z.object({ response: z.unknown() }).transform(({ response = null }) => ({ response })),
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
      const person = await db.models.person.findByPk(viewer.personId);
      const schools = (await db.models.school.findAll({ order: ['name'] })).filter((one) =>
        isTheirs(viewer, 'schools', one),
      );
      if (!here || !person) throw notFound(say('api.thisAccount'));
      return {
        personId: viewer.personId,
        name: `${person.givenName[0]}. ${person.familyName}`,
        role: viewer.role as Me['role'],
        district: here.name,
        today: config.today(),
        zone: here.zone,
        year: here.year,
        mustAddFactor: viewer.mustAddFactor,
        preferences: await preferencesOf(db, viewer.personId),
        schools: schools.map((one) => one.get({ plain: true })),
      };
    },
  },
  'POST /api/me/preferences': {
    body: preferencesSchema.partial(),
    handle: ({ db, viewer, body }) => setPreferences(db, viewer.personId, body),
  },
  'GET /api/mine': { handle: ({ db, config, viewer }) => mine({ db, config }, viewer) },
  'GET /api/ribbon': {
    handle: async ({ db, config, viewer }) => {
      const ticks = await ribbon(db, config.today());
      // Which plans there were is not for teachers.
      return may(viewer, 'ledger') ? ticks : ticks.filter(({ kind }) => kind === 'year');
    },
  },
  'GET /api/readiness': {
    query: z.object({ school: id.optional() }),
    handle: ({ db, viewer, config, query }) => readinessWeeks(db, viewer, config.today(), query.school),
  },
  'GET /api/today/classes': { handle: ({ viewer, ...services }) => classesToday(services, viewer) },
  'GET /api/today': {
    query: z.object({ school: id.optional(), grade: z.enum(gradeCodes).optional(), classId: id.optional() }),
    handle: ({ roll, viewer, config, query }) => today(roll, viewer, config.today(), query),
  },
  'GET /api/today/attention': {
    query: z.object({ school: id.optional() }),
    handle: ({ viewer, query, ...services }) => attention(services, viewer, query.school),
  },
};
