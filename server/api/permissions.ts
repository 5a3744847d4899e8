/**
 * Which role may call which route. What of it they may see is their scope (see context): a district coordinator's
 * is the district, a school coordinator's their schools, a teacher's the students of their own classes, a student's
 * themselves. A test walks every route with every role.
 */
import type { AccountRole } from '#core/register/index';
import type { RouteName } from './contract';

/** 'anyone': without signing in. */
export type Access = 'anyone' | readonly AccountRole[];

const everyone = ['district', 'school', 'teacher', 'student'] as const;
const staff = ['district', 'school', 'teacher'] as const;
const coordinators = ['district', 'school'] as const;

export const permissions: Record<
  | RouteName
  | 'GET /api/sign-on'
  | 'GET /api/sign-on/back'
  | 'GET /api/jobs/:id/events'
  | 'GET /api/prints/:id/pdf'
  | 'GET /api/exports/:list',
  Access
> = {
  'GET /healthz': 'anyone',
  'GET /api/setup': 'anyone',
  'POST /api/setup': 'anyone',
  'POST /api/sign-in': 'anyone',
  'POST /api/sign-in/card': 'anyone',
  'GET /api/sign-on': 'anyone',
  'GET /api/sign-on/back': 'anyone',
  'POST /api/sign-out': everyone,
  'GET /api/me': everyone,
  'GET /api/mine': ['student'],
  'GET /api/ribbon': staff,
  'GET /api/today': staff,
  'GET /api/people': staff,
  'GET /api/people/facets': staff,
  'GET /api/people/:id': staff,
  'POST /api/people/:id/edit': coordinators,
  'POST /api/people/:id/contacts': coordinators,
  'POST /api/people/:id/reveal': staff,
  'GET /api/classes': staff,
  'GET /api/sheaf': staff,
  'GET /api/sheaves': staff,
  'POST /api/sheaves': staff,
  'POST /api/sheaves/:id/gather': staff,
  'POST /api/sheaves/:id/drop': staff,
  'POST /api/sheaf/gather': staff,
  'POST /api/sheaf/let-go': staff,
  'POST /api/sheaf/secrets': staff,
  'GET /api/classes/names': staff,
  'POST /api/classes': staff,
  'POST /api/classes/preview': staff,
  'POST /api/classes/:id/edit': staff,
  'POST /api/classes/:id/end': staff,
  'POST /api/classes/:id/split': staff,
  'POST /api/classes/:id/combine': staff,
  'GET /api/groups': staff,
  'POST /api/groups': staff,
  'POST /api/groups/:id/copy': staff,
  'POST /api/groups/:id/rename': staff,
  'POST /api/groups/:id/end': staff,
  'GET /api/district': coordinators,
  'POST /api/district': ['district'],
  'POST /api/schools': ['district'],
  'POST /api/schools/:id/edit': coordinators,
  'GET /api/door': 'anyone',
  'POST /api/usernames/try': coordinators,
  'POST /api/staff': coordinators,
  'POST /api/staff/:id/role': ['district'],
  'POST /api/staff/:id/invite': coordinators,
  'GET /api/invitations': coordinators,
  'POST /api/invitations/:id/link': coordinators,
  'GET /api/invited/:id': 'anyone',
  'POST /api/invited/:id': 'anyone',
  'GET /api/directory': ['district'],
  'POST /api/directory/send': ['district'],
  'POST /api/directory/compare': ['district'],
  'POST /api/join': 'anyone',
  'GET /api/codes': staff,
  'POST /api/codes': staff,
  'GET /api/codes/:id': staff,
  'POST /api/codes/:id/end': staff,
  'GET /api/requests': staff,
  'POST /api/requests': staff,
  'POST /api/requests/:id/settle': staff,
  'GET /api/sheaf/pair': coordinators,
  'POST /api/sheaf/preview': staff,
  'POST /api/sheaf/plan': staff,
  'GET /api/intakes': coordinators,
  'POST /api/intakes': coordinators,
  'GET /api/intakes/:id': coordinators,
  'POST /api/intakes/:id/draft': coordinators,
  'GET /api/intakes/:id/rows': coordinators,
  'GET /api/intakes/:id/pairs': coordinators,
  'POST /api/intakes/:id/decide': coordinators,
  'GET /api/feeds': coordinators,
  'POST /api/feeds': ['district'],
  'POST /api/feeds/:id/take': ['district'],
  'POST /api/feeds/:id/active': ['district'],
  'GET /api/pairs': coordinators,
  'POST /api/pairs/decide': coordinators,
  'POST /api/pairs/merge': coordinators,
  'POST /api/plans/:id/unmerge': coordinators,
  'POST /api/intakes/:id/plan': coordinators,
  'POST /api/intakes/:id/set-aside': coordinators,
  'GET /api/plans/:id': staff,
  'GET /api/plans/:id/changes': staff,
  'POST /api/plans/:id/take-out': staff,
  'POST /api/plans/:id/release': staff,
  'POST /api/plans/:id/apply': staff,
  'POST /api/plans/:id/undo': staff,
  'POST /api/plans/:id/set-aside': staff,
  'GET /api/jobs/:id': staff,
  'GET /api/jobs/:id/events': staff,
  'GET /api/ledger': coordinators,
  'GET /api/audit': coordinators,
  'GET /api/handouts': staff,
  'POST /api/prints': staff,
  'GET /api/prints/:id/pdf': staff,
  'GET /api/exports/:list': staff,
};
