/** Codes and requests to be let in. */
import type { ClaimField, Likeness } from '#core/identity/index';

export interface JoinCode {
  id: string;
  kind: 'class' | 'staff';
  /** As it is written: C7F-HJ2-MNP. */
  code: string;
  /** Where it leads, for a QR. */
  url: string;
  schoolId: string;
  school: string;
  classId: string | null;
  className: string | null;
  opensAt: string;
  closesAt: string;
  uses: number;
  usesMost: number;
  /** waits: not open yet. */
  state: 'waits' | 'open' | 'full' | 'closed';
}

export interface JoinCodes {
  codes: JoinCode[];
  /** All that are open, in the district; the guesses allowed in a day; the chance that they find one of them. */
  live: number;
  guessesADay: number;
  risk: number;
}

/** A student with a code, a teacher for a missing student, for a class or for a name, staff with a school's code, a school for a student of another one. */
export interface JoinRequest {
  id: string;
  kind: 'student' | 'missing' | 'teach' | 'staff' | 'transfer' | 'rename';
  /** The school that decides. */
  school: string;
  /** Of a transfer: the school that asks. */
  toSchool: string | null;
  classId: string | null;
  className: string | null;
  /** As they were typed; of a transfer the student's name on record. */
  familyName: string;
  givenName: string;
  number: string | null;
  birthDate: string | null;
  email: string | null;
  note: string | null;
  askedBy: string | null;
  at: string;
  /** Of a name to be corrected: the name on record. */
  now: string | null;
  /** Students on record whom it could be about, most alike first: whether what was typed agrees, not what is on record. */
  candidates: {
    /** null: a student of another school. */
    personId: string | null;
    school: string | null;
    classes: string | null;
    fields: Record<ClaimField, Likeness>;
    /** What stands in the way of just approving. */
    note: string | null;
    /** Homerooms, with their teachers, that the student would leave. */
    leaves: string | null;
    may: 'approve' | 'transfer' | 'nothing';
  }[];
}

export interface Joined {
  /** `in`: now; `there`: already; `waits`: a person looks at it. */
  state: 'in' | 'there' | 'waits';
  className: string | null;
  school: string;
}

export interface JoiningApi {
  /** With nobody signed in the names are needed, and the number or the birth date. */
  'POST /api/join': {
    body: {
      code: string;
      familyName?: string;
      givenName?: string;
      number?: string | null;
      birthDate?: string | null;
      email?: string | null;
    };
    out: Joined;
  };
  'GET /api/codes': { query: { classId?: string }; out: JoinCodes };
  'POST /api/codes': {
    body: { classId: string | null; schoolId: string | null; days: number; usesMost: number; opensInDays?: number };
    out: JoinCode;
  };
  'GET /api/codes/:id': { out: JoinCode };
  'POST /api/codes/:id/end': { out: { ok: true } };
  'GET /api/requests': { out: JoinRequest[] };
  'POST /api/requests': {
    body: {
      kind: 'missing' | 'teach' | 'rename';
      classId: string;
      /** Whose name is to be corrected. */
      personId?: string;
      familyName?: string;
      givenName?: string;
      number?: string | null;
      birthDate?: string | null;
      note?: string | null;
    };
    out: { ok: true };
  };
  'POST /api/requests/:id/transfer': { out: { sentence: string } };
  'POST /api/requests/:id/settle': {
    body: { accept: true; personId: string | null } | { accept: false; why: string };
    out: { planId: string | null; sentence: string };
  };
}
