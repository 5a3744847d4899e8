/** Coming in: the first run, signing in, who one is. */
import type { AccountRole, School } from '#core/register/index';

export interface Me {
  personId: string;
  name: string;
  role: AccountRole;
  district: string;
  schools: School[];
  /** yyyy-mm-dd */
  today: string;
  year: { name: string; begins: string; ends: string };
}

export type Way = 'secret' | 'pictures' | 'card' | 'sign-on';

/** What is offered where one signs in. */
export interface Door {
  district: string;
  /** null: the district's own. */
  school: string | null;
  ways: Way[];
}

export interface Mine {
  givenName: string;
  familyName: string;
  username: string;
  school: string | null;
  grade: string | null;
  classes: { name: string; teachers: string | null }[];
}

export interface DoorApi {
  'GET /healthz': { out: { status: 'ok'; database: string; migrations: number; version: string } };
  'GET /api/setup': { out: { needed: boolean; district: string | null } };
  'POST /api/setup': {
    body: {
      district: string;
      school: string;
      lowGrade: string;
      highGrade: string;
      givenName: string;
      familyName: string;
      username: string;
      password: string;
      /** Digits of a student number; null: of whatever form. */
      numberDigits: number | null;
      usernamePattern: string;
    };
    out: { ok: true };
  };
  'POST /api/sign-in': { body: { username: string; secret: string }; out: { role: AccountRole } };
  'POST /api/sign-in/card': { body: { code: string }; out: { role: AccountRole } };
  'POST /api/sign-out': { out: { ok: true } };
  'GET /api/me': { out: Me };
  'GET /api/mine': { out: Mine };
  'GET /api/door': { query: { at?: string }; out: Door };
}
