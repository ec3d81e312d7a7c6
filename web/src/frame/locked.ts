import type { PersonId } from '@jotmark/core';

/** Where this browser notes for whom something is locked away in it: so that nobody opens a database to find it empty. */
export const LOCKED = 'jotmark.locked';

/** Whether something of this person is locked away here; without one, of anybody. */
export function hasLocked(personId?: PersonId): boolean {
  try {
    const kept = localStorage.getItem(LOCKED);
    return kept !== null && (personId === undefined || kept.includes(personId));
  } catch {
    return false;
  }
}
