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

const formats = new Map<string, Intl.DateTimeFormat>();

/** A moment as the calendar and the clocks of a time zone show it. By what browsers have: every first page needs it, and a library for it would be loaded before anything is seen. */
function shownIn(at: number, timeZone: string) {
  let format = formats.get(timeZone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone,
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    });
    formats.set(timeZone, format);
  }
  const part = Object.fromEntries(format.formatToParts(at).map(({ type, value }) => [type, value]));
  const [year, month, date] = [Number(part.year), Number(part.month) - 1, Number(part.day)];
  // The day of the calendar, as a number that grows by one a day, whatever the clocks do.
  const day = Date.UTC(year, month, date) / DAY;
  return {
    year,
    month,
    date,
    day,
    // The first day of Unix time was a Thursday.
    weekday: (((day + 4) % 7) + 7) % 7,
    time: `${part.hour}:${part.minute}`,
  };
}

/**
 * The day of a moment as it is read at another, in the school's time zone: "today", "tomorrow", "yesterday", "Tue" up to six days ahead, else "3 Nov", with
 * its year if it is another one: "3 Nov 2025". Both in milliseconds of Unix time.
 */
export function dayWords(at: number, now: number, timeZone: string): string {
  const [d, n] = [shownIn(at, timeZone), shownIn(now, timeZone)];
  const ahead = d.day - n.day;
  if (ahead === 0) return 'today';
  if (ahead === 1) return 'tomorrow';
  if (ahead === -1) return 'yesterday';
  if (ahead > 0 && ahead <= WEEKDAY_WITHIN) return WEEKDAYS[d.weekday]!;
  const date = `${d.date} ${MONTHS[d.month]}`;
  return d.year === n.year ? date : `${date} ${d.year}`;
}

/** A moment as it is read at another: its day as `dayWords` says it and the time of the school's clocks, "tomorrow 18:00". */
export function momentWords(at: number, now: number, timeZone: string): string {
  return `${dayWords(at, now, timeZone)} ${timeWords(at, timeZone)}`;
}

/** The time of the school's clocks: "18:00". */
export function timeWords(at: number, timeZone: string): string {
  return shownIn(at, timeZone).time;
}

/** A day in full, the same whenever it is read: "Saturday 28 November 2026". */
export function fullDay(at: number, timeZone: string): string {
  const d = shownIn(at, timeZone);
  return `${LONG_WEEKDAYS[d.weekday]} ${d.date} ${LONG_MONTHS[d.month]} ${d.year}`;
}

/** A day in a letter or on paper, without its weekday: "28 November 2026". */
export function paperDay(at: number, timeZone: string): string {
  return fullDay(at, timeZone).replace(/^\S+ /, '');
}
