import { type AboveLine, aboveBox, type Box, type MarginMark, type PageText, roomAbove } from '@jotmark/core';
import { useMemo } from 'react';
import { measureHand } from '../paper/measure.ts';

const NONE: ReadonlyMap<string, AboveLine> = new Map();
const wide = (words: string) => measureHand(words, 100) / 100;

/** Something is said beside the words that are suggested: that stands in the margin. */
export const hasMore = (note: MarginMark): boolean =>
  Boolean(note.replies?.length) || (note.kind !== 'note' && note.reason !== undefined);

/** The swaps and additions of a page whose words have room above their line, and where. */
export function useAbove(
  notes: readonly MarginMark[],
  text: PageText | null,
  pageWidth: number,
): ReadonlyMap<string, AboveLine> {
  return useMemo(() => {
    if (!text || !notes.some((n) => n.kind === 'swap' || n.kind === 'add')) return NONE;
    const out = new Map<string, AboveLine>();
    const taken: Box[] = [];
    for (const note of notes) {
      if (note.kind !== 'swap' && note.kind !== 'add') continue;
      const room = roomAbove(note, text, pageWidth, wide, taken);
      if (!room) continue;
      out.set(note.id, room);
      taken.push(aboveBox(room, wide(note.words.trim())));
    }
    return out;
  }, [notes, text, pageWidth]);
}
