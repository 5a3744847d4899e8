/** Worksheets as tables: the rows that the filters show, with what stands in them. */
import { inEnglish } from '#core/messages/languages';
import { kindWords, shownFields, withoutSecrets } from '#core/register/words';
import { fieldLabel, listFields } from '#core/entities/index';
import { gradeLabel } from '#core/tabular/index';
import { mapKey } from '#core/year/index';
import type { Services, Viewer } from '../services';
import type {
  ArchivedClass,
  AsOfFilter,
  AsOfList,
  AsOfRow,
  AsOfTable,
  DeviceFilter,
  LedgerRow,
  PeopleFilter,
  ProductRow,
  UsePerson,
} from '../contract';
import { classList } from '../classes/list';
import { clock } from '../clock';
import { devicePage } from '../devices/list';
import { materials } from '../materials/materials';
import { classProgress } from '../materials/progress';
import { workList } from '../materials/work';
import { asOf } from '../people/asof.queries';
import { asOfTable } from '../people/asof-lists.queries';
import { peoplePage } from '../people/list';
import type { PlanHead } from '../plans/store';
import { changePage } from '../plans/store';
import { archive } from '../year/archive';
import { splitSheet } from '../year/sheet';
import type { Table } from '../papers/maker';

/** As many as a workbook has lines. */
export const mostRows = 1_000_000;

export async function materialTable(
  services: Services,
  viewer: Viewer,
  filter: Parameters<typeof materials>[2],
): Promise<Table> {
  const rows = await materials(services, viewer, filter);
  const grade = (one: string | null) => (one === null ? null : gradeLabel(one));
  return {
    header: [
      'Title',
      'Kind',
      'Product',
      'From grade',
      'To grade',
      'Subject',
      'Minutes',
      'Needs',
      'Address',
      'Assigned',
    ],
    rows: rows.map((m) => [
      ...[m.title, m.kind, m.product, grade(m.lowGrade), grade(m.highGrade)],
      ...[m.subject, m.minutes, m.needs, m.address, m.set],
    ]),
  };
}

/** A line for each student of the class, a column for each assignment: when it was done, or how it stands. */
export async function progressTable(services: Services, viewer: Viewer, classId: string): Promise<Table> {
  const { works, people } = await classProgress(services, viewer, classId);
  return {
    header: [
      'Student',
      ...works.map(({ title }) => title),
      'Minutes in 7 days',
      'Done of those due',
      'Due',
      'Behind in',
    ],
    rows: people.map(({ name, cells, minutes, standing }) => [
      name,
      ...cells.map((cell) =>
        cell === null
          ? null
          : cell.doneAt === null
            ? cell.state
            : [
                clock.dayOf(cell.doneAt),
                cell.share === null ? '' : `${Math.round(cell.share * 100)}%`,
                cell.state === 'late' ? 'late' : '',
              ]
                .filter(Boolean)
                .join(', '),
      ),
      ...[minutes, standing.done, standing.due, standing.behind.join(', ')],
    ]),
  };
}

export async function workTable(
  services: Services,
  viewer: Viewer,
  filter: Parameters<typeof workList>[2],
): Promise<Table> {
  const rows = await workList(services, viewer, filter);
  return {
    header: [
      'Assignment',
      'Class',
      'Group',
      'School',
      'Material',
      'Product',
      'Opens',
      'Due',
      'Closes',
      'Minutes',
      'Done',
      'Of',
    ],
    rows: rows.map((w) => [
      ...[w.title, w.className, w.whom === 'some' ? 'some' : w.groupName, w.school, w.material, w.product],
      ...[w.opensAt, w.dueAt, w.closesAt, w.minutes, w.done, w.people],
    ]),
  };
}

export const useTable = (people: readonly UsePerson[]): Table => ({
  header: ['Student', 'Number', 'School', 'Class', 'Has a seat', 'Days', 'Minutes', 'Last use', 'Rushes through'],
  rows: people.map((p) => [
    ...[p.name, p.number, p.school, p.className, p.seat ? 'yes' : 'no', p.days, p.minutes, p.lastOn],
    p.hurries ? 'yes' : 'no',
  ]),
});

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
/** Headings of what lists show of a person. */
const listed = listFields.map((field) => capital(inEnglish(fieldLabel('person', field))));

export async function peopleTable({ roll }: Services, viewer: Viewer, filter: PeopleFilter): Promise<Table> {
  const rows: Table['rows'] = [];
  for (let after: string | undefined; ;) {
    const page = await peoplePage(roll, viewer, filter, { sort: 'family', desc: false, after, limit: 1000 });
    for (const p of page.rows)
      rows.push([
        ...listFields.map((field) => p[field] ?? null),
        ...[p.role, p.grade && gradeLabel(p.grade), p.school, p.classes, p.username, p.lacks.join(' ')],
      ]);
    if (page.next === null) break;
    after = page.next;
  }
  return {
    header: [...listed, 'Role', 'Grade', 'School', 'Classes', 'Username', 'Missing'],
    rows,
  };
}

export async function classTable(
  { roll }: Services,
  viewer: Viewer,
  filter: Pick<PeopleFilter, 'school' | 'grade' | 'q'>,
): Promise<Table> {
  const classes = await classList(roll, viewer, filter);
  return {
    header: ['Class', 'School', 'Kind', 'Grade', 'Subject', 'Teachers', 'Students', 'Need cards'],
    rows: classes.map((c) => [
      c.name,
      c.school,
      c.kind,
      c.grade && gradeLabel(c.grade),
      c.subject,
      c.teachers,
      c.students,
      c.lackCard,
    ]),
  };
}

