/** Devices, loans, carts, bookings, scans. */
import { say } from '#core/messages/say';
import { inScope } from '#core/authority/index';
import { z } from 'zod';
import { deviceFields } from '#core/devices/index';
import { carts } from '../../devices/carts';
import {
  addCart,
  book,
  editDevice,
  endBooking,
  lend,
  moveBooking,
  planDevices,
  previewInventory,
  takeBack,
} from '../../devices/edit';
import { deviceFacets, devicePage, deviceSheet } from '../../devices/list';
import { deviceOverview } from '../../devices/overview';
import { takeScans } from '../../devices/scans';
import { Fault } from '../../faults';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, type Routes, text } from './route';
import { declared } from './declared';

const day = z.iso.date();
const filter = {
  school: id.optional(),
  model: z.string().max(80).optional(),
  where: z.enum(['out', 'free', 'late', 'repair', 'missing']).optional(),
  cart: id.optional(),
  q: z.string().max(60).optional(),
};
export const deviceFilter = z.object(filter);
const inventory = z
  .object({
    file: z.object({ name: text(300), base64: z.string().max(30_000_000) }).nullable(),
    text: z.string().max(20_000_000),
    schoolId: id.nullable(),
    picked: z.record(z.coerce.number().int(), z.enum(deviceFields).nullable()),
  })
  .refine((order) => order.file !== null || order.text.trim() !== '', say('api.chooseAFileOrPaste'));

export const deviceRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'devices' | 'inventory' | 'carts' | 'bookings' | 'scans'}${string}`>
> = {
  'GET /api/devices': {
    query: z.object({
      ...filter,
      after: z.string().max(40).optional(),
      limit: z.coerce.number().int().min(1).max(1000).optional(),
    }),
    handle: ({ db, config, viewer, query: { after, limit = 200, ...rest } }) =>
      devicePage(db, viewer, rest, { after, limit, today: config.today() }),
  },
  'GET /api/devices/facets': {
    query: z.object(filter),
    handle: ({ db, config, viewer, query }) => deviceFacets(db, viewer, query, config.today()),
  },
  'GET /api/devices/overview': {
    query: z.object({ school: id.optional() }),
    handle: ({ db, config, viewer, query }) => deviceOverview(db, config, viewer, query.school ?? null),
  },
  'GET /api/devices/:id': {
    handle: ({ db, config, viewer, params }) => deviceSheet(db, viewer, params.id, config.today()),
  },
  'POST /api/devices/:id/edit': {
    body: z
      .object({
        field: z.enum([
          'tag',
          'serial',
          'model',
          'boughtOn',
          'warrantyEnds',
          'updatesEnd',
          'condition',
          'cartId',
          'slot',
          'room',
        ]),
        before: z.union([z.string().max(100), z.number(), z.null()]),
        after: z.union([
          z
            .string()
            .trim()
            .max(60)
            .transform((value) => value || null),
          z.number().int().min(1).max(500),
          z.null(),
        ]),
      })
      .refine(
        ({ field, after }) => after === null || (field === 'slot') === (typeof after === 'number'),
        say('api.aSlotMustBeA'),
      )
      .refine(
        ({ field, after }) => !/On$|Ends?$/.test(field) || after === null || day.safeParse(after).success,
        say('api.enterADateLike'),
      ),
    handle: ({ viewer, params, body, ...services }) => editDevice(services, viewer, params.id, body),
  },
  'POST /api/devices/:id/lend': {
    body: declared('loan', ['personId', 'kind', 'due']),
    handle: ({ viewer, params, body, ...services }) => lend(services, viewer, params.id, body),
  },
  'POST /api/devices/:id/back': { handle: ({ viewer, params, ...services }) => takeBack(services, viewer, params.id) },
  'POST /api/devices/assign': {
    body: z.object({ school: id.nullable() }),
    handle: ({ viewer, body, ...services }) => {
      if (!inScope(viewer, body.school)) throw new Fault('not-allowed', say('api.chooseYourSchoolFirstThe'));
      return startJob(services, 'devices.plan', body, viewer);
    },
  },
  'POST /api/inventory/preview': {
    body: inventory,
    handle: ({ viewer, body, ...services }) => previewInventory(services, viewer, body),
  },
  'POST /api/inventory/plan': {
    body: inventory,
    handle: ({ viewer, body, ...services }) => planDevices(services, viewer, body),
  },
  'GET /api/carts': {
    query: z.object({ school: id.optional() }),
    handle: ({ db, config, viewer, query }) => carts(db, viewer, config.today(), query.school),
  },
  'POST /api/carts': {
    body: declared('cart', ['schoolId', 'name', 'slots', 'room']).extend({
      slots: z.number().int().min(1).max(200),
    }),
    handle: ({ viewer, body, ...services }) => addCart(services, viewer, body),
  },
  'POST /api/carts/fill': {
    body: z.object({ school: id.nullable() }),
    handle: ({ viewer, body, ...services }) => {
      if (!inScope(viewer, body.school)) throw new Fault('not-allowed', say('api.chooseYourSchoolFirstOther'));
      return startJob(services, 'devices.plan', { ...body, carts: true }, viewer);
    },
  },
  'POST /api/bookings': {
    body: declared('booking', ['cartId', 'classId', 'weekday', 'period', 'begins']).extend({
      weekday: z.number().int().min(1).max(5),
    }),
    handle: ({ viewer, body, ...services }) => book(services, viewer, body),
  },
  'POST /api/bookings/:id/move': {
    body: z.object({ cartId: id }),
    handle: ({ viewer, params, body, ...services }) => moveBooking(services, viewer, params.id, body.cartId),
  },
  'POST /api/bookings/:id/end': {
    handle: ({ viewer, params, ...services }) => endBooking(services, viewer, params.id),
  },
  'POST /api/scans': {
    body: z.object({
      station: id,
      scans: z
        .array(z.object({ seq: z.number().int().min(1), text: z.string().max(300), due: day.nullable() }))
        .max(500),
    }),
    handle: ({ viewer, body, ...services }) => takeScans(services, viewer, body),
  },
};
