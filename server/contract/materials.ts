/** Materials of products, and set work. */
import type { Material, SetWork } from '#core/entities/index';
import type { Goal, Phase, Progress, Standing, WorkFields } from '#core/setwork/index';

export interface MaterialRow extends Material {
  product: string;
  /** Classes in which it is set now. */
  set: number;
}
export type MaterialFields = Omit<Material, 'id'>;

export interface WorkRow extends SetWork {
  className: string;
  school: string;
  groupName: string | null;
  /** The group is over, so that nobody sees the work. */
  groupEnded: boolean;
  /** Kept in a class for staff only, to be copied from. */
  forStaff: boolean;
  material: string;
  kind: Material['kind'];
  product: string;
  phase: Phase;
  /** For how many, and how many of them have finished. */
  people: number;
  done: number;
}
export interface WorkSheet {
  work: WorkRow;
  /** Where a child opens it. */
  url: string;
  people: {
    id: string;
    name: string;
    /** When it was first finished; null: not yet. */
    doneAt: string | null;
    share: number | null;
    minutes: number | null;
  }[];
}
export interface WorkOrder {
  materialId: string;
  fields: WorkFields;
  /** Classes, each whole or one of its groups. */
  targets: { classId: string; groupId: string | null }[];
  /** Of these classes, those alone who are gathered. */
  gathered: boolean;
}
type WorkField = keyof WorkFields;
type Made = { planId: string; sentence: string };

/** Set work as a child sees it. */
export interface MyWork {
  id: string;
  title: string;
  kind: Material['kind'];
  className: string;
  phase: Phase;
  opensAt: string;
  dueAt: string | null;
  closesAt: string | null;
  /** It is not expected of them: the class may open it. */
  inLibrary: boolean;
  /** Time limit. */
  minutes: number | null;
  needs: string | null;
  asksWord: boolean;
  isDone: boolean;
  /** Share of the points, where the answers may be seen. */
  share: number | null;
}

/** How far each student of a class is. */
export interface ClassProgress {
  className: string;
  /** What they are assigned, the newest first; what is in the library is none of it. */
  works: (Pick<SetWork, 'id' | 'title' | 'opensAt' | 'dueAt' | 'closesAt'> & {
    phase: Phase;
    counts: Record<Progress, number>;
  })[];
  people: {
    id: string;
    name: string;
    /** By piece; null: it is not for them. */
    cells: ({ state: Progress; doneAt: string | null; share: number | null } | null)[];
    /** In products, of the last seven days; null: no product tells of it. */
    minutes: number | null;
    own: Goal;
    standing: Standing;
    gathered: boolean;
  }[];
  goal: Goal;
}

export interface MaterialsApi {
  /** `classId`: those that the class is entitled to. */
  'GET /api/materials': { query: { classId?: string; product?: string; q?: string }; out: MaterialRow[] };
  /** Without an id a new one. */
  'POST /api/materials': { body: { id: string | null; fields: MaterialFields }; out: { planId: string; id: string } };
  /** A publisher's list as CSV: title, kind, address, and what else is known. */
  'POST /api/materials/take': {
    body: { productId: string; text: string };
    out: { planId: string | null; taken: number; problems: { line: number; message: string }[] };
  };
  'GET /api/work': { query: { classId?: string; school?: string; past?: boolean }; out: WorkRow[] };
  'GET /api/work/:id': { out: WorkSheet };
  'POST /api/work': { body: WorkOrder; out: Made };
  'POST /api/work/:id/edit': {
    body: { field: WorkField; before: string | number | null; after: string | number | null };
    out: { planId: string };
  };
  'POST /api/work/copy': { body: { ids: string[]; classIds: string[]; opensAt: string | null }; out: Made };
  /** Opens them now, whatever was said before. */
  'POST /api/work/open': { body: { ids: string[] }; out: Made };
  'POST /api/work/take-back': { body: { ids: string[] }; out: Made };
  'GET /api/classes/:id/progress': { out: ClassProgress };
  /** What is expected of a class, or of one student of it. */
  'POST /api/classes/:id/goals': { body: { personId: string | null; goal: Goal }; out: { planId: string } };
  /** A day for "midway through the term". */
  'GET /api/work/midway': { out: { day: string } };
  'GET /api/mine/work': { out: MyWork[] };
  'POST /api/mine/work/:id': { body: { word: string }; out: { address: string } };
}
