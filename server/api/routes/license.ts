/** Products, licenses, rules, seats. */
import { say } from '#core/messages/say';
import { sheetFor } from '../../licenses/sight';
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { calendarUrl } from '../../licenses/calendar';
import { endRule, keepLicense, keepProduct, keepRule, takeOver } from '../../licenses/edit';
import { knownSubjects } from '../../licenses/subjects';
import { notFound } from '../../faults';
import { audit } from '../../trail';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, type Routes } from './route';
import { declared } from './declared';

const grade = z.enum(gradeCodes).nullable();
const several = z.array(id).max(500);
const someGrades = z.array(z.enum(gradeCodes)).max(gradeCodes.length);
const someSubjects = z.array(z.string().trim().min(1).max(80)).max(100);
const idleDays = z.coerce.number().int().min(7).max(400);

export const licenseRoutes: Pick<
  Routes,
  Exclude<
    Extract<
      RouteName,
      `${string} /api/${'products' | 'subjects' | 'licenses' | 'rules' | 'seats' | 'calendar'}${string}`
    >,
    'POST /api/products/:id/key'
  >
> = {
  'GET /api/products': {
    handle: async ({ licenses }) => ({ products: await licenses.products() }),
  },
  'GET /api/subjects': { handle: async ({ db }) => ({ subjects: await knownSubjects(db) }) },
  'POST /api/calendar': {
    handle: async ({ db, config, viewer }) => {
      const url = await calendarUrl(db, config);
      if (!url) throw notFound(say('api.thisCalendar'));
      await audit(db, { by: viewer.personId, action: 'calendar.address', detail: 'shown' });
      return { url };
    },
  },
  'GET /api/products/:id': {
    query: z.object({ idleDays: idleDays.optional() }),
    handle: async ({ licenses, viewer, params, query }) => {
      const sheet = await licenses.product(params.id, query.idleDays ?? 90);
      if (!sheet) throw notFound(say('api.thisProduct'));
      return sheetFor(viewer, sheet);
    },
  },
  'POST /api/products': {
    body: z.object({
      id: id.nullable(),
      fields: declared('product', [
        'name',
        'publisher',
        'edition',
        'lowGrade',
        'highGrade',
        'subject',
        'supersedes',
      ]).extend({ lowGrade: grade, highGrade: grade }),
    }),
    handle: ({ viewer, body, ...services }) => keepProduct(services, viewer, body.id, body.fields),
  },
  'POST /api/products/:id/take-over': {
    handle: ({ viewer, params, ...services }) => takeOver(services, viewer, params.id),
  },
  'POST /api/licenses': {
    body: z.object({
      id: id.nullable(),
      fields: declared('license', [
        ...(['productId', 'schoolId', 'seats', 'begins', 'ends', 'costCents', 'orderNumber', 'trial'] as const),
      ]).extend({
        seats: z.number().int().min(1).max(1_000_000).nullable(),
        costCents: z.number().int().min(0).max(2_000_000_000).nullable(),
        trial: z.number().int().min(0).max(1),
      }),
    }),
    handle: ({ viewer, body, ...services }) => keepLicense(services, viewer, body.id, body.fields),
  },
  'POST /api/rules': {
    body: z.object({
      id: id.nullable(),
      fields: declared('rule', ['productId', 'role', 'urgency', 'begins']).extend({
        urgency: z.number().int().min(1).max(3),
        ...{ schools: several, grades: someGrades, subjects: someSubjects, classes: several },
        except: z.object({ schools: several, grades: someGrades, classes: several }),
      }),
    }),
    handle: ({ viewer, body, ...services }) => keepRule(services, viewer, body.id, body.fields),
  },
  'POST /api/rules/:id/end': { handle: ({ viewer, params, ...services }) => endRule(services, viewer, params.id) },
  'POST /api/seats/propose': {
    body: z.object({ productIds: z.array(id).max(500), sweep: z.boolean(), idleDays }),
    handle: ({ viewer, body, ...services }) => startJob(services, 'seats.plan', body, viewer),
  },
};
