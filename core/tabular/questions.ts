/** What a person must say before a file can be believed: guesses that could as well be another way. */
import { say } from '#core/messages/say';
import type { Field } from './fields';
import type { Column, OpenFile } from './reading';
import type { ReadRows } from './rows';
import { sureOrder } from './values';

export interface Question {
  code: 'names' | 'date-order' | 'sheet' | 'class' | 'which-name' | 'one-a-row';
  message: string;
  /** The answers that can be meant. */
  options: string[];
}

/** `rivals`: other sheets that read like people. */
export function questionsOf({ reading }: OpenFile, { rows }: ReadRows, rivals: string[] = []): Question[] {
  const questions: Question[] = [];
  const column = (field: Field) => reading.columns.find((c) => c.field === field);
  const headings = reading.columns.map(({ header, index }) => header || say('intake.column2', { index: index + 1 }));
  if (!column('fullName') && !(column('familyName') && column('givenName')))
    questions.push({
      code: 'names',
      message: say('intake.whichColumnsHaveTheFamily'),
      options: headings,
    });
  else if (reading.headerLine === null) {
    const unsure = [column('familyName'), column('givenName')].filter((c) => c && c.confidence < 0.45);
    if (unsure.length === 2)
      questions.push({
        code: 'which-name',
        message: say('intake.thereAreNoHeadingsAnd'),
        options: unsure.map((c) => headings[c!.index]!),
      });
  }
  // "Student 1", "Student 2": several people in one row; who says that the others are left out is believed.
  const numbered = ({ header }: Column) => header.match(/^(\D+?)\W*\d+$/)?.[1]?.toLowerCase();
  const name = column('fullName') ?? column('givenName');
  const base = name && numbered(name);
  const others = reading.columns.filter((c) => c.field === 'skip' && c.confidence < 1 && base && numbered(c) === base);
  if (others.length > 0)
    questions.push({
      code: 'one-a-row',
      message: say('intake.severalPeopleInARow', {
        header: name!.header,
        others: others.map(({ header }) => `“${header}”`),
      }),
      options: others.map(({ header }) => header),
    });
  const dated = rows.some((row) => row.birthDate !== null);
  if (dated && reading.dateOrderConfidence < sureOrder)
    questions.push({
      code: 'date-order',
      message: say('intake.noneOfTheBirthDates'),
      options: ['dmy', 'mdy'],
    });
  if (rivals.length > 0)
    questions.push({
      code: 'sheet',
      message: say('intake.severalSheetsLookLikeLists', { sheet: reading.sheet }),
      options: [reading.sheet ?? '', ...rivals],
    });
  return questions;
}
