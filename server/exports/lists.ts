/** Worksheets as files: what the filters show, as CSV, as a workbook, or as a bundle of the roster standard. */
import { zipSync } from 'fflate';
import writeWorkbook from 'write-excel-file/node';
import type { Affiliation, Enrollment, Person, School, SchoolClass } from '#core/register/index';
import { toFiles, toRecords } from '#core/oneroster/index';
import { gradeLabel, harmless, writeCsv } from '#core/tabular/index';
import { audit, Fault, mayBeSeen, type Services, type Viewer } from '../api/context';
import type { AsOfRow, AsOfTable, DeviceFilter, LedgerRow, PeopleFilter, UsePerson } from '../api/contract';
import { district } from '../district';
import { peoplePage } from '../people/list';
import { devicePage } from '../devices/list';
import { classList } from '../classes/list';
import { materials } from '../materials/materials';
import { workList } from '../materials/work';

export type ListName = 'people' | 'classes' | 'devices' | 'ledger' | 'as-of' | 'use' | 'materials' | 'work';
export type ListFormat = 'csv' | 'xlsx' | 'roster';

export interface ListFile {
  name: string;
  type: string;
  bytes: Uint8Array;
}

interface Table {
  header: string[];
  rows: (string | number | null)[][];
}

export async function exportList(
  services: Services,
  viewer: Viewer,
  what: ListName,
  format: ListFormat,
  filter: PeopleFilter,
  past: {
    ledger: () => Promise<LedgerRow[]>;
    asOf: () => Promise<AsOfRow[]>;
    /** Another list than of people as it stood; null: of people. */
    asOfTable: (() => Promise<AsOfTable>) | null;
    use: () => Promise<UsePerson[]>;
  },
): Promise<ListFile> {
  const { db, config } = services;
  const name = `${what}-${config.today()}`;
  if (format === 'roster') {
    if (what !== 'people') throw new Fault(400, 'The roster standard holds people with their classes: export those.');
    await audit(db, { by: viewer.personId, action: 'export', detail: 'the roster as a bundle' });
    return { name: `roster-${config.today()}.zip`, type: 'application/zip', bytes: await rosterZip(services, viewer) };
  }
  const table =
    what === 'people'
      ? await peopleTable(services, viewer, filter)
      : what === 'classes'
        ? await classTable(services, viewer, filter)
        : what === 'devices'
          ? await deviceTable(services, viewer, { school: filter.school, q: filter.q })
          : what === 'ledger'
            ? ledgerTable(await past.ledger())
            : what === 'materials'
              ? await materialTable(services, viewer, filter)
              : what === 'work'
                ? await workTable(services, viewer, filter)
                : what === 'use'
                  ? useTable(await past.use())
                  : past.asOfTable
                    ? plainTable(await past.asOfTable())
                    : peopleThen(await past.asOf());
  await audit(db, { by: viewer.personId, action: 'export', detail: `${table.rows.length} rows of ${what}` });
  if (format === 'csv')
    return { name: `${name}.csv`, type: 'text/csv; charset=utf-8', bytes: writeCsv(table.header, table.rows) };
  return {
    name: `${name}.xlsx`,
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    bytes: await workbook(table),
  };
}

/** Text stays text, also where it looks like a number: zeros in front are kept. */
async function workbook({ header, rows }: Table): Promise<Uint8Array> {
  const cell = (value: string | number | null) =>
    value === null || value === ''
      ? null
      : typeof value === 'number'
        ? { value, type: Number }
        : { value: harmless(value), type: String };
  const data = [header.map((value) => ({ value, fontWeight: 'bold' as const })), ...rows.map((row) => row.map(cell))];
  return new Uint8Array(await writeWorkbook(data).toBuffer());
}

async function materialTable(services: Services, viewer: Viewer, { q, product }: PeopleFilter): Promise<Table> {
  const rows = await materials(services, viewer, { q, product });
  const grade = (one: string | null) => (one === null ? null : gradeLabel(one));
  return {
    header: ['Title', 'Kind', 'Product', 'From grade', 'To grade', 'Subject', 'Minutes', 'Needs', 'Address', 'Set in'],
    rows: rows.map((m) => [
      ...[m.title, m.kind, m.product, grade(m.lowGrade), grade(m.highGrade)],
      ...[m.subject, m.minutes, m.needs, m.address, m.set],
    ]),
  };
}

async function workTable(services: Services, viewer: Viewer, { school, classId }: PeopleFilter): Promise<Table> {
  const rows = await workList(services, viewer, { school, classId, past: true });
  return {
    header: ['Work', 'Class', 'Group', 'School', 'Material', 'Product', 'Opens', 'Closes', 'Minutes', 'Done', 'Of'],
    rows: rows.map((w) => [
      ...[w.title, w.className, w.whom === 'some' ? 'some' : w.groupName, w.school, w.material, w.product],
      ...[w.opensAt, w.closesAt, w.minutes, w.done, w.people],
    ]),
  };
}

