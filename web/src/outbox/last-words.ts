import type { Change } from '@jotmark/core';
import type { SheetId } from './device.ts';
import { readAllKept } from './read-kept.ts';

/** More is never on its way to the browser's own database at once. */
const MOST = 200;

const placeOf = (personId: string, sheetId: SheetId) => `jotmark.last.${personId}.${sheetId}`;

/**
 * What a tab that is being closed had not yet written to the browser's own database: that takes a moment, and a closing tab has none. This
 * place is written at once.
 */
export function leaveLastWords(personId: string, sheetId: SheetId, changes: readonly Change[]): void {
  if (changes.length === 0) return;
  try {
    const before = lastWords(personId, sheetId);
    localStorage.setItem(placeOf(personId, sheetId), JSON.stringify([...before, ...changes].slice(-MOST)));
  } catch {
    // Full or forbidden: the database may still have got it.
  }
}

/** What a tab left behind as it was closed; nothing that cannot be read. */
export function lastWords(personId: string, sheetId: SheetId): Change[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(placeOf(personId, sheetId)) ?? '[]');
    return Array.isArray(kept) ? readAllKept(kept.slice(-MOST)) : [];
  } catch {
    return [];
  }
}

/** Whether something was just left for this sheet by another tab. */
export const isLastWords = (event: StorageEvent, personId: string, sheetId: SheetId): boolean =>
  event.key === placeOf(personId, sheetId) && event.newValue !== null;

export function forgetLastWords(personId: string, sheetId: SheetId): void {
  try {
    localStorage.removeItem(placeOf(personId, sheetId));
  } catch {
    // It is taken in once more then, and counts once.
  }
}
