/** Today and the year ribbon. */
import type { ClassRow } from './classes';

/** To which students Today is narrowed. */
export interface TodayPlace {
  school?: string;
  grade?: string;
  classId?: string;
}
export interface Today {
  /** Until the first card is printed: what leads there. */
  steps: { id: string; done: boolean; text: string; hint: string | null; to: { to: string; text: string }[] }[];
  waits: { id: string; text: string; action: string; to: string; urgency: number }[];
  readiness: {
    id: string;
    name: string;
    parent: string | null;
    people: number;
    link: Record<'account' | 'class' | 'seats' | 'device' | 'card' | 'signed-in', number>;
  }[];
}

/** A class that somebody teaches. `lackPassword`: students who cannot sign in; moments are ISO 8601 in UTC. */
export interface TodayClass extends Pick<
  ClassRow,
  'id' | 'name' | 'school' | 'kind' | 'grade' | 'subject' | 'period' | 'color' | 'students' | 'lackCard'
> {
  lackPassword: number;
  code: { id: string; code: string } | null;
  requests: number;
  /** Assignments that are due soon, or close where no due date is set; the next first. */
  due: { id: string; title: string; at: string }[];
}

export interface RibbonTick {
  date: string;
  text: string;
  to: string | null;
  kind: 'import' | 'print' | 'license' | 'year' | 'purge';
}

/** Of the students of one's schools: who has what, in shares, by day. */
export interface ReadinessWeeks {
  days: string[];
  links: { link: keyof Today['readiness'][number]['link']; shares: (number | null)[] }[];
}

export interface TodayApi {
  'GET /api/readiness': { query: { school?: string }; out: ReadinessWeeks };
  'GET /api/ribbon': { out: RibbonTick[] };
  'GET /api/today': { query: TodayPlace; out: Today };
  /** What of licenses, devices and feeds waits. */
  'GET /api/today/attention': { query: { school?: string }; out: Today['waits'] };
  /** The viewer's own classes. */
  'GET /api/today/classes': { out: TodayClass[] };
}
