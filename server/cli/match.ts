/** `match`: two lists of people, read like every file, and who of the second is who in the first. */
import { writeFileSync } from 'node:fs';
import { type Known, link } from '#core/identity/index';
import { knownRow } from '#core/intake/match';
import { rosterPeople, readBundle } from '#core/oneroster/index';
import { openSource, readRows, Refusal } from '#core/tabular/index';
import { readFile } from './files';
import { looseRules } from './read';

/** People by row, counted from 0 below the header; null where a row is no person. */
async function people(path: string): Promise<(Known | null)[]> {
  const source = await openSource(readFile(path));
  if (source.kind === 'bundle') return rosterPeople(readBundle(source.files));
  const [table] = source.tables;
  if (!table || source.tables.length > 1)
    throw new Refusal('several', `${path} holds several lists. Give the one that is meant by itself.`);
  // Every row counts here, also one that an import would hold back or take once.
  const rows = new Map(
    readRows({ ...table, records: table.records }, {}, looseRules(), 'enrollments').rows.map((row) => [row.line, row]),
  );
  return table.records.map(({ line }) => {
    const row = rows.get(line);
    return row ? knownRow(row, row.schoolName) : null;
  });
}

export async function match(existingPath: string, incomingPath: string, out: string): Promise<number> {
  const [existing, incoming] = [await people(existingPath), await people(incomingPath)];
  const rowsOf = (list: (Known | null)[]) => list.flatMap((person, row) => (person ? [{ person, row }] : []));
  const [a, b] = [rowsOf(existing), rowsOf(incoming)];
  const { decisions, candidates } = link(
    a.map(({ person }) => person),
    b.map(({ person }) => person),
  );
  const lines = ['existing_row,incoming_row,score,decision'];
  const counts = { match: 0, review: 0, new: 0 };
  b.forEach(({ row }, j) => {
    const decision = decisions[j]!;
    counts[decision]++;
    const list = candidates[j]!;
    if (decision === 'new') lines.push(`,${row},${(list[0]?.bits ?? -40).toFixed(2)},new`);
    else
      for (const { existing: i, bits } of decision === 'match' ? list.slice(0, 1) : list)
        lines.push(`${a[i]!.row},${row},${bits.toFixed(2)},${decision}`);
  });
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
