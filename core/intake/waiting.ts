/** What rows wait for, for people to read: 6,000 rows that name no school are one reason, not 6,000. */
import { say } from '#core/messages/say';

export interface Reason {
  /** The first line that waits for it. */
  line: number;
  /** How many rows wait for it. */
  rows: number;
  message: string;
}

/**
 * Each message once, in the order of its first line, with how many rows it is about.
 *
 * @param most no more reasons than this; the last then stands for all that are not told
 */
export function reasonsOf(waiting: readonly { line: number; message: string }[], most: number): Reason[] {
  const byMessage = new Map<string, Reason>();
  for (const { line, message } of waiting) {
    const told = byMessage.get(message);
    if (!told) byMessage.set(message, { line, rows: 1, message });
    else {
      told.rows++;
      told.line = Math.min(told.line, line);
    }
  }
  const reasons = [...byMessage.values()].sort((a, b) => a.line - b.line);
  if (reasons.length <= most) return reasons;
  const rest = reasons.splice(most - 1);
  const rows = rest.reduce((sum, reason) => sum + reason.rows, 0);
  return [...reasons, { line: rest[0]!.line, rows, message: say('intake.eachForItsOwnReason') }];
}

/** "line 9", "line 2 and 5,999 others". */
export const linesOf = ({ line, rows = 1 }: { line: number; rows?: number | undefined }): string =>
  say('intake.lines', { line: String(line), others: rows - 1 });
