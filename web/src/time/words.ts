import { lateness } from '@jotmark/core';

/** Moments as they are read in the school's own time zone. */
export function makeClock(timeZone: string) {
  const format = (options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat('en-GB', { timeZone, ...options });
  const near = format({ weekday: 'short', hour: '2-digit', minute: '2-digit', hour12: false });
  const far = format({ day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', hour12: false });
  const day = format({ weekday: 'long', day: 'numeric', month: 'long' });
  return {
    /** "Mon 16:02" within six days either way, else "3 Nov, 16:02". */
    moment: (at: number, now: number) =>
      (Math.abs(at - now) < 6 * 86_400_000 ? near : far).format(at).replace(',', ''),
    day: (at: number) => day.format(at),
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
