/** Login cards. */
import type { Paper } from '#core/cards/index';

export interface HandoutClass {
  classId: string;
  name: string;
  school: string;
  grade: string | null;
  students: number;
  /** Students whose printed card no longer holds, or who have none. */
  outdated: number;
  missing: number;
}

export interface Handouts {
  classes: HandoutClass[];
  prints: {
    id: string;
    at: string;
    by: string | null;
    what: string;
    cards: number;
    paper: string;
    canFetch: boolean;
  }[];
}

export interface PrintRequest {
  classId?: string;
  sheaf?: boolean;
  /** Only those who have no card that holds. */
  onlyOutdated?: boolean;
  paper: Paper;
  voidOlder: boolean;
}

export interface HandoutsApi {
  'GET /api/handouts': { out: Handouts };
  'POST /api/prints': { body: PrintRequest; out: { jobId: string; cards: number } };
}
