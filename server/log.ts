/** What went wrong, as the log has it: enough to find the cause, and nobody's data. */

import { inEnglish } from '#core/messages/languages';

/** Of the database the code and its state, without the statement's values; of anything else name, words and place. */
export function forLog(error: unknown): Record<string, unknown> {
  if (!(error instanceof Error)) return { error: typeof error };
  const original = ((error as { original?: unknown }).original ?? error) as {
    code?: string;
    errno?: number;
    sqlState?: string;
  };
  const stack = (error.stack ?? '')
    .split('\n')
    .filter((line) => /^\s+at /.test(line))
    .slice(0, 12)
    .map((line) => line.trim());
  if (original.sqlState !== undefined || /^Sequelize|^SqlError/.test(error.name))
    return { name: error.name, code: original.code, errno: original.errno, sqlState: original.sqlState, stack };
  return { name: error.name, message: inEnglish(error.message), stack };
}
