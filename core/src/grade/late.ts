import * as z from 'zod';
import { MAX_POINTS } from '../points/points.ts';

/** What being late costs: so much each day begun after the days of grace, up to a cap. */
export const LateRule = z.object({
  /** In hundredths of a percent of the most points, or in hundredths of a point. */
  counts: z.enum(['percent', 'points']),
  perDay: z.int().min(0).max(MAX_POINTS),
  /** The most that goes off, in the same unit; null: all of it can. */
  cap: z.int().min(0).max(MAX_POINTS).nullable(),
  graceDays: z.int().min(0).max(60),
});
export type LateRule = z.infer<typeof LateRule>;

const DAY_MS = 86_400_000;

/** Days that count as late: each one begun after the days of grace. 25 hours late without grace are 2. */
export const lateDays = (lateMs: number, rule: Pick<LateRule, 'graceDays'>): number =>
  Math.max(0, Math.ceil(lateMs / DAY_MS) - rule.graceDays);

/** What goes off for being late, in hundredths of a point, never more than the most; 0 in time. Parts of a hundredth are let go. */
export function lateDeduction(rule: LateRule, lateMs: number, most: number): number {
  const days = lateDays(lateMs, rule);
  const all = Math.min(days * rule.perDay, rule.cap ?? Number.POSITIVE_INFINITY);
  const points = rule.counts === 'points' ? all : Math.floor((most * Math.min(all, 10_000)) / 10_000);
  return Math.min(most, points);
}
