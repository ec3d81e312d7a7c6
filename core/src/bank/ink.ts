import type * as z from 'zod';
import { type Box, boxAround, type Point } from '../geometry/box.ts';
import { moveStroke } from '../ink/stroke.ts';
import { InkMark, type Mark } from '../marks/mark.ts';
import { coverOf } from '../marks/place.ts';
import { listOf } from '../versions/list.ts';

const Stroke = InkMark.pick({ points: true, width: true, colour: true });
/** No remark that is kept has more strokes, or more numbers in them. */
export const MOST_STROKES = 80;
const MOST_NUMBERS = 6_000;

/** A remark in its teacher's hand: its strokes, in points, from the corner of what they cover. */
export const PhraseInk = listOf(Stroke, MOST_STROKES, 1).refine(
  (strokes) => strokes.reduce((sum, s) => sum + s.points.length, 0) <= MOST_NUMBERS,
  'a remark, not a page',
);
export type PhraseInk = z.infer<typeof PhraseInk>;

/** Marks of pen strokes as a remark that can be kept; null where other marks are among them, or more of them than a remark has. */
export function inkOf(marks: readonly Mark[]): PhraseInk | null {
  const strokes = marks.filter((m) => m.kind === 'ink');
  if (strokes.length !== marks.length) return null;
  const cover = boxAround(strokes.map(coverOf));
  if (!cover) return null;
  const read = PhraseInk.safeParse(
    strokes.map(({ points, width, colour }) => ({
      points: moveStroke(points, -cover[0], -cover[1]),
      width,
      colour,
    })),
  );
  return read.success ? read.data : null;
}

/** What a kept remark covers, from its corner. */
export const inkBox = (ink: PhraseInk): Box => boxAround(ink.map((s) => coverOf(asMark(s))))!;

const asMark = (stroke: PhraseInk[number]): InkMark => ({ ...stroke, kind: 'ink' }) as InkMark;

/** The strokes of a kept remark as marks again, with its corner at a point of a page. */
export const marksOfInk = (
  ink: PhraseInk,
  [x, y]: Point,
  base: () => Pick<InkMark, 'v' | 'id' | 'document' | 'page' | 'focus' | 'madeAt'>,
): InkMark[] =>
  ink.map((stroke) => ({ ...base(), ...asMark(stroke), points: moveStroke(stroke.points, x, y) }));
