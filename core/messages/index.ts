/** Every text of the pages by key, as ICU messages. */
import { en } from './en/index';

export { en };
type English = typeof en;
/** As `classes.addPeople`. */
export type MessageKey = { [Room in keyof English]: `${Room}.${keyof English[Room] & string}` }[keyof English];
export type MessageParams = Record<string, string | number | boolean | Date | null | undefined>;
/** The same keys in another language. */
export type Messages = { [Room in keyof English]: Record<keyof English[Room], string> };
