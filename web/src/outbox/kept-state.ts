import { EMPTY_SHEET, type MarkingState } from '@jotmark/core';
import type { KeptState } from './sheet-keeper.ts';

/** A marking as the server gave it, as a keeper begins with it. */
export const keptState = ({ seq, marks, scores, slip }: MarkingState): KeptState => ({
  seq,
  sheet: {
    ...EMPTY_SHEET,
    marks: new Map(marks.map((m) => [m.id, { value: m.mark, version: m.version }])),
    scores: new Map(scores.map((s) => [s.of, { value: s.score, version: s.version }])),
    slip,
  },
});
