import { momentAt, wallTime } from '../time/school-time.ts';

interface SetBefore {
  readonly most: number | null;
  readonly dueAt: number | null;
}

/** The value that comes most often, of equals the newer; null: there is none. `values` has the newest first. */
function mostOften<T>(values: readonly T[]): T | null {
  const counts = new Map<T, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  let best: T | null = null;
  for (const [v, n] of counts) if (best === null || n > counts.get(best)!) best = v;
  return best;
}

/** The points that work of a class is usually out of, in hundredths, the newest first; null: none has points. */
export const usualPoints = (before: readonly SetBefore[]): number | null =>
  mostOften(before.flatMap((b) => b.most ?? []));

/** When work of a class is usually due, as the school's clock shows it: "18:00"; null: none has a date. */
export const usualTime = (before: readonly SetBefore[], timeZone: string): string | null =>
  mostOften(before.flatMap((b) => (b.dueAt === null ? [] : wallTime(b.dueAt, timeZone).slice(11))));

/** So many days from now at a time of the school's clock, in ms; the days of the calendar count, whatever the clocks do between. */
export function daysAhead(now: number, days: number, time: string, timeZone: string): number | null {
  const [y, m, d] = wallTime(now, timeZone).slice(0, 10).split('-').map(Number) as [number, number, number];
  const day = new Date(Date.UTC(y, m - 1, d + days)).toISOString().slice(0, 10);
  return momentAt(`${day}T${time}`, timeZone);
}
