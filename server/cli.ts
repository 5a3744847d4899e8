/** Sheaf without a server or a database: reads a file as the intake would and says what it holds. */
import { readFileSync } from 'node:fs';
import { open, readRows, Refusal } from '#core/tabular/index';

const usage = 'usage: ./run cli read FILE [--json]    how the file is read, its people and its problems';

function read(file: string, json: boolean): number {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(file);
  } catch (error) {
    console.error(`${file} cannot be opened: ${error instanceof Error ? error.message : error}`);
    return 2;
  }
  try {
    const opened = open(bytes);
    const year = new Date().getFullYear();
    const { rows, problems, leftOut } = readRows(
      opened,
      {},
      { numberDigits: null, bornFrom: `${year - 90}-01-01`, bornTo: `${year - 3}-12-31`, grades: [] },
    );
    const { reading } = opened;
    if (json)
      console.log(
        JSON.stringify(
          {
            outcome: problems.length > 0 ? 'accepted-with-reports' : 'accepted',
            reading,
            people: rows,
            problems,
            leftOut,
          },
          null,
          1,
        ),
      );
    else {
      console.log(
        `${file}: ${reading.encoding}, ${JSON.stringify(reading.delimiter)}, headings in line ${reading.headerLine ?? 'none'}, dates ${reading.dateOrder}`,
      );
      for (const { header, field, confidence } of reading.columns)
        console.log(`  ${(header || '—').padEnd(28)} ${field.padEnd(14)} ${confidence.toFixed(2)}`);
      console.log(`${rows.length} people, ${problems.length} problems`);
      for (const { line, message } of problems.slice(0, 200)) console.log(`  line ${line}: ${message}`);
    }
    return 0;
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    if (json) console.log(JSON.stringify({ outcome: 'refused', reason: error.message }));
    else console.error(error.message);
    return 2;
  }
}

const [command, file, ...flags] = process.argv.slice(2);
if (command !== 'read' || !file) {
  console.error(usage);
  process.exitCode = 2;
} else process.exitCode = read(file, flags.includes('--json'));
