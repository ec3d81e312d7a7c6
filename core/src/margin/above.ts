import type { Box } from '../geometry/box.ts';
import type { AddMark, SwapMark } from '../marks/mark.ts';
import type { PageText } from '../passage/text-layer.ts';

/** Words written above their line in the teacher's hand: where they begin, the line they stand on, the size of their letters; all in points. */
export interface AboveLine {
  readonly x: number;
  readonly baseline: number;
  readonly size: number;
}

/** Smaller than this nobody reads them, larger than this no hand writes between lines. */
const LEAST = 7.5;
const LARGEST = 12;
/** Of the room between two lines so much is the height of letters with their tails. */
const FILLS = 0.92;
/** So far below its foot a line's box begins, of the size of the letters above it. */
const TAIL = 0.22;

/**
 * Where the words of a swap or an addition have room above their line, as one corrects on paper. `wide` measures them, in points at size 1; `taken` is where
 * others stand already. Null where there is no room: between close lines, at the right edge, on lines that do not run level.
 */
export function roomAbove(
  mark: SwapMark | AddMark,
  text: PageText,
  pageWidth: number,
  wide: (words: string) => number,
  taken: readonly Box[],
): AboveLine | null {
  const words = mark.words.trim();
  if (words === '' || words.includes('\n')) return null;
  const [x, top] =
    mark.place.on === 'caret'
      ? [mark.place.x - 2, mark.place.top]
      : [mark.place.bands[0]![0], mark.place.bands[0]![1]];
  const line = text.lines.find((l) => l.along === 'x' && top >= l.box[1] - 1 && top < l.box[3]);
  if (!line) return null;
  const least = wide(words) * LEAST;
  const blocks = (end: number) =>
    [...text.words.map((w) => w.box), ...taken].filter(
      ([l, t, r, b]) => r > x && l < end && t < top - 1 && b > top - 60,
    );
  const roof = Math.max(0, ...blocks(x + least).map((b) => b[3]));
  const size = Math.min(LARGEST, (top - roof) * FILLS);
  if (size < LEAST) return null;
  const end = x + wide(words) * size;
  if (end > pageWidth - 4) return null;
  // Larger letters reach further: nothing may stand there either.
  if (blocks(end).some(([, , , b]) => b > top - size)) return null;
  return { x, baseline: top - size * TAIL, size };
}

/** What such words cover. */
export const aboveBox = ({ x, baseline, size }: AboveLine, width: number): Box => [
  x,
  baseline - size * 0.8,
  x + width * size,
  baseline + size * TAIL,
];
