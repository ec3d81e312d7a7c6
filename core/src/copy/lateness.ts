/** Milliseconds by which something came after its date; 0 in time or without a date. At the very moment is in time. */
export function lateBy(dueAt: number | null, at: number): number {
  return dueAt === null ? 0 : Math.max(0, at - dueAt);
}

export interface Lateness {
  readonly count: number;
  readonly unit: 'minute' | 'hour' | 'day';
}

/** As a teacher says it: begun minutes up to an hour, whole hours up to two days, then whole days. Null in time. */
export function lateness(ms: number): Lateness | null {
  if (ms <= 0) return null;
  const minutes = Math.ceil(ms / 60_000);
  if (minutes < 60) return { count: minutes, unit: 'minute' };
  const hours = Math.floor(minutes / 60);
  if (hours < 48) return { count: hours, unit: 'hour' };
  return { count: Math.floor(hours / 24), unit: 'day' };
}
