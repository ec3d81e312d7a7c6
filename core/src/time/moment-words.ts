import { TZDate } from '@date-fns/tz';

const DAY = 86_400_000;
/** A weekday alone means one that is so many days ahead at most: further on, and whatever is past, has its date. */
const WEEKDAY_WITHIN = 6;
const WEEKDAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];
const LONG_WEEKDAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'June', 'July', 'Aug', 'Sept', 'Oct', 'Nov', 'Dec'];
const LONG_MONTHS = [
  ...['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October'],
  ...['November', 'December'],
];

const two = (n: number) => String(n).padStart(2, '0');

/** The day of the school's calendar on which a moment lies, as a number that grows by one a day, whatever the clocks do. */
const dayNumber = (d: TZDate): number => Date.UTC(d.getFullYear(), d.getMonth(), d.getDate()) / DAY;

/**
 * The day of a moment as it is read at another, in the school's time zone: "today", "tomorrow", "yesterday", "Tue" up to six days ahead, else "3 Nov", with
 * its year if it is another one: "3 Nov 2025". Both in milliseconds of Unix time.
 */
export function dayWords(at: number, now: number, timeZone: string): string {
  const [d, n] = [new TZDate(at, timeZone), new TZDate(now, timeZone)];
  const ahead = dayNumber(d) - dayNumber(n);
  if (ahead === 0) return 'today';
  if (ahead === 1) return 'tomorrow';
  if (ahead === -1) return 'yesterday';
  if (ahead > 0 && ahead <= WEEKDAY_WITHIN) return WEEKDAYS[d.getDay()]!;
  const date = `${d.getDate()} ${MONTHS[d.getMonth()]}`;
  return d.getFullYear() === n.getFullYear() ? date : `${date} ${d.getFullYear()}`;
}

/** A moment as it is read at another: its day as `dayWords` says it and the time of the school's clocks, "tomorrow 18:00". */
export function momentWords(at: number, now: number, timeZone: string): string {
  const d = new TZDate(at, timeZone);
  return `${dayWords(at, now, timeZone)} ${two(d.getHours())}:${two(d.getMinutes())}`;
}

/** A day in full, the same whenever it is read: "Saturday 28 November 2026". */
export function fullDay(at: number, timeZone: string): string {
  const d = new TZDate(at, timeZone);
  return `${LONG_WEEKDAYS[d.getDay()]} ${d.getDate()} ${LONG_MONTHS[d.getMonth()]} ${d.getFullYear()}`;
}

/** A day in a letter or on paper, without its weekday: "28 November 2026". */
export function paperDay(at: number, timeZone: string): string {
  return fullDay(at, timeZone).replace(/^\S+ /, '');
}
