import * as z from 'zod';
import { fraction, type RoundingWay, roundTo } from '../grade/fraction.ts';
import { ChangeId, CopyId } from '../ids/id.ts';
import { MAX_POINTS } from '../points/points.ts';

/** How the grades of a pile are evened out: all moved by so much, or stretched so that one grade becomes another. */
export const Evening = z.discriminatedUnion('how', [
  z.object({ how: z.literal('shift'), by: z.int().min(-MAX_POINTS).max(MAX_POINTS) }),
  /** A straight line through two points: what was `from` becomes `to`, the most stays the most. */
  z.object({
    how: z.literal('stretch'),
    from: z.int().min(0).max(MAX_POINTS),
    to: z.int().min(0).max(MAX_POINTS),
  }),
]);
export type Evening = z.infer<typeof Evening>;

/** What evening out did to one copy: the typed grade before it and after it, and the change that wrote it. */
export const EveningChange = z.object({
  copyId: CopyId,
  change: ChangeId,
  from: z.int().nullable(),
  to: z.int(),
});
export type EveningChange = z.infer<typeof EveningChange>;

/**
 * A grade after it, within 0 and the most, rounded like any grade. All in hundredths of a point. A stretch from the most itself changes nothing: there is
 * no line through it.
 */
export function evenGrade(
  grade: number,
  most: number,
  evening: Evening,
  rounding: { readonly to: number; readonly way: RoundingWay },
): number {
  const within = (value: number) => Math.min(most, Math.max(0, value));
  if (evening.how === 'shift') return within(grade + evening.by);
  const { from, to } = evening;
  if (from >= most) return grade;
  // most − (most − grade) × (most − to) / (most − from), never below 0.
  const over = BigInt(most) * BigInt(most - from) - BigInt(most - grade) * BigInt(most - to);
  if (over <= 0n) return 0;
  return within(roundTo(fraction(over, BigInt(most - from)), rounding.to, rounding.way));
}