/** How people, or another list, stood on a day. */
export async function asOfFile(
  { db }: Services,
  viewer: Viewer,
  { list, grade, ...then }: AsOfFilter & { list?: AsOfList },
): Promise<Table> {
  if (list) {
    const { columns, rows }: AsOfTable = await asOfTable(db, viewer, { ...then, list }, mostRows);
    return { header: columns, rows: rows.map(({ cells }) => cells) };
  }
  const { rows }: { rows: AsOfRow[] } = await asOf(db, viewer, { ...then, grade }, mostRows);
  return {
    header: ['Family name', 'Given name', 'Number', 'Role', 'Grade', 'School', 'Classes'],
    rows: rows.map((row) => [
      row.familyName,
      row.givenName,
      row.number,
      row.role,
      row.grade && gradeLabel(row.grade),
      row.school,
      row.classes,
    ]),
  };
}

export const ledgerTable = (entries: LedgerRow[]): Table => ({
  header: ['When', 'By', 'What', 'Plan', 'Changes', 'In words'],
  rows: entries.map((e) => [e.at, e.by, e.action, e.title, e.changes, e.sentence]),
});

export async function deviceTable({ db, config }: Services, viewer: Viewer, filter: DeviceFilter): Promise<Table> {
  const { rows } = await devicePage(db, viewer, filter, { limit: mostRows, today: config.today() });
  return {
    header: [
      ...['Tag', 'Serial number', 'Model', 'School', 'Condition', 'Bought', 'Warranty until', 'Updates until'],
      ...['Cart', 'Slot', 'Room', 'With', 'Due'],
    ],
    rows: rows.map((d) => [
      ...[d.tag, d.serial, d.model, d.school, d.condition, d.boughtOn, d.warrantyEnds, d.updatesEnd],
      ...[d.cart, d.slot, d.room, d.holder, d.due],
    ]),
  };
}

export const productTable = (products: readonly ProductRow[]): Table => ({
  header: [
    ...['Product', 'Publisher', 'Subject', 'From grade', 'To grade', 'Owned', 'Needed', 'Held', 'Lack'],
    ...['Short', 'Short from', 'Held beyond', 'Runs out', 'Superseded by'],
  ],
  rows: products.map((p) => [
    ...[p.label, p.publisher, p.subject, p.lowGrade && gradeLabel(p.lowGrade), p.highGrade && gradeLabel(p.highGrade)],
    ...[p.owned ?? 'site-wide', p.needed, p.held, p.lacking, p.short?.count ?? null, p.short?.from ?? null],
    ...[p.over || null, p.runsOut, p.supersededBy?.label ?? null],
  ]),
});

/** A line for each field that a change sets; of a change without any, one. */
export async function changeTable({ db }: Services, head: PlanHead, kind: string | null): Promise<Table> {
  const schools = await db.models.school.findAll({ raw: true });
  const rows: Table['rows'] = [];
  for (let offset: number | null = 0; offset !== null && rows.length < mostRows;) {
    const page: Awaited<ReturnType<typeof changePage>> = await changePage(db, head, kind, offset, 2000);
    for (const change of page.changes.map(withoutSecrets)) {
      const { label, op, entity, reason, origin, out } = change;
      const what = kindWords({ op, entity, fields: [] });
      const end = [reason, origin?.source ?? null, origin?.line ?? null, out ? 'taken out' : 'in'];
      const fields = shownFields(change, schools);
      for (const f of fields)
        rows.push([label, what, f.field, f.hasBefore ? f.before : null, f.hasAfter ? f.after : null, ...end]);
      if (fields.length === 0) rows.push([label, what, null, null, null, ...end]);
    }
    offset = page.next;
  }
  return { header: ['Person', 'Change', 'Field', 'Before', 'After', 'Why', 'File', 'Line', 'Plan'], rows };
}

export async function archiveTable({ db }: Services, viewer: Viewer, q: string | undefined): Promise<Table> {
  const all: ArchivedClass[] = [];
  for (let before: string | undefined; ;) {
    const { classes, more } = await archive(db, viewer, { q, before });
    all.push(...classes);
    const last = classes.at(-1);
    if (!more || !last) break;
    before = `${last.ends} ${last.id}`;
  }
  return {
    header: ['Class', 'School', 'Grade', 'Kind', 'Teachers', 'Students', 'From', 'Until'],
    rows: all.map((c) => [
      ...[c.name, c.school, c.grade && gradeLabel(c.grade), c.kind, c.teachers, Number(c.students), c.begins, c.ends],
    ]),
  };
}

/** The children of a grade of the new year, with the class that each comes into. */
export async function sectionTable({ db, config }: Services, school: string, grade: string): Promise<Table> {
  const { children, split } = await splitSheet(db, mapKey(school, grade), config.today());
  return {
    header: ['Family name', 'Given name', 'Number', 'Class before', 'Class', 'Level', 'Language', 'Support'],
    rows: children.map((child) => [
      ...[child.familyName, child.givenName, child.number, child.from],
      split.classes[split.placed[child.id] ?? -1]?.name ?? null,
      ...[split.marks[child.id]?.level ?? child.level, child.language, split.marks[child.id]?.support ? 'yes' : null],
    ]),
  };
}
