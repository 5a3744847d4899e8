/** `match`: two lists of people, read like every file, and who of the second is who in the first. */
import { writeFileSync } from 'node:fs';
import { groupBy } from '#core/plan/index';
import { recordOf } from '#core/entities/index';
import { knownRow, linkOnce, repeatsIn } from '#core/intake/index';
import { readBundle, rosterPeople } from '#core/oneroster/index';
import { openSource, readRows, Refusal, type TypedRow } from '#core/tabular/index';
import { readFile } from './files';
import { looseRules } from './read';

/** The people of a file, or its records' rows; `row` is counted from 0 below the header. */
async function peopleOf(path: string): Promise<{ row: number; person: TypedRow }[]> {
  const source = await openSource(readFile(path));
  if (source.kind === 'bundle') {
    return rosterPeople(readBundle(source.files)).map((one, row) => ({
      row,
      person: {
        ...recordOf(one),
        ...{ line: one.line, grade: one.grade, className: one.className, schoolName: one.school },
        ...{ role: null, birthAsWritten: null },
      },
    }));
  }
  const [table] = source.tables;
  if (!table || source.tables.length > 1)
    throw new Refusal('several', `${path} holds several lists. Give the one that is meant by itself.`);
  // Every row counts here, also one that an import would hold back.
  const { rows } = readRows({ ...table, records: table.records }, {}, looseRules(), 'enrollments');
  const at = new Map(table.records.map(({ line }, row) => [line, row]));
  return rows.map((person) => ({ row: at.get(person.line)!, person }));
}

/** Rows of one person in the second list are that person all, or new as one; `same_as_row` names the first of them. */
export async function match(existingPath: string, incomingPath: string, out: string): Promise<number> {
  const [a, b] = [await peopleOf(existingPath), await peopleOf(incomingPath)];
  const schoolOf = (row: TypedRow) => row.schoolName;
  const rowAt = new Map(b.map(({ row, person }) => [person.line, row]));
  const { rows, once, differing, alike } = repeatsIn(
    b.map(({ person }) => person),
    schoolOf,
    new Map(),
  );
  const { open, linked, asked } = linkOnce(
    a.map(({ person }) => knownRow(person, person.schoolName)),
    rows,
    alike,
    schoolOf,
  );
  const repeats = groupBy([...once, ...differing], ({ of }) => String(of));
  const lines = ['existing_row,incoming_row,score,decision,same_as_row'];
  const counts = { match: 0, review: 0, new: 0 };
  open.forEach(({ line }, j) => {
    const decision = linked.decisions[j]!;
    const list = linked.candidates[j]!;
    const put = (row: number, first = '') => {
      counts[decision]++;
      if (decision === 'new') lines.push(`,${row},${(list[0]?.bits ?? -40).toFixed(2)},new,${first}`);
      else
        for (const { existing: i, bits } of decision === 'match' ? list.slice(0, 1) : list)
          lines.push(`${a[i]!.row},${row},${bits.toFixed(2)},${decision},${first}`);
    };
    put(rowAt.get(line)!);
    for (const repeat of repeats.get(String(line)) ?? []) put(rowAt.get(repeat.line)!, String(rowAt.get(line)));
  });
  for (const { line, of, candidates } of asked) {
    counts.review++;
    for (const i of candidates.length > 0 ? candidates.map((at) => String(a[at]!.row)) : [''])
      lines.push(`${i},${rowAt.get(line)},0.00,review,${rowAt.get(of)}`);
  }
  try {
    writeFileSync(out, `${lines.join('\n')}\n`);
  } catch (error) {
    throw new Refusal(
      'unwritable',
      `${out} cannot be written: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
  console.log(`${b.length} rows: ${counts.match} match, ${counts.review} to review, ${counts.new} new`);
  return 0;
}
