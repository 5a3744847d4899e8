/** What a change says of a field, in the person's language. */
import { dayWords } from '@/time';
import { spoken } from '@/words';

export const valueWords = (isDay: boolean, text: string): string =>
  isDay && /^\d{4}-\d\d-\d\d$/.test(text) ? dayWords(text) : spoken(text);
