import type { Box, Point } from '../geometry/box.ts';
import { pointAt, pointCount, type StrokePoints, strokeBox } from './stroke.ts';

/** What a stroke that was held still at its end is meant to be. */
export type Exact =
  | { readonly as: 'line'; readonly from: Point; readonly to: Point }
  | { readonly as: 'ring'; readonly box: Box }
  | { readonly as: 'box'; readonly box: Box };

/** Smaller than this, in points, on its longer side a stroke is writing, not drawing. */
const SMALLEST = 12;
/** How far a line may stray from the straight way, as a share of its length. */
const LINE_STRAYS = 0.07;
/** How far the ends of a round may miss each other, as a share of its longer side. */
const OPEN = 0.35;
/** How far on average the points of a round may lie from its figure, as a share of its half width. */
const ROUND_STRAYS = 0.2;

/** The line, ring or box that was drawn by hand, or null where it is none of them. */
export function exactShape(points: StrokePoints): Exact | null {
  const n = pointCount(points);
  if (n < 2) return null;
  const box = strokeBox(points);
  const [l, t, r, b] = box;
  const long = Math.max(r - l, b - t);
  if (long < SMALLEST) return null;
  const all = Array.from({ length: n }, (_, i) => pointAt(points, i));
  const first = all[0]!;
  const last = all[n - 1]!;
  const span = Math.hypot(last[0] - first[0], last[1] - first[1]);
  if (span > long * OPEN) {
    const strays = Math.max(...all.map((p) => offLine(p, first, last, span)));
    return strays <= span * LINE_STRAYS + 0.5 ? { as: 'line', from: first, to: last } : null;
  }
  const rx = (r - l) / 2;
  const ry = (b - t) / 2;
  if (Math.min(rx, ry) < SMALLEST / 4) return null;
  const mean = (of: (p: Point) => number) => all.reduce((sum, p) => sum + of(p), 0) / n;
  const ring = mean(([x, y]) => Math.abs(Math.hypot((x - l - rx) / rx, (y - t - ry) / ry) - 1));
  const frame = mean(([x, y]) => Math.min((x - l) / rx, (r - x) / rx, (y - t) / ry, (b - y) / ry));
  if (Math.min(ring, frame) > ROUND_STRAYS) return null;
  return ring <= frame ? { as: 'ring', box } : { as: 'box', box };
}

const offLine = (p: Point, a: Point, b: Point, span: number): number =>
  Math.abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / span;

/** A stroke straight from where it began to here, at even pressure: while a key is held. Hundredths of a point, as strokes are kept. */
export function straightStroke(points: StrokePoints): number[] {
  const n = points.length;
  if (n <= 6) return [...points];
  const pressure = Math.round((points[2]! + points[n - 1]!) / 2);
  return [points[0]!, points[1]!, pressure, points[n - 3]!, points[n - 2]!, pressure];
}
