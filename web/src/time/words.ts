import { dayWords, fullDay, lateness, momentWords, paperDay, timeWords } from '@jotmark/core';

/** Moments as they are read in the school's own time zone. */
export function makeClock(timeZone: string) {
  return {
    /** "tomorrow 18:00", "Tue 18:00" within six days ahead, else "3 Nov 18:00". */
    moment: (at: number, now: number) => momentWords(at, now, timeZone),
    /** The same without its time. */
    day: (at: number, now: number) => dayWords(at, now, timeZone),
    /** "Saturday 28 November 2026, 18:00" */
    full: (at: number) => `${fullDay(at, timeZone)}, ${timeWords(at, timeZone)}`,
    /** "Saturday 28 November 2026" */
    fullDay: (at: number) => fullDay(at, timeZone),
    /** On what is printed: "28 November 2026" */
    paperDay: (at: number) => paperDay(at, timeZone),
  };
}

/** "late 2 h", or null in time. */
export function lateWords(ms: number): string | null {
  const late = lateness(ms);
  if (!late) return null;
  const unit = { minute: 'min', hour: 'h', day: late.count === 1 ? 'day' : 'days' }[late.unit];
  return `late ${late.count} ${unit}`;
}

/** "about 40 minutes" for so many copies at a pace in seconds a copy; null when the pace is not known yet. */
export function paceWords(copies: number, pace: number | null): string | null {
  if (pace === null || copies === 0) return null;
  const minutes = Math.max(1, Math.round((copies * pace) / 60));
  if (minutes < 10) return `about ${minutes} minute${minutes === 1 ? '' : 's'} at your pace`;
  if (minutes < 90) return `about ${Math.round(minutes / 5) * 5} minutes at your pace`;
  return `about ${Math.round(minutes / 30) / 2} hours at your pace`;
}

export function plural(n: number, one: string, many: string): string {
  return `${n} ${n === 1 ? one : many}`;
}

export function fileSize(bytes: number): string {
  return bytes < 1024 * 1024
    ? `${Math.max(1, Math.round(bytes / 1024))} kB`
    : `${(bytes / 1024 / 1024).toFixed(1)} MB`;
}
