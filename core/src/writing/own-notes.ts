import * as z from 'zod';
import type { Mark, NoteMark } from '../marks/mark.ts';

/** Letters that a student's own note may have. */
export const MOST_OF_A_NOTE = 2000;

/**
 * A note that a student put on their own copy, as part of the task: where its number stands on the pages that were handed in. Frozen with the hand-in;
 * it is the student's, not the teacher's.
 */
export const OwnNote = z.object({
  page: z.int().min(0),
  x: z.number(),
  y: z.number(),
  words: z.string().max(MOST_OF_A_NOTE),
});
export type OwnNote = z.infer<typeof OwnNote>;

/** A student's note on a page of a worksheet: words at a spot and nothing else. */
export function isOwnNote(mark: Mark): mark is NoteMark & { readonly place: { on: 'spot' } } {
  return (
    mark.kind === 'note' &&
    mark.place.on === 'spot' &&
    mark.words.length <= MOST_OF_A_NOTE &&
    mark.points === undefined &&
    mark.voice === undefined &&
    mark.also === undefined &&
    mark.replies === undefined
  );
}
