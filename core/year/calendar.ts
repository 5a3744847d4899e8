/**
 * The school year as a district sets it: its time zone, first and last day, terms and days off. First and last days
 * belong to what they bound.
 */
import { say } from '#core/messages/say';
import type { DayOff, DistrictRow, SchoolYear, Term } from '#core/entities/index';
import type { Change } from '#core/plan/index';
import { ordered } from '#core/register/index';
import { creates, updates } from '#core/register/steps';
import { isZone } from '#core/time/index';

export interface Span {
  name: string;
  begins: string;
  ends: string;
}
export interface Calendar {
  /** IANA */
  zone: string;
  year: Span;
  terms: Span[];
  daysOff: Span[];
}
/** As it is on record. */
export interface KeptCalendar {
  district: DistrictRow;
  year: SchoolYear;
  terms: Term[];
  daysOff: DayOff[];
}

const longestDays = 550;

/** What is wrong, each a sentence that names where; empty: nothing. */
export function calendarProblems({ zone, year, terms, daysOff }: Calendar): string[] {
  const found: string[] = [];
  if (!isZone(zone)) found.push(say('year.isNotATimeZone', { zone }));
  if (year.ends <= year.begins) found.push(say('year.theSchoolYearEndsBefore'));
  else if (Date.parse(year.ends) - Date.parse(year.begins) > longestDays * 86_400_000)
    found.push(say('year.theSchoolYearIsLonger', { days: longestDays }));
  for (const [inRow, spans] of [
    ['year.termInRow', terms],
    ['year.dayOffInRow', daysOff],
  ] as const)
    spans.forEach((span, i) => {
      const named = span.name.trim() ? `“${span.name}”` : say(inRow, { row: i + 1 });
      if (!span.name.trim()) found.push(say('year.hasNoName', { named }));
      if (span.ends < span.begins) found.push(say('year.endsBeforeItBegins', { named }));
      else if (span.begins < year.begins || span.ends > year.ends)
        found.push(say('year.isOutsideTheSchoolYear', { named, begins: year.begins, ends: year.ends }));
    });
  const inOrder = [...terms].sort((a, b) => (a.begins < b.begins ? -1 : 1));
  inOrder.forEach((term, i) => {
    const before = inOrder[i - 1];
    if (before && term.begins <= before.ends)
      found.push(say('year.andOverlap', { name: before.name, other: term.name }));
  });
  const names = terms.map(({ name }) => name.trim().toLowerCase());
  const twice = terms.find(({ name }, i) => names.indexOf(name.trim().toLowerCase()) < i);
  if (twice) found.push(say('year.twoTermsAreNamed', { name: twice.name }));
  return found;
}

/** The changes that make what is on record as it is asked for; none where it is so already. */
export function planCalendar(kept: KeptCalendar, asked: Calendar, mint: () => string): Change[] {
  const changes: Change[] = [];
  const of = (id: string, label: string) => ({ label, subject: id });
  const { district, year } = kept;
  if (asked.zone !== district.zone)
    changes.push({
      ...updates(
        'district',
        district.id,
        { zone: district.zone },
        { zone: asked.zone },
        say('year.datesAndTimesFollowThis'),
      ),
      ...of(district.id, district.name),
    });
  const differs = differing(year, asked.year);
  if (differs)
    changes.push({
      ...updates('year', year.id, differs.before, differs.after, say('year.setByHand')),
      ...of(year.id, asked.year.name),
    });
  for (const [entity, before, after] of [
    ['term', kept.terms, asked.terms],
    ['dayOff', kept.daysOff, asked.daysOff],
  ] as const) {
    const { same, gone, fresh } = paired<Term | DayOff>(before, after);
    for (const [row, span] of same) {
      const differs = differing(row, span);
      if (differs)
        changes.push({
          ...updates(entity, row.id, differs.before, differs.after, say('year.setByHand')),
          ...of(row.id, span.name),
        });
    }
    for (const span of fresh) {
      const id = mint();
      changes.push({
        ...creates(entity, id, { yearId: year.id, ...trimmed(span) }, say('year.of', { name: asked.year.name })),
        ...of(id, span.name),
      });
    }
    for (const { id, ...row } of gone)
      changes.push({
        entity,
        id,
        op: 'purge',
        before: row,
        after: {},
        reason: say('plan.removed'),
        ...of(id, row.name),
      });
  }
  return ordered(changes).changes;
}

const trimmed = ({ name, begins, ends }: Span): Span => ({ name: name.trim(), begins, ends });

function differing(row: Span, asked: Span): { before: Partial<Span>; after: Partial<Span> } | null {
  const wanted = trimmed(asked);
  const fields = (['name', 'begins', 'ends'] as const).filter((field) => row[field] !== wanted[field]);
  const pick = (from: Span) => Object.fromEntries(fields.map((field) => [field, from[field]]));
  return fields.length > 0 ? { before: pick(row), after: pick(wanted) } : null;
}

/** Which row is meant by which span: by all it says, then by its name, then by its first day. */
function paired<R extends Span>(
  rows: readonly R[],
  spans: readonly Span[],
): { same: [R, Span][]; gone: R[]; fresh: Span[] } {
  const same: [R, Span][] = [];
  const left = new Set(rows);
  let open = [...spans];
  for (const isIt of [
    (row: Span, span: Span) => differing(row, span) === null,
    (row: Span, span: Span) => row.name === span.name.trim(),
    (row: Span, span: Span) => row.begins === span.begins,
  ])
    open = open.filter((span) => {
      const row = [...left].find((one) => isIt(one, span));
      if (!row) return true;
      left.delete(row);
      same.push([row, span]);
      return false;
    });
  return { same, gone: [...left], fresh: open };
}
