import { type InkMark, type Mark, type MarkId, type Point, rubPart } from '@jotmark/core';
import type { Act } from './act.ts';

/** The radius of the eraser that takes a part of a stroke, in CSS pixels. */
const RUBBER = 9;

/** Marks taken away and marks put in their place. */
export interface Exchange {
  readonly gone: readonly Mark[];
  readonly come: readonly Mark[];
}

/** Strokes lose the part that was gone over at a point; what is left of each are strokes of their own. Remembers in the act what its sweep did. */
export function piecesLeft(act: Act, at: Point, marks: readonly Mark[], newId: () => MarkId): Exchange[] {
  const radius = RUBBER / act.page.view.zoom;
  // What this very sweep did is not yet among what is shown.
  const there = new Map([...marks, ...act.pieces.values()].map((m) => [m.id, m]));
  const out: Exchange[] = [];
  for (const mark of there.values()) {
    if (mark.kind !== 'ink' || act.gone.has(mark.id)) continue;
    const pieces = rubPart(mark.points, at, radius + mark.width / 2);
    if (pieces[0] === mark.points) continue;
    const come = pieces.map((points): InkMark => ({ ...mark, id: newId(), points: [...points] }));
    act.gone.add(mark.id);
    for (const piece of come) act.pieces.set(piece.id, piece);
    out.push({ gone: [mark], come });
  }
  return out;
}
