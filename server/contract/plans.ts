/** Plans, jobs, the ledger and the trail. */
import type { Reason } from '#core/intake/index';
import type { Change, Conflict, Held, Summary, TakenOut } from '#core/plan/index';

export interface PlanSheet {
  id: string;
  kind: string;
  title: string;
  status: string;
  createdAt: string;
  by: string | null;
  total: Summary;
  remaining: Summary;
  sentence: string;
  held: (Held & { released: { reason: string; by: string; at: string } | null })[];
  takenOut: TakenOut;
  waiting: (Omit<Reason, 'rows'> & Partial<Reason>)[];
  intakeId: string | null;
  ledgerId: string | null;
}

export interface Job {
  id: string;
  kind: string;
  status: 'waiting' | 'running' | 'done' | 'failed' | 'interrupted';
  done: number;
  total: number;
  step: string;
  result: {
    planId?: string;
    intakeId?: string;
    printId?: string;
    ledgerId?: string;
    sentence?: string;
    changes?: number;
  } | null;
  error: { message: string; conflicts?: Conflict[] } | null;
}

export interface LedgerRow {
  id: string;
  planId: string;
  title: string;
  action: 'apply' | 'undo' | 'purge';
  by: string | null;
  at: string;
  changes: number;
  sentence: string;
  /** The plan stands as applied by this entry, so it can be undone here. */
  canUndo: boolean;
}

/** What of the ledger is looked for: words of the plan, or a person's name or number; one day. */
export interface LedgerFilter {
  q?: string;
  /** yyyy-mm-dd */
  day?: string;
}
export interface AsOfFilter {
  day: string;
  school?: string;
  grade?: string;
  /** Names, numbers, classes. */
  q?: string;
}
export interface AsOfRow {
  id: string;
  familyName: string;
  givenName: string;
  number: string | null;
  role: 'student' | 'staff';
  grade: string | null;
  school: string;
  classes: string | null;
}
export interface AsOfPage {
  rows: AsOfRow[];
  next: string | null;
  /** With the first page alone. */
  total: number | null;
}
export type AsOfList = 'classes' | 'devices' | 'seats';
export interface AsOfTable {
  columns: string[];
  rows: { id: string; cells: (string | number | null)[] }[];
}
export interface AuditRow {
  id: string;
  at: string;
  by: string | null;
  action: string;
  about: string | null;
  detail: string;
}

export interface PlansApi {
  'POST /api/plans/:id/unmerge': { out: { ledgerId: string; kept: string[] } };
  'GET /api/plans/:id': { out: PlanSheet };
  'GET /api/plans/:id/changes': {
    query: { kind?: string; offset: number };
    out: { changes: (Change & { out: boolean })[]; next: number | null };
  };
  'POST /api/plans/:id/take-out': { body: { subject?: string; kind?: string; back: boolean }; out: { ok: true } };
  'POST /api/plans/:id/release': { body: { code: string; reason: string }; out: { ok: true } };
  /** `except`: subjects that are left as they are, when something is in the way of them. */
  'POST /api/plans/:id/apply': { body: { except?: string[] }; out: { jobId: string } };
  /** `oldPasswords`: passwords that the plan changed work again; else new ones are made. */
  'POST /api/plans/:id/undo': { body: { oldPasswords?: boolean; except?: string[] }; out: { jobId: string } };
  'POST /api/plans/:id/set-aside': { out: { ok: true } };
  'GET /api/jobs/:id': { out: Job };
  'GET /api/ledger': { query: LedgerFilter & { before?: string }; out: LedgerRow[] };
  /** How it stood on a day. */
  'GET /api/ledger/as-of': { query: AsOfFilter & { after?: string }; out: AsOfPage };
  'GET /api/ledger/as-of/list': { query: Omit<AsOfFilter, 'grade'> & { list: AsOfList }; out: AsOfTable };
  'GET /api/audit': { query: { before?: string }; out: AuditRow[] };
}
