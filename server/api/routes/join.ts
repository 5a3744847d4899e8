/** Join codes, joining by one, and the requests that wait for a person. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { codeOf, codes, endCode, newCode } from '../../joining/codes';
import { join } from '../../joining/join';
import { askFor, askForTransfer, requests, settle } from '../../joining/requests';
import type { RouteName } from '../../contract';
import { id, type Routes, text } from './route';

const nameText = z.string().trim().max(100);
const who = {
  familyName: nameText.optional(),
  givenName: nameText.optional(),
  number: z
    .string()
    .trim()
    .max(40)
    .regex(/^[\w .-]*$/, say('api.hasCharactersThatAStudent'))
    .nullish(),
  birthDate: z.iso.date(say('api.mustBeADateLike')).nullish(),
};

export const joinRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'join' | 'codes' | 'requests'}${string}`>
> = {
  'POST /api/join': {
    body: z.object({
      code: z.string().max(60),
      ...who,
      email: z.email(say('api.isNotAValidEmail')).max(254).nullish(),
    }),
    handle: ({ viewer, body, address, ...services }) => join(services, viewer, body, address),
  },
  'GET /api/codes': {
    query: z.object({ classId: id.optional() }),
    handle: ({ viewer, query, ...services }) => codes(services, viewer, query),
  },
  'GET /api/codes/:id': { handle: ({ viewer, params, ...services }) => codeOf(services, viewer, params.id) },
  'POST /api/codes': {
    body: z.object({
      classId: id.nullable(),
      schoolId: id.nullable(),
      days: z.number().int().min(1, say('api.mustBeAtLeastOne')).max(366, say('api.mustBeAtMostOne')),
      usesMost: z.number().int().min(1).max(5000),
      opensInDays: z.number().int().min(0).max(366).optional(),
    }),
    handle: ({ viewer, body, ...services }) => newCode(services, viewer, body),
  },
  'POST /api/codes/:id/end': {
    handle: async ({ viewer, params, ...services }) => {
      await endCode(services, viewer, params.id);
      return { ok: true };
    },
  },
  'GET /api/requests': { handle: ({ viewer, ...services }) => requests(services, viewer) },
  'POST /api/requests': {
    body: z.object({
      kind: z.enum(['missing', 'teach', 'rename']),
      classId: id,
      personId: id.optional(),
      ...who,
      note: z.string().trim().max(300).nullish(),
    }),
    handle: async ({ viewer, body, ...services }) => {
      await askFor(services, viewer, body);
      return { ok: true };
    },
  },
  'POST /api/requests/:id/transfer': {
    handle: ({ viewer, params, ...services }) => askForTransfer(services, viewer, params.id),
  },
  'POST /api/requests/:id/settle': {
    body: z.discriminatedUnion('accept', [
      z.object({ accept: z.literal(true), personId: id.nullable() }),
      z.object({ accept: z.literal(false), why: text(300) }),
    ]),
    handle: ({ viewer, params, body, ...services }) => settle(services, viewer, params.id, body),
  },
};
