/** Login cards. */
import type { Edge, Language, Layout, Paper, Sheet } from '#core/cards/index';

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
  groupId?: string;
  /** Who is new by this plan. */
  planId?: string;
  sheaf?: boolean;
  /** All students of a school, or of all schools; or those of them whose printed card no longer holds. */
  wide?: { school: string | null; cards: 'all' | 'outdated' };
  /** One student alone. */
  personId?: string;
  /** Only those who have no card that holds. */
  onlyOutdated?: boolean;
  layout: Layout;
  paper: Paper;
  backs: Edge | null;
  /** In an order in which stacks lie after cutting through the pile. */
  stacked: boolean;
  /** Labels that are used up on the first sheet. */
  skip: number;
  language: Language | null;
  /** The given name large up to grade 2. */
  large: boolean;
  voidOlder: boolean;
}
/** The first sheet and its back as they will be printed. */
export interface PrintPreview {
  cards: number;
  pages: number;
  sheets: Sheet[];
  /** Those of whose names no font has a letter, which would be printed as an empty box; at most 20. */
  missing: { name: string; letters: string }[];
  /** Who lies on top of each stack after cutting; empty where sheets are not cut in a pile. */
  stacks: string[];
}

export interface HandoutsApi {
  'GET /api/handouts': { out: Handouts };
  'POST /api/prints': { body: PrintRequest; out: { jobId: string; cards: number } };
  'POST /api/prints/preview': { body: PrintRequest; out: PrintPreview };
}
