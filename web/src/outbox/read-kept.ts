import { type Change, type Gesture, readChange } from '@jotmark/core';
import { keepOlderBytes } from './older-bytes.ts';

/** A change as this browser kept it, by whatever version; null for one that cannot be read: it stays where it is. */
export function readKept(raw: unknown): Change | null {
  const read = readChange(raw, keepOlderBytes);
  return read.ok ? read.value : null;
}

/** What of it can be read. */
export const readAllKept = (raw: readonly unknown[]): Change[] => raw.flatMap((c) => readKept(c) ?? []);

/** Gestures that can be read whole: half of one is not taken back. */
export const readGestures = (raw: readonly (readonly unknown[])[]): Gesture[] =>
  raw.flatMap((gesture) => {
    const changes = readAllKept(gesture);
    return changes.length === gesture.length ? [changes] : [];
  });
