import { TZDate } from '@date-fns/tz';

/**
 * A moment as the school's wall clock shows it, "2026-11-25T16:30", for a date-and-time field. `at` in milliseconds of
 * Unix time.
 */
export function wallTime(at: number, timeZone: string): string {
  const d = new TZDate(at, timeZone);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}T${two(d.getHours())}:${two(d.getMinutes())}`;
}

const HOUR = 3_600_000;

/**
 * The moment at which the school's clocks show this wall time; null when it is no date and time. A time that a clock
 * change leaves out counts as the one an hour later, one that comes twice as the first.
 */
export function momentAt(wall: string, timeZone: string): number | null {
  const match = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)/.exec(wall);
  if (!match) return null;
  const [y, mo, d, h, mi] = match.slice(1).map(Number) as [number, number, number, number, number];
  if (mo < 1 || mo > 12 || d < 1 || d > new Date(Date.UTC(y, mo, 0)).getUTCDate() || h > 23 || mi > 59)
    return null;
  const at = new TZDate(y, mo - 1, d, h, mi, timeZone).getTime();
  return wallTime(at - HOUR, timeZone) === wallTime(at, timeZone) ? at - HOUR : at;
}
