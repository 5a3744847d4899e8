/**
 * The one clock that everybody asks. SHEAF_TODAY moves it by days and leaves the hour as the district's clocks show it,
 * so that what is done on a set day stands under that day in the ledger, the trail and the year ribbon; from there it
 * goes on. All threads of a process have moved it alike. Days are those of the district's zone.
 */
import { dayIn, onDay } from '#core/time/index';

class Clock {
  /** The district's, as soon as it is known; see district/keepTime. */
  private place = 'UTC';
  private set: string | undefined;
  private offsetMs: number | null = null;

  get zone(): string {
    return this.place;
  }
  set zone(zone: string) {
    if (zone !== this.place) [this.place, this.offsetMs] = [zone, null];
  }

  /** From now on it is the day, at the hour that it was when the process began; without one what it really is. */
  moveTo(day: string | undefined): void {
    [this.set, this.offsetMs] = [day, null];
  }

  /** Milliseconds since 1970. */
  now(): number {
    this.offsetMs ??= this.set ? onDay(this.place, this.set, begun) - begun : 0;
    return Date.now() + this.offsetMs;
  }
  today = (): string => dayIn(this.place, this.now());
  /** The day to which a moment belongs. */
  dayOf = (moment: string): string => dayIn(this.place, moment);
}

/** When the process began: all of its threads say the same. */
const begun = Date.now() - Math.round(process.uptime() * 1000);
export const clock = new Clock();

/** ISO 8601 in UTC with milliseconds. */
export const nowIso = (): string => isoIn(0);
export const isoIn = (ms: number): string => new Date(clock.now() + ms).toISOString();

/** What the machine's own clock says: for what other machines compare with theirs. */
export const machineNow = (): number => Date.now();
