import { Change } from '@jotmark/core';
import * as z from 'zod';
import type { SheetId } from './device.ts';

/** More is never on its way to the browser's own database at once. */
const MOST = 200;
const Kept = z.array(Change).max(MOST);

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
    const read = Kept.safeParse(JSON.parse(localStorage.getItem(placeOf(personId, sheetId)) ?? '[]'));
    return read.success ? read.data : [];
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
