/** For tests: texts are the same when they say the same in English. Set up for those of core and server. */
import { expect } from 'vitest';
import { inEnglish } from './languages';

const isSaid = (value: unknown): value is string => typeof value === 'string' && value.includes('\u0002');

expect.addEqualityTesters([
  (a: unknown, b: unknown) =>
    typeof a === 'string' && typeof b === 'string' && (isSaid(a) || isSaid(b))
      ? inEnglish(a) === inEnglish(b)
      : undefined,
]);

/** What an error says in English; empty: nothing was thrown. */
export function thrown(work: () => unknown): string {
  try {
    work();
  } catch (error) {
    return inEnglish((error as Error).message);
  }
  return '';
}
export const rejected = (work: Promise<unknown>): Promise<string> =>
  work.then(
    () => '',
    (error: Error) => inEnglish(error.message),
  );

/** All texts in what a worked example prints, also where they stand in JSON, as they are read. */
export const asRead = (text: string): string =>
  inEnglish(text).replace(/(?<!\\)\\u0002(?:(?!(?<!\\)\\u0003).)*\\u0003/g, (escaped) =>
    JSON.stringify(inEnglish(JSON.parse(`"${escaped}"`) as string)).slice(1, -1),
  );
