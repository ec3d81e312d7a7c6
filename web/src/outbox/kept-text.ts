import type { CopyId, HandBackId, PersonId } from '@jotmark/core';
import { useCallback, useSyncExternalStore } from 'react';

const listeners = new Set<() => void>();

function read(place: string): string {
  try {
    return localStorage.getItem(place) ?? '';
  } catch {
    return '';
  }
}

/** Keeps words that are not sent yet in this browser, under a name that says whose they are. */
export function keepText(place: string, text: string): void {
  try {
    if (text) localStorage.setItem(place, text);
    else localStorage.removeItem(place);
    unkept.delete(place);
  } catch {
    // Full or forbidden: they stand in their field for as long as it is shown.
    unkept.set(place, text);
  }
  for (const heard of listeners) heard();
}

const unkept = new Map<string, string>();
const subscribe = (heard: () => void) => {
  listeners.add(heard);
  return () => listeners.delete(heard);
};

/** Whether words of a field wait there now. */
export const hasKept = (place: string): boolean => (unkept.get(place) ?? read(place)) !== '';

/** Words of one field that wait in this browser until they are sent. */
export function useKeptText(place: string): readonly [string, (text: string) => void] {
  const text = useSyncExternalStore(subscribe, () => unkept.get(place) ?? read(place));
  return [text, useCallback((next: string) => keepText(place, next), [place])];
}

/** Where the word that goes along with a hand-in is kept until it has arrived, by who writes it. */
export const placeOfCover = (personId: PersonId, copyId: CopyId) => `jotmark.cover.${personId}.${copyId}`;

/** Where words to be said on a copy are kept, by who writes them. */
export const placeOfWords = (personId: PersonId, copyId: CopyId) => `jotmark.say.${personId}.${copyId}`;

/** Where the answer to a teacher's question about a hand-back is kept, by who writes it. */
export const placeOfReflection = (personId: PersonId, handBackId: HandBackId) =>
  `jotmark.reflect.${personId}.${handBackId}`;
