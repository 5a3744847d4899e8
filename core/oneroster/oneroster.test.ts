/** The open roster standard: 1EdTech OneRoster CSV 1.1 and 1.2, and its REST binding (names and words from memory). */
import { thrown } from '#core/messages/expect';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  checkBundle,
  collections,
  coverage,
  diffTables,
  fieldsOf,
  fromBundle,
  fromJson,
  readBundle,
  type Records,
  RosterTable,
  rosterPeople,
  toFiles,
  toJson,
  withRepairs,
  writeBundle,
  writeTable,
} from './index';
import { nextNight, practiceDistrict } from './practice';
import { hashOf } from './table';

const bytes = (text: string) => new TextEncoder().encode(text);
const small = () => practiceDistrict(3, { students: 120, schools: 2, classesEach: 3 });
const tablesOf = (records: Records) => readBundle(toFiles(records, '1.2')).tables;

describe('a bundle', () => {
  it('has the headings of the standard, version by version', () => {
    // Memory: OneRoster 1.1 users.csv and enrollments.csv, in the standard's order.
    expect(
      fieldsOf('users.csv', '1.1')
        .map((f) => f.name)
        .join(),
    ).toBe(
      'sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password',
    );
    expect(
      fieldsOf('enrollments.csv', '1.1')
        .map((f) => f.name)
        .join(),
    ).toBe(
      'sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate',
    );
    expect(fieldsOf('users.csv', '1.2').map((f) => f.name)).not.toContain('role');
  });

  it('says of each field of the standard where it goes, or why it is left out', () => {
    for (const version of ['1.1', '1.2'] as const)
      for (const { file, field, into, why } of coverage(version))
        expect([file, field, into !== null || why.length > 10]).toEqual([file, field, true]);
  });

  it('is the same when it is read and written again, whatever its cells hold and files it has besides', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', 'é', '"', ',', '\n', ' ', '7') });
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { maxLength: 8 }), fc.boolean(), (cells, lineFeeds) => {
        const rows = cells.map(([name, code], i) => [`o${i}`, '', '', `n${name}`, 'school', code, '']);
        const header = fieldsOf('orgs.csv', '1.1').map((f) => f.name);
        const written = new TextDecoder().decode(writeTable(header, rows));
        const files = new Map([
          ['manifest.csv', bytes('propertyName,value\r\noneroster.version,1.1\r\nfile.orgs,bulk\r\n')],
          ['orgs.csv', bytes(lineFeeds ? written.replaceAll('\r\n', '\n') : written)],
          ['results.csv', bytes('sourcedId\r\nr1\r\n')],
        ]);
        const bundle = readBundle(files);
        expect([...writeBundle(bundle)].map(([n, b]) => [n, Buffer.from(b).toString()]).sort()).toEqual(
          [...files].map(([n, b]) => [n, Buffer.from(b).toString()]).sort(),
        );
        expect(fromBundle(bundle)['orgs.csv']!.map((r) => [r.name, r.identifier])).toEqual(
          rows.map((r) => [r[3], r[5]]),
        );
      }),
    );
  });

  it('is refused when a quotation mark that never closes would swallow the rest of a file', () => {
    const files = toFiles(small(), '1.2');
    const text = new TextDecoder().decode(files.get('users.csv'));
    const lines = text.split('\r\n');
    lines[41] = lines[41]!.replace(/,/, ',"');
    files.set('users.csv', bytes(lines.join('\r\n')));
    expect(thrown(() => readBundle(files))).toContain(
      'users.csv: the quotation mark that opens a cell in line 42 is never closed',
    );
  });

  it('has cells put right where they stand, and all else to the byte', () => {
    const files = toFiles(small(), '1.2');
    const bundle = readBundle(files);
    const users = bundle.tables.get('users.csv')!;
    const [given, family] = [users.column('givenName'), users.column('familyName')];
    const right = withRepairs(bundle, { 3: { [given]: 'Wrack, "Ida"' }, 90: { [family]: '' } });
    const lines = (b: Uint8Array) => new TextDecoder().decode(b).split('\r\n');
    const [was, is] = [lines(users.bytes), lines(right.tables.get('users.csv')!.bytes)];
    expect(is.flatMap((line, i) => (line === was[i] ? [] : i + 1))).toEqual([3, 90]);
    expect(is).toHaveLength(was.length);
    const cells: [number, string][] = [];
    right.tables.get('users.csv')!.each((row, line) => cells.push([line, `${row[given]}|${row[family]}`]));
    expect(cells[1]).toEqual([3, `Wrack, "Ida"|${users.cells(1)[family]}`]);
    expect(cells[88]).toEqual([90, `${users.cells(88)[given]}|`]);
    for (const [name, { bytes: there }] of right.tables)
      if (name !== 'users.csv') expect(there).toBe(bundle.tables.get(name)!.bytes);
  });

  it('has every broken reference, lacking field, unknown word and doubled record reported with its line', () => {
    const records = small();
    records['enrollments.csv']![0]!.userSourcedId = 'nobody';
    records['classes.csv']![1]!.termSourcedIds = 'year,never';
    records['users.csv']![2]!.familyName = '';
    records['orgs.csv']![1]!.type = 'castle';
    records['users.csv']![4]!.sourcedId = records['users.csv']![3]!.sourcedId!;
    records['demographics.csv']![0]!.birthDate = '5/3/2014';
    records['demographics.csv']![1]!.birthDate = '2014-03-05T00:00';
    const bundle = readBundle(toFiles(records, '1.2'));
    bundle.manifest.push(['file.results', 'bulk']);
    const found = checkBundle(bundle).problems.map(({ file, line, column, code }) => [file, line, column, code]);
    for (const problem of [
      ['enrollments.csv', 2, 'userSourcedId', 'reference'],
      ['classes.csv', 3, 'termSourcedIds', 'reference'],
      ['users.csv', 4, 'familyName', 'required'],
      ['orgs.csv', 3, 'type', 'value'],
      ['demographics.csv', 3, 'birthDate', 'value'],
      ['users.csv', 6, 'sourcedId', 'duplicate'],
      ['demographics.csv', 2, 'birthDate', 'value'],
      ['manifest.csv', null, 'file.results', 'manifest'],
    ])
      expect(found).toContainEqual(problem);
    for (const size of [
      { students: 120, schools: 2, classesEach: 3 },
      { students: 200, schools: 1, classesEach: 7, classSize: 80 },
    ])
      expect(checkBundle(readBundle(toFiles(practiceDistrict(4, size), '1.2'))).problems).toEqual([]);
    expect(thrown(() => readBundle(new Map([['users.csv', bytes('sourcedId\n1')]])))).toContain('no manifest.csv');
  });

  it('of changes alone may refer to what came before', () => {
    const files = new Map([
      ['manifest.csv', bytes('propertyName,value\noneroster.version,1.1\nfile.enrollments,delta\n')],
      [
        'enrollments.csv',
        bytes(
          'sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role\ne1,tobedeleted,2026-08-01T00:00:00.000Z,c1,s1,u1,student\n',
        ),
      ],
    ]);
    expect(checkBundle(readBundle(files)).problems).toEqual([]);
  });

  it('gives its people with school, homeroom, birth date and guardian', () => {
    const records = small();
    const [first] = records['users.csv']!.filter((u) => u.identifier);
    first!.agentSourcedIds = 'g1';
    records['users.csv']!.push({
      sourcedId: 'g1',
      enabledUser: 'true',
      givenName: 'Ada',
      familyName: 'Moyo',
      email: 'ada@home.example',
    });
    records['roles.csv']!.push({
      sourcedId: 'g1r',
      userSourcedId: 'g1',
      roleType: 'primary',
      role: 'guardian',
      orgSourcedId: 's0',
    });
    const people = rosterPeople(readBundle(toFiles(records, '1.2')));
    const found = people.find((p) => p.sourcedId === first!.sourcedId)!;
    const room = records['enrollments.csv']!.find((e) => e.userSourcedId === first!.sourcedId)!.classSourcedId;
    expect(found).toMatchObject({
      role: 'student',
      guardianEmail: 'ada@home.example',
      school: records['orgs.csv']![1]!.name,
      className: records['classes.csv']!.find((c) => c.sourcedId === room)!.title,
      birthDate: records['demographics.csv']!.find((d) => d.sourcedId === first!.sourcedId)!.birthDate,
    });
    expect(people.find((p) => p.sourcedId === 'g1')!.role).toBe('guardian');
    expect(people.filter((p) => p.role === 'teacher').length).toBeGreaterThan(3);
  });
});

