import { type HandInId, type Mark, type PersonId, readMark } from '@jotmark/core';

/** A stroke that old belongs to no living hand: a living one would have gone on. */
const LEFT_MS = 2500;

const placeOf = (personId: PersonId, handInId: HandInId) => `jotmark.stroke.${personId}.${handInId}`;

/** Keeps in this browser the stroke that is being drawn, as far as it came; null: it has settled. A tab that is killed says no good-bye. */
export function keepStroke(personId: PersonId, handInId: HandInId, mark: Mark | null): void {
  try {
    if (mark) localStorage.setItem(placeOf(personId, handInId), JSON.stringify({ mark, at: Date.now() }));
    else localStorage.removeItem(placeOf(personId, handInId));
  } catch {
    // Full or forbidden: it is kept when it settles.
  }
}

/** Gives the stroke that a tab which died left behind, once it is sure that nobody is still drawing it. */
export function takeStroke(
  personId: PersonId,
  handInId: HandInId,
  use: (mark: Mark) => void,
): (() => void) | undefined {
  const place = placeOf(personId, handInId);
  try {
    const left = localStorage.getItem(place);
    if (left === null) return;
    const { mark, at } = JSON.parse(left);
    const read = readMark(mark);
    const wait = Math.min(LEFT_MS, Math.max(0, Number(at) + LEFT_MS - Date.now()));
    const clock = setTimeout(() => {
      if (localStorage.getItem(place) !== left) return;
      localStorage.removeItem(place);
      if (read.kind !== 'unread') use(read);
    }, wait || 0);
    return () => clearTimeout(clock);
  } catch {
    // What cannot be read is no stroke.
    return;
  }
}
