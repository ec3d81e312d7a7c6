import type { TodayPile } from '../contract/shapes.ts';
import { type Place, waits } from '../copy/place.ts';

/** How far ahead "due soon" looks: a week. */
const SOON_MS = 7 * 24 * 3_600_000;

/** Copies of a pile that wait for the teacher. */
export function waitingIn(pile: TodayPile): number {
  return Object.entries(pile.counts).reduce((sum, [place, n]) => sum + (waits(place as Place) ? n : 0), 0);
}

export interface TodayOrder {
  /** Copies wait: what was left half marked first, then handed in again, then by the longest waiting. */
  readonly waiting: readonly TodayPile[];
  /** Nothing waits yet, but its date comes within the week: the nearest first. */
  readonly soon: readonly TodayPile[];
  readonly rest: readonly TodayPile[];
}

/** A teacher's piles in the order to do them. `now` in ms since 1970. */
export function orderToday(piles: readonly TodayPile[], now: number): TodayOrder {
  const due = (p: TodayPile) => p.assignment.dueAt ?? Number.POSITIVE_INFINITY;
  const isSoon = (p: TodayPile) => due(p) > now && due(p) <= now + SOON_MS && p.counts['with-student'] > 0;
  const rank = (p: TodayPile) => (p.next?.begun ? 0 : p.counts['in-again'] > 0 ? 1 : 2);
  const idle = piles.filter((p) => waitingIn(p) === 0);
  return {
    waiting: piles
      .filter((p) => waitingIn(p) > 0)
      .sort((a, b) => rank(a) - rank(b) || (a.oldestWaiting ?? 0) - (b.oldestWaiting ?? 0)),
    soon: idle.filter(isSoon).sort((a, b) => due(a) - due(b)),
    rest: idle.filter((p) => !isSoon(p)),
  };
}
