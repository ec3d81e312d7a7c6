import { type LaneId, type Letter, readLetter } from './letter.ts';

/** More is never on its way to the browser's own database at once. */
const MOST = 200;

const placesOf = (personId: string) => `jotmark.last.${personId}.`;
const placeOf = (personId: string, lane: LaneId) => `${placesOf(personId)}${lane}`;

/**
 * What a tab that is being closed had not yet written to the browser's own database: that takes a moment, and a closing tab has none. This
 * place is written at once.
 */
export function leaveLastWords(personId: string, lane: LaneId, letters: readonly Letter[]): void {
  if (letters.length === 0) return;
  try {
    const before = lastWords(personId, lane);
    localStorage.setItem(placeOf(personId, lane), JSON.stringify([...before, ...letters].slice(-MOST)));
  } catch {
    // Full or forbidden: the database may still have got it.
  }
}

/** What a tab left behind as it was closed; nothing that cannot be read. */
export function lastWords(personId: string, lane: LaneId): Letter[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(placeOf(personId, lane)) ?? '[]');
    return Array.isArray(kept) ? kept.slice(-MOST).flatMap((l) => readLetter(l) ?? []) : [];
  } catch {
    return [];
  }
}

/** The lanes of this person in which a tab left something: the browser's own database may know nothing of them. */
export function lanesLeft(personId: string): LaneId[] {
  try {
    return Object.keys(localStorage).flatMap((key) => laneAt(key, personId) ?? []);
  } catch {
    return [];
  }
}

/** The lane for which another tab just left something; null: it is about something else. */
export const laneJustLeft = (event: StorageEvent, personId: string): LaneId | null =>
  event.newValue === null ? null : laneAt(event.key, personId);

const laneAt = (key: string | null, personId: string): LaneId | null =>
  key?.startsWith(placesOf(personId)) ? (key.slice(placesOf(personId).length) as LaneId) : null;

export function forgetLastWords(personId: string, lane: LaneId): void {
  try {
    localStorage.removeItem(placeOf(personId, lane));
  } catch {
    // It is taken in once more then, and counts once.
  }
}
