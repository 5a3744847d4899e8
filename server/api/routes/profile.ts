/** One's own account. */
import { say } from '#core/messages/say';
import QRCode from 'qrcode';
import { z } from 'zod';
import {
  addPasskey,
  beginApp,
  beginPasskey,
  confirmApp,
  factorState,
  newRecovery,
  removeFactor,
} from '../../auth/factors';
import { changePassword, confirm, forgot, openLink, passwordByLink } from '../../auth/own';
import { endSessions, sessionsOf } from '../../auth/sessions';
import { draft, keepDraft } from '../../drafts';
import { notFound } from '../../faults';
import type { RouteName } from '../../contract';
import { id, type Routes, text } from './route';
import { joinedOne } from '../../db/joined';

const password = z.string().min(1).max(300);
const token = z.string().max(60);
const draftName = z.string().regex(/^[a-z0-9-]{1,60}$/);

export const profileRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'profile' | 'password' | 'drafts'}${string}`>
> = {
  'GET /api/profile': {
    handle: async ({ db, config, viewer }) => {
      const own = await joinedOne(db, 'account', {
        fields: ['username', 'passwordHash', 'personId'],
        of: { email: 'person.email' },
        where: { id: viewer.accountId },
      });
      if (!own) throw notFound(say('api.thisAccount'));
      const linked = await db.models.signOn.count({ where: { personId: own.personId } });
      return {
        username: own.username,
        email: own.email,
        hasPassword: own.passwordHash !== null,
        signOn: !config.signOn ? 'none' : linked > 0 ? 'linked' : 'open',
        factors: await factorState(db, viewer),
        sessions: await sessionsOf(db, viewer),
      };
    },
  },
  'POST /api/profile/sign-on': { handle: async () => Promise.reject(new Error('answered by the app')) },
  'POST /api/profile/confirm': {
    body: z.object({ password }),
    handle: async ({ db, viewer, body }) => {
      await confirm(db, viewer, body.password);
      return { ok: true };
    },
  },
  'POST /api/profile/password': {
    body: z.object({ current: z.string().max(300), next: password }),
    handle: async ({ db, viewer, body }) => {
      await changePassword(db, viewer, body.current, body.next);
      return { ok: true };
    },
  },
  'POST /api/profile/sessions/end': {
    body: z.object({ id: id.nullable() }),
    handle: async ({ db, viewer, body }) => ({ ended: await endSessions(db, viewer, body.id) }),
  },
  'POST /api/profile/app/begin': {
    handle: async ({ db, config, viewer }) => {
      const made = await beginApp(db, config, viewer);
      return { ...made, qr: await QRCode.toDataURL(made.uri, { margin: 1, width: 200 }) };
    },
  },
  'POST /api/profile/app': {
    body: z.object({ code: z.string().max(20) }),
    handle: ({ db, config, viewer, body }) => confirmApp(db, config, viewer, body.code),
  },
  'POST /api/profile/passkeys/begin': { handle: ({ db, config, viewer }) => beginPasskey(db, config, viewer) },
  'POST /api/profile/passkeys': {
    body: z.object({ token, name: text(60), response: z.unknown() }),
    handle: ({ db, config, viewer, body: { response = null, ...body } }) =>
      addPasskey(db, config, viewer, { ...body, response }),
  },
  'POST /api/profile/recovery': { handle: async ({ db, viewer }) => ({ recovery: await newRecovery(db, viewer) }) },
  'POST /api/profile/factors/remove': {
    body: z.object({ id: z.union([id, z.literal('app')]) }),
    handle: async ({ db, viewer, body }) => {
      await removeFactor(db, viewer, body.id);
      return { ok: true };
    },
  },
  'POST /api/password/forgot': {
    body: z.object({ who: text(254) }),
    handle: async ({ db, config, body, address }) => {
      await forgot(db, config, body.who, address);
      return { ok: true };
    },
  },
  'POST /api/password/open': { body: z.object({ token }), handle: ({ db, body }) => openLink(db, body.token) },
  'POST /api/password': {
    body: z.object({ token, password: z.string().max(300) }),
    handle: ({ db, body }) => passwordByLink(db, body.token, body.password),
  },
  'GET /api/drafts': {
    query: z.object({ name: draftName }),
    handle: async ({ db, viewer, query }) => ({ body: await draft(db, viewer.personId, query.name) }),
  },
  'POST /api/drafts': {
    body: z.object({ name: draftName, body: z.unknown() }),
    handle: async ({ db, viewer, body }) => ({
      savedAt: await keepDraft(db, viewer.personId, body.name, body.body ?? null),
    }),
  },
};
