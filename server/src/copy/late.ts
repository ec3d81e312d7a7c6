import { lateBy } from '@jotmark/core';

/**
 * By how much a hand-in `h` of copy `c` of assignment `a` is late by the date that holds now, in milliseconds: null without a hand-in. A date that is moved, for
 * all or for one, before or after the hand-in, moves this along. What a teacher brought in as on time stays so.
 */
export const LATE = `IF(h.id IS NULL, NULL, IF(h.brought IS NOT NULL AND h.late_ms = 0, 0,
  GREATEST(0, COALESCE(TIMESTAMPDIFF(MICROSECOND, COALESCE(c.due_at, a.due_at), h.handed_in_at) DIV 1000, 0))))`;

/** The same of a hand-in that was read already, by the date that holds for its copy. */
export const lateNow = (
  handIn: { readonly handedInAt: number; readonly lateMs: number; readonly brought: unknown },
  dueAt: number | null,
): number => (handIn.brought && handIn.lateMs === 0 ? 0 : lateBy(dueAt, handIn.handedInAt));
