/** Says the texts of a language. */
import { IntlMessageFormat } from 'intl-messageformat';
import type { Messages } from './index';
import type { Speech } from './say';

/** Texts say `{ends, date, day}` for a day of the calendar, which is told as 2026-08-17 and is in no time zone. */
const styles = { date: { day: { year: 'numeric', month: 'short', day: 'numeric', timeZone: 'UTC' } } } as const;

/** `locale`: by which numbers, lists and plurals are written; `changed`: what becomes of each text, for tests. */
export function speechIn(
  locale: string,
  messages: Messages,
  changed?: (text: string) => ConstructorParameters<typeof IntlMessageFormat>[0],
): Speech {
  const formats = new Map<string, { format: IntlMessageFormat; days: Set<string> }>();
  const list = new Intl.ListFormat(locale, { type: 'conjunction' });
  const rooms = messages as Record<string, Record<string, string> | undefined>;
  return (key, told) => {
    let known = formats.get(key);
    if (!known) {
      const [room, name] = key.split('.') as [string, string];
      const text = rooms[room]?.[name];
      // From a version of Sheaf that knows another catalog.
      if (text === undefined) return Object.values(told).join(' · ') || key;
      known = {
        format: new IntlMessageFormat(changed ? changed(text) : text, locale, styles, { ignoreTag: true }),
        days: new Set([...text.matchAll(/\{(\w+), date, day\}/g)].map(([, name]) => name!)),
      };
      formats.set(key, known);
    }
    const { format, days } = known;
    const values = Object.entries(told).map(([name, value]) => [
      name,
      Array.isArray(value)
        ? list.format(value.map(String))
        : days.has(name)
          ? new Date(`${value as string}T00:00Z`)
          : (value ?? ''),
    ]);
    return format.format(Object.fromEntries(values) as Record<string, string>) as string;
  };
}
