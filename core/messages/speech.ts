/** Says the texts of a language. */
import { IntlMessageFormat } from 'intl-messageformat';
import type { Messages } from './index';
import type { Speech } from './say';

/** `locale`: by which numbers, lists and plurals are written; `changed`: what becomes of each text, for tests. */
export function speechIn(
  locale: string,
  messages: Messages,
  changed?: (text: string) => ConstructorParameters<typeof IntlMessageFormat>[0],
): Speech {
  const formats = new Map<string, IntlMessageFormat>();
  const list = new Intl.ListFormat(locale, { type: 'conjunction' });
  const rooms = messages as Record<string, Record<string, string> | undefined>;
  return (key, told) => {
    let format = formats.get(key);
    if (!format) {
      const [room, name] = key.split('.') as [string, string];
      const text = rooms[room]?.[name];
      // From a version of Sheaf that knows another catalog.
      if (text === undefined) return Object.values(told).join(' · ') || key;
      format = new IntlMessageFormat(changed ? changed(text) : text, locale, undefined, { ignoreTag: true });
      formats.set(key, format);
    }
    const values = Object.entries(told).map(([name, value]) => [
      name,
      Array.isArray(value) ? list.format(value.map(String)) : (value ?? ''),
    ]);
    return format.format(Object.fromEntries(values) as Record<string, string>) as string;
  };
}
