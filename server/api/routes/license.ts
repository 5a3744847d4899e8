/** Products, licenses, rules, seats. */
import { z } from 'zod';
import { grades as gradeCodes } from '#core/tabular/index';
import { calendarUrl } from '../../licenses/calendar';
import { addRule, endRule, keepLicense, keepProduct, takeOver } from '../../licenses/edit';
import { notFound } from '../../faults';
import { audit } from '../../trail';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, type Routes, text } from './route';

const grade = z.enum(gradeCodes).nullable();
const maybe = (most: number) =>
  z
    .string()
    .trim()
    .max(most)
    .nullable()
    .transform((value) => value || null);
const idleDays = z.coerce.number().int().min(7).max(400);

export const licenseRoutes: Pick<
  Routes,
  Exclude<
    Extract<RouteName, `${string} /api/${'products' | 'licenses' | 'rules' | 'seats' | 'calendar'}${string}`>,
    'POST /api/products/:id/key'
  >
> = {
  'GET /api/products': {
    handle: async ({ licenses }) => ({ products: await licenses.products() }),
  },
  'POST /api/calendar': {
    handle: async ({ db, config, viewer }) => {
      const url = await calendarUrl(db, config);
      if (!url) throw notFound('This calendar');
      await audit(db, { by: viewer.personId, action: 'calendar.address', detail: 'shown' });
      return { url };
    },
  },
  'GET /api/products/:id': {
    query: z.object({ idleDays: idleDays.optional() }),
    handle: async ({ licenses, params, query }) => {
      const sheet = await licenses.product(params.id, query.idleDays ?? 90);
      if (!sheet) throw notFound('This product');
      return sheet;
    },
  },
  'POST /api/products': {
    body: z.object({
      id: id.nullable(),
      fields: z.object({
        name: text(120),
        publisher: maybe(120),
        edition: maybe(40),
        lowGrade: grade,
        highGrade: grade,
        subject: maybe(80),
        supersedes: id.nullable(),
      }),
    }),
    handle: ({ viewer, body, ...services }) => keepProduct(services, viewer, body.id, body.fields),
  },
  'POST /api/products/:id/take-over': {
    handle: ({ viewer, params, ...services }) => takeOver(services, viewer, params.id),
  },
  'POST /api/licenses': {
    body: z.object({
      id: id.nullable(),
      fields: z.object({
        productId: id,
        schoolId: id.nullable(),
        seats: z.number().int().min(1).max(1_000_000).nullable(),
        begins: z.iso.date(),
        ends: z.iso.date(),
        costCents: z.number().int().min(0).max(2_000_000_000).nullable(),
        orderNumber: maybe(60),
        trial: z.number().int().min(0).max(1),
      }),
    }),
    handle: ({ viewer, body, ...services }) => keepLicense(services, viewer, body.id, body.fields),
  },
  'POST /api/rules': {
    body: z.object({
      fields: z.object({
        productId: id,
        role: z.enum(['student', 'teacher']),
        schoolId: id.nullable(),
        grade,
        subject: maybe(80),
        classId: id.nullable(),
        urgency: z.number().int().min(1).max(3),
        begins: z.iso.date().nullable(),
      }),
    }),
    handle: ({ viewer, body, ...services }) => addRule(services, viewer, body.fields),
  },
  'POST /api/rules/:id/end': { handle: ({ viewer, params, ...services }) => endRule(services, viewer, params.id) },
  'POST /api/seats/propose': {
    body: z.object({ productIds: z.array(id).max(500), sweep: z.boolean(), idleDays }),
    handle: ({ viewer, body, ...services }) => startJob(services, 'seats.plan', body, viewer),
  },
};
