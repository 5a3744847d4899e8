/** Today and the year ribbon. */

export interface Today {
  waits: { id: string; text: string; action: string; to: string; urgency: number }[];
  readiness: {
    id: string;
    name: string;
    parent: string | null;
    people: number;
    link: Record<'account' | 'class' | 'seats' | 'device' | 'card' | 'signed-in', number>;
  }[];
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
  'GET /api/today': { out: Today };
}
