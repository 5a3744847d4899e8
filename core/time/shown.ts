/** What the clocks of a zone show at a moment. */

const clocks = new Map<string, Intl.DateTimeFormat>();
function clockOf(zone: string): Intl.DateTimeFormat {
  let clock = clocks.get(zone);
  if (!clock) {
    const two = '2-digit';
    clock = new Intl.DateTimeFormat('en-US', {
      ...{ timeZone: zone, hourCycle: 'h23', year: 'numeric', month: two, day: two, hour: two, minute: two },
    });
    clocks.set(zone, clock);
  }
  return clock;
}

/** What the clocks of the zone show, to the minute. `at`: a moment, or milliseconds since 1970. */
export function wallTimeIn(zone: string, at: number | string): string {
  const shown = clockOf(zone).formatToParts(typeof at === 'number' ? at : Date.parse(at));
  const { year, month, day, hour, minute } = Object.fromEntries(shown.map(({ type, value }) => [type, value]));
  return `${year!.padStart(4, '0')}-${month}-${day}T${hour}:${minute}`;
}

/** A zone's day begins at a quarter of an hour, whatever its offset is. */
export function dayIn(zone: string, at: number | string): string {
  const quarter = Math.floor((typeof at === 'number' ? at : Date.parse(at)) / quarterMs);
  let known = days.get(zone);
  if (!known) days.set(zone, (known = new Map()));
  let day = known.get(quarter);
  if (day === undefined) {
    day = wallTimeIn(zone, quarter * quarterMs).slice(0, 10);
    if (known.size >= mostKnown) known.clear();
    known.set(quarter, day);
  }
  return day;
}
const quarterMs = 900_000;
/** Three years of quarters of an hour. */
const mostKnown = 105_000;
const days = new Map<string, Map<number, string>>();
