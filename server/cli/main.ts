/** Sheaf without a server or a database: the same computing on files. */
import { parseArgs } from 'node:util';
import { inEnglish } from '#core/messages/languages';
import { Refusal } from '#core/tabular/decode';

const usage = `usage: ./run cli read FILE [--as auto|people|staff|classes|enrollments] [--sheet NAME] [--json]
       ./run cli match EXISTING INCOMING --out pairs.csv
       ./run cli diff BUNDLE_A BUNDLE_B [--json]`;

class Misuse extends Error {}

async function run(args: string[]): Promise<number> {
  let parsed;
  try {
    parsed = parseArgs({
      args,
      allowPositionals: true,
      options: {
        json: { type: 'boolean', default: false },
        as: { type: 'string', default: 'auto' },
        sheet: { type: 'string' },
        out: { type: 'string' },
      },
    });
  } catch (error) {
    throw new Misuse(error instanceof Error ? error.message : String(error));
  }
  const { values, positionals } = parsed;
  const [command, first, second, ...more] = positionals;
  if (more.length > 0) throw new Misuse(`“${more[0]}” is one name too many.`);
  if (command === 'read' && first && !second) {
    const { kindsOfFile, read } = await import('./read');
    const as = kindsOfFile.find((kind) => kind === values.as);
    if (!as) throw new Misuse(`--as is one of ${kindsOfFile.join(', ')}.`);
    return read(first, { as, sheet: values.sheet, json: values.json });
  }
  if (command === 'match' && first && second) {
    if (!values.out) throw new Misuse('--out names the file that the pairs are written to.');
    return (await import('./match')).match(first, second, values.out);
  }
  if (command === 'diff' && first && second) return (await import('./diff')).diff(first, second, values.json);
  throw new Misuse('');
}

try {
  process.exitCode = await run(process.argv.slice(2));
} catch (error) {
  if (!(error instanceof Misuse) && !(error instanceof Refusal)) throw error;
  if (error.message) console.error(inEnglish(error.message));
  if (error instanceof Misuse) console.error(usage);
  process.exitCode = 2;
}