const useTable = (people: readonly UsePerson[]): Table => ({
  header: ['Student', 'Number', 'School', 'Class', 'Holds a seat', 'Days', 'Minutes', 'Last use', 'Hurries'],
  rows: people.map((p) => [
    ...[p.name, p.number, p.school, p.className, p.seat ? 'yes' : 'no', p.days, p.minutes, p.lastOn],
    p.hurries ? 'yes' : 'no',
  ]),
});

async function peopleTable({ roll }: Services, viewer: Viewer, filter: PeopleFilter): Promise<Table> {
  const rows: Table['rows'] = [];
  for (let after: string | undefined; ;) {
    const page = await peoplePage(roll, viewer, filter, { sort: 'family', desc: false, after, limit: 1000 });
    for (const p of page.rows)
      rows.push([
        p.familyName,
        p.givenName,
        p.number,
        p.role,
        p.grade && gradeLabel(p.grade),
        p.school,
        p.classes,
        p.username,
        p.lacks.join(' '),
      ]);
    if (page.next === null) break;
    after = page.next;
  }
  return {
    header: ['Family name', 'Given name', 'Number', 'Role', 'Grade', 'School', 'Classes', 'Username', 'Lacks'],
    rows,
  };
}

async function classTable({ roll }: Services, viewer: Viewer, { school, grade, q }: PeopleFilter): Promise<Table> {
  const classes = await classList(roll, viewer, { school, grade, q });
  return {
    header: ['Class', 'School', 'Kind', 'Grade', 'Subject', 'Teachers', 'Students', 'Lack a card'],
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

const plainTable = ({ columns, rows }: AsOfTable): Table => ({ header: columns, rows: rows.map(({ cells }) => cells) });

const peopleThen = (rows: AsOfRow[]): Table => ({
  header: ['family name', 'given name', 'number', 'role', 'grade', 'school', 'classes'],
  rows: rows.map((row) => [
    row.familyName,
    row.givenName,
    row.number,
    row.role,
    row.grade && gradeLabel(row.grade),
    row.school,
    row.classes,
  ]),
});

const ledgerTable = (entries: LedgerRow[]): Table => ({
  header: ['When', 'By', 'What', 'Plan', 'Changes', 'In words'],
  rows: entries.map((e) => [e.at, e.by, e.action, e.title, e.changes, e.sentence]),
});

async function deviceTable({ db, config }: Services, viewer: Viewer, filter: DeviceFilter): Promise<Table> {
  const { rows } = await devicePage(db, viewer, filter, { limit: 200_000, today: config.today() });
  return {
    header: [
      'tag',
      'serial number',
      'model',
      'school',
      'condition',
      'bought',
      'warranty until',
      'updates until',
      'cart',
      'slot',
      'room',
      'with',
      'due',
    ],
    rows: rows.map((d) => [
      d.tag,
      d.serial,
      d.model,
      d.school,
      d.condition,
      d.boughtOn,
      d.warrantyEnds,
      d.updatesEnd,
      d.cart,
      d.slot,
      d.room,
      d.holder,
      d.due,
    ]),
  };
}

async function rosterZip({ db }: Services, viewer: Viewer): Promise<Uint8Array> {
  const here = await district(db);
  if (!here) throw new Fault(409, 'There is no district yet.');
  const scope = mayBeSeen(viewer);
  const mine = `SELECT p.id FROM people p WHERE p.status = 'active' AND ${scope.sql}`;
  const accounts = await db.select<{ personId: string; username: string }>(
    `SELECT personId, username FROM accounts WHERE personId IN (${mine})`,
    scope.params,
  );
  const records = toRecords({
    district: here.name,
    year: here.settings.year,
    schools: await db.select<School>('SELECT * FROM schools ORDER BY name'),
    people: await db.select<Person>(
      `SELECT p.* FROM people p WHERE p.id IN (${mine}) ORDER BY p.familyName, p.givenName, p.id`,
      scope.params,
    ),
    affiliations: await db.select<Affiliation>(
      `SELECT * FROM affiliations WHERE ends IS NULL AND personId IN (${mine})`,
      scope.params,
    ),
    classes: await db.select<SchoolClass>(
      "SELECT * FROM classes WHERE ends IS NULL AND kind <> 'template' ORDER BY schoolId, name",
    ),
    enrollments: await db.select<Enrollment>(
      `SELECT * FROM enrollments WHERE ends IS NULL AND personId IN (${mine}) AND classId NOT IN (SELECT id FROM classes WHERE kind = 'template')`,
      scope.params,
    ),
    usernames: new Map(accounts.map((a) => [a.personId, a.username])),
  });
  return zipSync(Object.fromEntries(toFiles(records, '1.2')), { level: 6 });
}
