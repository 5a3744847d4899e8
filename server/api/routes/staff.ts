/** Staff: taking in, inviting, roles. */
import { say } from '#core/messages/say';
import { z } from 'zod';
import { resetPassword } from '../../auth/own';
import { acceptInvitation, invitations, inviteAgain, linkOf, openInvitation } from '../../staff/invitations';
import { giveRole, takeInStaff } from '../../staff/staff';
import type { RouteName } from '../../contract';
import { startJob } from '../../jobs/start';
import { id, type Routes, text } from './route';

const token = z.string().max(60);
const staffRole = z.enum(['teacher', 'school', 'district']);

export const staffRoutes: Pick<
  Routes,
  Extract<RouteName, `${string} /api/${'staff' | 'invitations' | 'invited'}${string}`>
> = {
  'POST /api/staff': {
    body: z.object({
      people: z
        .array(
          z.object({
            givenName: text(100),
            familyName: text(100),
            email: z.email(say('api.isNotAValidEmail')).max(254),
            schoolId: id,
            role: staffRole,
          }),
        )
        .min(1, say('api.isEmpty'))
        .max(200),
      anyway: z.array(z.number().int().min(0)).max(200),
    }),
    handle: async ({ viewer, body, ...services }) => {
      const made = await takeInStaff(services, viewer, body);
      const { jobId } =
        made.invitationIds.length > 0 && services.config.mail
          ? await startJob(services, 'staff.invite', { ids: made.invitationIds }, viewer)
          : { jobId: null };
      return { ...made, jobId };
    },
  },
  'POST /api/staff/:id/role': {
    body: z.object({ role: staffRole }),
    handle: ({ viewer, params, body, ...services }) => giveRole(services, viewer, params.id, body.role),
  },
  'POST /api/staff/:id/invite': {
    handle: async ({ viewer, params, ...services }) => {
      const invitationId = await inviteAgain(services, viewer, params.id);
      const { jobId } = services.config.mail
        ? await startJob(services, 'staff.invite', { ids: [invitationId] }, viewer)
        : { jobId: null };
      return { invitationId, jobId };
    },
  },
  'GET /api/invitations': { handle: ({ db, viewer }) => invitations(db, viewer) },
  'POST /api/invitations/:id/link': {
    handle: ({ viewer, params, ...services }) => linkOf(services, viewer, params.id),
  },
  'POST /api/staff/:id/reset': {
    handle: async ({ db, config, viewer, params }) => {
      await resetPassword(db, config, viewer, params.id);
      return { ok: true };
    },
  },
  'POST /api/invited/open': { body: z.object({ token }), handle: ({ db, body }) => openInvitation(db, body.token) },
  'POST /api/invited': {
    body: z.object({ token, password: z.string().max(300) }),
    handle: ({ db, body }) => acceptInvitation(db, body.token, body.password),
  },
};
