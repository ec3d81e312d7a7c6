import type { Box, Point } from '../geometry/box.ts';
import type { PageText } from '../passage/text-layer.ts';

/** How far a lead goes up or down to find a gap between lines, in points. */
const REACH = 16;
/** So near to a word's box, in points, a lead runs through it. */
const CLEAR = 0.3;

const crosses = (words: readonly Box[], y: number, from: number, to: number): boolean =>
  words.some(([l, t, r, b]) => r > from && l < to && y > t + CLEAR && y < b - CLEAR);

/**
 * The way of a lead from its place to the edge of the page without running through words: level where nothing stands in between, otherwise along the nearest
 * gap between lines. Points from the place to the edge. Null where every way would run through words: such a lead stays away.
 */
export function leadWay(place: Point, edge: number, text: PageText | null): readonly Point[] | null {
  const [x, y] = place;
  const right = edge > x;
  // The end of its own word is no word in its way.
  const [from, to] = right ? [x + 1, edge] : [edge, x - 1];
  const words = (text?.words ?? []).map((w) => w.box).filter(([l, , r]) => r > from && l < to);
  if (!crosses(words, y, from, to)) return [place, [edge, y]];
  const all = (text?.words ?? []).map((w) => w.box);
  // Up or down beside its place it goes through no other line.
  const steps = (gap: number) =>
    !all.some(
      ([l, t, r, b]) =>
        x > l && x < r && (y < t || y > b) && Math.max(t, Math.min(y, gap)) < Math.min(b, Math.max(y, gap)),
    );
  const gaps = words
    .flatMap(([, t, , b]) => [b + 0.8, t - 0.8])
    .filter((gap) => Math.abs(gap - y) <= REACH && !crosses(words, gap, from, to) && steps(gap))
    .sort((a, b) => Math.abs(a - y) - Math.abs(b - y));
  const gap = gaps[0];
  return gap === undefined ? null : [place, [x, gap], [edge, gap]];
}
