/** The district: settings, schools, staff, the directory. */
import type { GradeBand } from '#core/accounts/index';
import type { Consent } from '#core/cards/index';
import type { AccountRole, School } from '#core/entities/index';

export interface DistrictSettings {
  numberDigits: number | null;
  usernamePattern: string;
  /** Schools with a pattern of their own, by id. */
  schoolPatterns: Record<string, string>;
  bands: GradeBand[];
  /** Share of a school that an import may let leave without being held. */
  mostLeaving: number;
  /** Grades in which everyone has a device of their own. */
  oneToOne: string[];
  /** Years after which a device is replaced. */
  deviceYears: number;
  /** Whoever runs a school has a letter of the week. */
  digest: boolean;
  /** Share of a school that a plan may add to it without being held. */
  mostJoining: number;
  /** Who must have a second factor. */
  secondFactor: 'nobody' | 'coordinators';
  /** What families sign in letters home, by language. */
  consent: Consent;
  /** Domains of addresses that the single sign-on may link at the first sign-in. */
  signOnDomains: string[];
}

export interface DistrictState {
  name: string;
  settings: DistrictSettings;
  schools: (School & { students: number })[];
  url: string;
  mail: boolean;
  /** The sender of mail; null: no mail server is set up. */
  mailFrom: string | null;
  /** The provider's address; null: none is set up. */
  signOn: string | null;
}

export interface PatternTried {
  /** What is wrong with the pattern; null: nothing. */
  wrong: string | null;
  examples: { name: string; username: string }[];
  /** How many would have the same as somebody else, and get a number. */
  clashes: number;
  people: number;
}

export interface StaffAlike {
  personId: string;
  name: string;
  school: string;
  username: string | null;
  why: string;
}

export interface Invitation {
  id: string;
  personId: string;
  name: string;
  email: string;
  createdAt: string;
  expiresAt: string;
  lastError: string | null;
  /** waits: neither sent nor handed over. */
  state: 'waits' | 'sent' | 'failed' | 'expired' | 'used';
}

/** How things stand with the district's directory. */
export interface DirectoryState {
  /** Its address; null: none is set up. */
  url: string | null;
  people: { done: number; due: number; failed: number };
  classes: { done: number; due: number; failed: number };
  /** Refused for good, at most 100. */
  failures: { label: string; message: string }[];
  lastSentAt: string | null;
}

export interface SchoolForm {
  name: string;
  /** What rosters call it. */
  code: string | null;
  kind: string;
  lowGrade: string;
  highGrade: string;
  door: string | null;
}

export interface DistrictApi {
  'GET /api/district': { out: DistrictState };
  'POST /api/district': { body: Partial<DistrictSettings>; out: { ok: true } };
  'POST /api/schools': { body: SchoolForm; out: { planId: string; id: string } };
  /** Several as one plan. */
  'POST /api/schools/many': { body: { schools: SchoolForm[] }; out: { planId: string } };
  'POST /api/schools/:id/edit': {
    body: {
      field: 'name' | 'code' | 'kind' | 'lowGrade' | 'highGrade' | 'door' | 'ways' | 'cardText';
      before: string | null;
      after: string | null;
    };
    out: { planId: string };
  };
  'POST /api/usernames/try': { body: { pattern: string; schoolId: string | null }; out: PatternTried };
  'POST /api/staff': {
    body: {
      people: {
        givenName: string;
        familyName: string;
        email: string;
        schoolId: string;
        role: Exclude<AccountRole, 'student'>;
      }[];
      /** Lines of which it was said that they are nobody of those who are alike. */
      anyway: number[];
    };
    out: {
      planId: string | null;
      invitationIds: string[];
      alike: { line: number; who: StaffAlike[] }[];
      jobId: string | null;
    };
  };
  'POST /api/staff/:id/role': { body: { role: Exclude<AccountRole, 'student'> }; out: { planId: string } };
  'POST /api/staff/:id/invite': { out: { invitationId: string; jobId: string | null } };
  'GET /api/invitations': { out: Invitation[] };
  'POST /api/invitations/:id/link': { out: { url: string } };
  /** The old password is void, and a link to choose a new one goes to the person's own address. */
  'POST /api/staff/:id/reset': { out: { ok: true } };
  /** By the token of the link, which stands in no address. */
  'POST /api/invited/open': { body: { token: string }; out: { name: string; username: string; district: string } };
  'POST /api/invited': { body: { token: string; password: string }; out: { username: string } };
  'GET /api/directory': { out: DirectoryState };
  'POST /api/directory/send': { out: { jobId: string } };
  'POST /api/directory/compare': { out: { jobId: string } };
}
