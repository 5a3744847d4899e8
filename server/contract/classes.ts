/** Classes and groups. */
import type { GroupKind } from '#core/entities/index';
import type { ClassTemplate, GroupRule, MadeClass, NewClasses } from '#core/classes/index';

export interface ClassRow {
  id: string;
  schoolId: string;
  name: string;
  school: string;
  kind: string;
  grade: string | null;
  subject: string | null;
  period: string | null;
  color: string | null;
  discuss: string | null;
  invite: string | null;
  teachers: string | null;
  students: number;
  lackCard: number;
  lackSeats: number;
  lackDevice: number;
}

/** One class, with those who teach it; `since`: yyyy-mm-dd. */
export interface ClassPage extends ClassRow {
  staff: { personId: string; name: string; since: string }[];
}

/** Somebody at the school whom a class could take in. */
export interface Candidate {
  personId: string;
  role: 'student' | 'staff';
  name: string;
  grade: string | null;
  /** Of a student: the homerooms that they are in, with their teachers. */
  homeroom: string | null;
  /** They are in the class already. */
  isIn: boolean;
  /** They would leave that homeroom. */
  leaves: boolean;
}

export interface GroupRow {
  id: string;
  name: string;
  kind: GroupKind;
  schoolId: string;
  school: string;
  classId: string | null;
  className: string | null;
  /** null: by hand. */
  rule: GroupRule | null;
  /** The rule in words. */
  ruleText: string | null;
  members: number;
  /** What its members speak against in its name. */
  notes: string[];
}

export interface GroupOrder {
  /** Of a class, or across the classes of a school. */
  classId: string | null;
  schoolId: string | null;
  name: string;
  kind: GroupKind;
  rule: GroupRule | null;
  /** Put in those who are gathered and fit. */
  gathered: boolean;
}

export interface ClassesOrder extends Omit<NewClasses, 'like' | 'template'> {
  schoolId: string;
  /** Name of a template. */
  template: string | null;
  /** Made like this class, with its people or without. */
  likeId: string | null;
  people: boolean;
}

export interface ClassesPreview {
  classes: MadeClass[];
  changes: number;
  sentence: string;
}

/** A class by what it is picked from a list. */
export type ClassName = Pick<ClassRow, 'id' | 'name' | 'school' | 'subject' | 'grade'>;

export interface ClassesApi {
  'GET /api/classes': { query: { school?: string; grade?: string; q?: string }; out: ClassRow[] };
  'POST /api/classes': { body: ClassesOrder; out: { planId: string; sentence: string } };
  'POST /api/classes/preview': { body: ClassesOrder; out: ClassesPreview };
  'POST /api/classes/:id/edit': {
    body: {
      field: 'name' | 'grade' | 'subject' | 'period' | 'color' | 'discuss' | 'invite';
      before: string | null;
      after: string | null;
    };
    out: { planId: string };
  };
  /** What new classes are made from: templates, and each school's naming pattern. */
  'GET /api/templates': { out: { templates: ClassTemplate[]; patterns: Record<string, string> } };
  /** Keeps a class as a template under a name, without its people; without a class the name is forgotten. */
  'POST /api/templates': { body: { name: string; classId: string | null }; out: { ok: true } };
  'POST /api/templates/pattern': { body: { schoolId: string; pattern: string }; out: { ok: true } };
  'GET /api/classes/:id': { out: ClassPage };
  'GET /api/classes/:id/candidates': { query: { q: string }; out: Candidate[] };
  /** Into the class, and out of it; at once, and undone by the plan. */
  'POST /api/classes/:id/people': { body: { personId: string }; out: { planId: string; sentence: string } };
  'POST /api/classes/:id/people/remove': { body: { personId: string }; out: { planId: string; sentence: string } };
  'POST /api/classes/:id/end': { out: { planId: string } };
  /** Names of the parts beside the one that stays. The plan is to be looked at. */
  'POST /api/classes/:id/split': { body: { names: string }; out: { planId: string } };
  /** Everyone of the others joins this one. */
  'POST /api/classes/:id/combine': { body: { others: string[] }; out: { planId: string } };
  'GET /api/classes/names': { query: { school?: string; q?: string }; out: ClassName[] };
  'GET /api/groups': { query: { school?: string; classId?: string }; out: GroupRow[] };
  'GET /api/groups/:id': { out: GroupRow };
  'POST /api/groups': {
    body: GroupOrder;
    out: { planId: string; id: string; sentence: string; left: string[] };
  };
  'POST /api/groups/:id/copy': {
    body: { classId: string };
    out: { planId: string; id: string; name: string; left: string[] };
  };
  'POST /api/groups/:id/rename': { body: { before: string; after: string }; out: { planId: string } };
  'POST /api/groups/:id/end': { out: { planId: string } };
}
