/** Coming in: the first run, signing in, who one is. */
import type { AccountRole, School } from '#core/entities/index';
import type { Preferences } from '#core/preferences/index';

export interface Me {
  personId: string;
  name: string;
  role: AccountRole;
  district: string;
  schools: School[];
  /** yyyy-mm-dd, in the district's time zone */
  today: string;
  /** IANA */
  zone: string;
  year: { name: string; begins: string; ends: string };
  /** The role must have a second factor, and there is none yet: nothing else is open. */
  mustAddFactor: boolean;
  preferences: Preferences;
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
  /** `goal`: minutes that are expected in seven days, and those of the last seven; null: none are. */
  classes: { name: string; teachers: string | null; goal: { minutes: number; spent: number } | null }[];
}

/** What a password alone does not open: a second step. */
export type SecondFactor = 'passkey' | 'app' | 'recovery';
export type SignInAnswer = { role: AccountRole } | { factors: SecondFactor[] };

export interface DoorApi {
  /** Up or down for anyone; the rest for coordinators of the district. */
  'GET /healthz': { out: { status: 'ok'; database?: string; migrations?: number; version?: string } };
  'GET /api/setup': { out: { needed: boolean; district: string | null } };
  'POST /api/setup': {
    body: {
      district: string;
      givenName: string;
      familyName: string;
      username: string;
      password: string;
      /** Printed when the server starts. */
      code: string;
      /** IANA */
      zone: string;
      /** First and last day of the school year. */
      yearBegins: string;
      yearEnds: string;
    };
    out: { ok: true };
  };
  'POST /api/sign-in': { body: { username: string; secret: string }; out: SignInAnswer };
  /** The second step, by a code of an app or on paper. */
  'POST /api/sign-in/code': { body: { code: string }; out: { role: AccountRole } };
  /** What the browser's passkeys are asked to sign; JSON as WebAuthn has it. */
  'POST /api/sign-in/passkey/begin': { out: { options: unknown } };
  'POST /api/sign-in/passkey': { body: { response: unknown }; out: { role: AccountRole } };
  'POST /api/sign-in/card': { body: { code: string }; out: { role: AccountRole } };
  /** `next`: where to sign out at the district's sign-on. */
  'POST /api/sign-out': { out: { ok: true; next: string | null } };
  'POST /api/password/forgot': { body: { who: string }; out: { ok: true } };
  'POST /api/password/open': { body: { token: string }; out: { name: string; username: string } };
  'POST /api/password': { body: { token: string; password: string }; out: { username: string } };
  /** What is named is changed; the rest stays. */
  'POST /api/me/preferences': { body: Partial<Preferences>; out: Preferences };
  'GET /api/me': { out: Me };
  'GET /api/mine': { out: Mine };
  'GET /api/door': { query: { at?: string }; out: Door };
}