describe('two nights', () => {
  it('differ in exactly what the day changed, whatever the order of the lines', () => {
    const records = practiceDistrict(5, { students: 600, schools: 3, classesEach: 4 });
    const { records: next, truth } = nextNight(records, 9);
    const [before, after] = [tablesOf(records), tablesOf({ ...next, 'users.csv': [...next['users.csv']!].reverse() })];
    const counts = (file: string) => {
      const { created, changed, removed } = diffTables(before.get(file)!, after.get(file)!);
      return { created: created.length, changed: changed.length, removed: removed.length };
    };
    expect(counts('users.csv')).toEqual(truth.users);
    expect(counts('enrollments.csv')).toEqual(truth.enrollments);
    expect(counts('classes.csv')).toEqual({ created: 0, changed: 0, removed: 0 });
    const { changed } = diffTables(before.get('users.csv')!, after.get('users.csv')!);
    expect(new Set(changed.flatMap(({ fields }) => fields))).toEqual(new Set(['familyName']));
  });

  it('are the same whatever the order of their records', () => {
    const rows = Array.from({ length: 500 }, (_, i) => [`u${i}`, `name ${i}`]);
    const table = (list: string[][]) => new RosterTable(writeTable(['sourcedId', 'name'], list));
    const turned = [...rows.slice(300), ['new', 'one more'], ...rows.slice(0, 299).reverse()];
    expect(diffTables(table(rows), table(turned))).toEqual({
      created: ['new'],
      changed: [],
      removed: ['u299'],
      same: 499,
    });
  });

  it('are told apart also where two records have the same hash', () => {
    const row = (n: number) => `u1,${n.toString(36).padStart(6, '0')}`;
    const seen = new Map<number, number>();
    let pair: [number, number] | null = null;
    // About 77,000 make it as likely as not that two of them meet in 32 bits.
    for (let n = 0; pair === null && n < 2_000_000; n++) {
      const text = bytes(row(n));
      const hash = hashOf(text, 0, text.length);
      const other = seen.get(hash);
      if (other !== undefined) pair = [other, n];
      seen.set(hash, n);
    }
    // Far from each other, so that they are looked up by their hash and not met side by side.
    const others = Array.from({ length: 200 }, (_, i) => `x${i},same`);
    const moved = Array.from({ length: 200 }, (_, i) => `x${i},other`);
    const table = (lines: string[]) => new RosterTable(bytes(`sourcedId,name\r\n${lines.join('\r\n')}\r\n`));
    const diff = diffTables(table([row(pair![0]), ...others]), table([...moved, row(pair![1])]));
    expect(diff.changed.map(({ id }) => id)).toContain('u1');
    expect(diff.same).toBe(0);
  });

  it('are told apart as by a map of parsed rows, also with doubled ids, other columns and quotes', () => {
    const table = fc.array(
      fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), fc.constantFrom('', 'x', 'x"y', 'x,y', 'x\ny')),
      { maxLength: 6 },
    );
    fc.assert(
      fc.property(table, table, fc.boolean(), (a, b, swapped) => {
        const unique = (rows: [string, string][]) => [...new Map(rows.map(([id, v]) => [id, v]))];
        const [x, y] = [unique(a), unique(b)];
        const header = swapped ? ['name', 'sourcedId'] : ['sourcedId', 'name'];
        const before = new RosterTable(writeTable(['sourcedId', 'name'], x));
        const after = new RosterTable(
          writeTable(
            header,
            y.map(([id, v]) => (swapped ? [v, id] : [id, v])),
          ),
        );
        const diff = diffTables(before, after);
        const [old, now] = [new Map(x), new Map(y)];
        expect(diff.created.sort()).toEqual(
          y
            .map(([id]) => id)
            .filter((id) => !old.has(id))
            .sort(),
        );
        expect(diff.removed.sort()).toEqual(
          x
            .map(([id]) => id)
            .filter((id) => !now.has(id))
            .sort(),
        );
        expect(diff.changed.map(({ id }) => id).sort()).toEqual(
          y
            .map(([id]) => id)
            .filter((id) => old.has(id) && old.get(id) !== now.get(id))
            .sort(),
        );
      }),
    );
  });
});

it('says the same over REST: each record to JSON and back', () => {
  const records = small();
  for (const { file } of collections)
    for (const record of records[file] ?? []) {
      const roles = records['roles.csv']!.filter((r) => r.userSourcedId === record.sourcedId);
      const back = fromJson(file, JSON.parse(JSON.stringify(toJson(file, record, roles))));
      const filled = (r: object) => Object.fromEntries(Object.entries(r).filter(([, v]) => v !== ''));
      expect(filled(back.record)).toEqual(filled(record));
      if (file === 'users.csv')
        expect(back.roles.map((r) => [r.role, r.orgSourcedId])).toEqual(roles.map((r) => [r.role, r.orgSourcedId]));
    }
  expect(thrown(() => fromJson('users.csv', { givenName: 'Ada' }))).toContain('no sourcedId');
});
