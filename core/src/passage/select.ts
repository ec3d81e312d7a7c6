import { contains, distanceToBox, type Point } from '../geometry/box.ts';
import type { PageText, WordRange } from './text-layer.ts';

/** How far from any line, in points, a touch still means the text: about the height of two lines. */
export const TEXT_REACH = 26;

/**
 * The word a point means: the one it lies in, or else the nearest of the nearest line. Null where there is no
 * line within `reach` points.
 */
export function wordAt(text: PageText, point: Point, reach = TEXT_REACH): number | null {
  let line = null;
  let lineDistance = Infinity;
  for (const l of text.lines) {
    const d = distanceToBox(point, l.box);
    if (d < lineDistance) {
      lineDistance = d;
      line = l;
    }
  }
  if (!line || lineDistance > reach) return null;
  let best = line.from;
  let bestDistance = Infinity;
  for (let i = line.from; i < line.to; i++) {
    const box = text.words[i]!.box;
    if (contains(box, point)) return i;
    const d = distanceToBox(point, box);
    if (d < bestDistance) {
      bestDistance = d;
      best = i;
    }
  }
  return best;
}

/** Whole words in reading order from where a drag began to where it is now; null when it began away from text. */
export function wordsBetween(text: PageText, start: Point, end: Point): WordRange | null {
  const a = wordAt(text, start);
  if (a === null) return null;
  const b = wordAt(text, end, Infinity);
  if (b === null) return null;
  return { from: Math.min(a, b), to: Math.max(a, b) };
}
