import { isHere, type RoomRow } from '@jotmark/core';
import { PLACE_WORDS } from '../look/glyphs.tsx';
import { plural } from '../time/words.ts';

/** Where a student is with the work, and how far: `done` of `all` questions. */
export function whereabouts(row: RoomRow, done: number, all: number, now: number): string {
  if (row.excused && row.place === 'with-student') return 'excused';
  if (row.place !== 'with-student') return PLACE_WORDS[row.place];
  return `${isHere(row, now) ? 'here' : 'away'} · ${done} of ${all}`;
}

/** Since when nothing came; `silence` in milliseconds, null where nothing ever did. */
export function silenceWords(row: RoomRow, silence: number | null): string {
  if (row.place !== 'with-student') return ' ';
  if (silence === null) return 'nothing written yet';
  if (silence < 15_000) return 'writing now';
  if (silence < 60_000) return 'a moment ago';
  const minutes = Math.floor(silence / 60_000);
  return minutes < 90
    ? `nothing for ${plural(minutes, 'minute', 'minutes')}`
    : `nothing for ${Math.round(minutes / 60)} hours`;
}
