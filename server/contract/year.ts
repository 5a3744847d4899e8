/** The year: the roll-over, grades split into classes, the archive. */
import type { Calendar } from '#core/year/index';
import type { Retention, RetentionKind } from '#core/retention/index';
import type { Next, YearGroup, YearLine } from '#core/year/index';
import type { Split, YearDraft } from '../year/draft';

export type { Split, YearDraft };

export interface YearGrade {
  key: string;
  schoolId: string;
  /** null: in no grade. */
  grade: string | null;
  students: number;
  /** Where they go; null: nobody has said. */
  next: Next;
  /** What it is unless somebody says otherwise. */
  usual: Next;
}
export interface YearPerson {
  id: string;
  label: string;
  grade: string | null;
  schoolId: string | null;
}
export interface YearSheet {
  draft: YearDraft;
  savedAt: string | null;
  /** The new year as it stands. */
  next: { name: string; begins: string; ends: string };
  /** Schools that do not take part. */
  apart: string[];
  grades: YearGrade[];
  again: YearPerson[];
  leave: YearPerson[];
  /** When the last roll-over was applied, and its plan. */
  last: { planId: string; at: string; title: string } | null;
}
export interface Rehearsal {
  lines: YearLine[];
  changes: number;
  problems: { label: string; message: string }[];
  problemCount: number;
  error: string | null;
}
/** The people behind a count of the rehearsal. */
export interface RehearsedPeople {
  /** All of them. */
  ids: string[];
  /** The first 200 of them, by name. */
  people: YearPerson[];
}
export interface SplitChild {
  id: string;
  familyName: string;
  givenName: string;
  number: string | null;
  /** The class that they come from. */
  from: string | null;
  /** From a group by level, else the middle of the levels that products reported; null: neither. */
  level: string | null;
  language: string | null;
  /** As a teacher said; null: nobody did. */
  support: boolean | null;
  /** Others of the grade who share a guardian's address and the birth date. */
  twins: string[];
}
/** What is said of the students of a class for next year's classes. */
export interface PlacementNotes {
  /** The class's. */
  name: string;
  students: {
    id: string;
    familyName: string;
    givenName: string;
    level: string | null;
    support: boolean | null;
  }[];
}
/** A grade of the new year, and how far its split is. */
export interface SplitRow {
  /** "schoolId:grade" */
  id: string;
  school: string;
  grade: string;
  children: number;
  /** Of this year's homerooms. */
  rooms: number;
  placed: number;
  savedAt: string | null;
}
export interface SplitSheet {
  key: string;
  schoolId: string;
  grade: string;
  children: SplitChild[];
  split: Split;
  savedAt: string | null;
}
export interface ArchivedClass {
  id: string;
  name: string;
  school: string;
  grade: string | null;
  kind: 'homeroom' | 'course';
  begins: string;
  ends: string;
  students: number;
  teachers: string | null;
}

export interface ArchivedClassSheet {
  id: string;
  name: string;
  school: string;
  grade: string | null;
  subject: string | null;
  begins: string;
  ends: string;
  /** What it was assigned, the newest first. */
  works: { id: string; title: string; opensAt: string; dueAt: string | null }[];
  people: {
    id: string;
    personId: string;
    name: string;
    role: 'student' | 'teacher';
    begins: string;
    ends: string | null;
    /** Their school now; null: they have left. */
    now: string | null;
    /** By piece; null: not done. */
    results: ({ doneAt: string; share: number | null } | null)[];
  }[];
}

export interface RetentionSheet {
  retention: Retention;
  /** Its name is typed before something is purged. */
  district: string;
  kinds: { kind: RetentionKind; due: number; next: string | null; nextCount: number }[];
  /** People who are due; the first 500. */
  leavers: { id: string; name: string; number: string | null; role: string; leftOn: string }[];
  /** Left, and kept until their device is back. */
  withDevice: number;
}

/** The district's time zone and the days of its school year; last days are of what they end. */
export type CalendarSheet = Calendar;

export interface YearApi {
  'GET /api/school-year': { out: CalendarSheet };
  'POST /api/school-year/plan': { body: CalendarSheet; out: { planId: string } };
  'GET /api/retention': { out: RetentionSheet };
  'POST /api/retention': { body: Partial<Retention>; out: { ok: true } };
  /** Purges what is due; `typed` is the district's name, since it cannot be undone. */
  'POST /api/retention/purge': { body: { typed: string }; out: { jobId: string } };
  'GET /api/year': { out: YearSheet };
  'GET /api/year/rehearsal': { out: Rehearsal };
  /** Without a school of all schools. */
  'GET /api/year/rehearsal/people': { query: { group: YearGroup; school?: string }; out: RehearsedPeople };
  'POST /api/year/draft': { body: Partial<Omit<YearDraft, 'again' | 'leave'>>; out: { savedAt: string } };
  /** Those gathered onto a list, or one person off it. */
  'POST /api/year/whom': {
    body: { list: 'again' | 'leave'; drop: string | null };
    out: { savedAt: string; count: number };
  };
  'POST /api/year/plan': { out: { jobId: string } };
  'GET /api/year/splits': { out: SplitRow[] };
  /** A grade of the new year. */
  'GET /api/classes/:id/notes': { out: PlacementNotes };
  'POST /api/classes/:id/notes': {
    body: { personId: string; level: string | null; support: boolean | null };
    out: { ok: true };
  };
  'GET /api/year/split': { query: { school: string; grade: string }; out: SplitSheet };
  'POST /api/year/split': { body: { schoolId: string; grade: string; split: Split }; out: { savedAt: string } };
  'GET /api/archive': { query: { q?: string; before?: string }; out: { classes: ArchivedClass[]; more: boolean } };
  'GET /api/archive/:id': { out: ArchivedClassSheet };
  'POST /api/archive/:id/return': { out: { planId: string; sentence: string } };
}
