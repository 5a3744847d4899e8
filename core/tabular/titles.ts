/** Lines that stand alone among the rows of a list: totals, remarks, and titles of the block of rows below them. */

/** "Total 345", "printed 12 May". */
const remarkWords =
  /^\W*(grand total|totals?|subtotal|sum|count|number of|no\. of|printed|exported|generated|created|report|end of|page|students?:|pupils?:|notes?|\*|confidential)\b/i;
/** "Class 3A", "Grade: 3", "Homeroom 3A – Ms Ode", "Class: 3A  Teacher: Ode"; not "Class list 2026". */
const blockTitle =
  /^\W*(class|homeroom|form|section|grade|year|tutor group|group)\s*[:#-]?\s+(?!lists?\b|rosters?\b|reports?\b|of\b|for\b)([\p{L}\d][\p{L}\d /.-]{0,19}?)\s*(?:[–—(,;:].*|\s(?:\s|\p{L}+:).*)?$/iu;

/** Whether a line begins like a total or a remark. */
export const isRemark = (text: string): boolean => remarkWords.test(text);

/** "3", "3A", "K": what a grade or a class is called and hardly a person. */
export const isCode = (value: string): boolean => /\d/.test(value) || /^[A-Z]{1,2}$/i.test(value);

/** What a title says that stands alone in its line: the word and the value; null if it is none. */
export function titleOf(cells: string[]): { word: string; value: string } | null {
  const title = cells.length === 1 && !isRemark(cells[0]!) ? cells[0]!.match(blockTitle) : null;
  return title && { word: title[1]!.toLowerCase(), value: title[2]!.trim() };
}
