import type { Box, Point } from '../geometry/box.ts';

/**
 * The drawn points of a stroke as they came from the pen, flat: x, y in hundredths of a point, pressure 0…255,
 * x, y, pressure … They are kept whole: thinning them would move the outline by up to 2 pt when ink settles.
 */
export type StrokePoints = readonly number[];

export const POINT_FIELDS = 3;
/** More points than an hour of writing without lifting the pen; what comes after is a new stroke. */
export const MAX_STROKE_POINTS = 50_000;

export function pointCount(points: StrokePoints): number {
  return points.length / POINT_FIELDS;
}

/** One pen sample as it is kept. Position in points, pressure 0…1; what lies outside is brought to the nearest edge. */
export function quantise(x: number, y: number, pressure: number): readonly [number, number, number] {
  return [Math.round(x * 100), Math.round(y * 100), Math.round(Math.min(1, Math.max(0, pressure)) * 255)];
}

export function pointAt(points: StrokePoints, i: number): Point {
  return [points[i * POINT_FIELDS]! / 100, points[i * POINT_FIELDS + 1]! / 100];
}

/** The box round the drawn points, without the stroke's own width. Throws on a stroke without points. */
export function strokeBox(points: StrokePoints): Box {
  if (points.length < POINT_FIELDS) throw new Error('A stroke has at least one point');
  let l = Infinity;
  let t = Infinity;
  let r = -Infinity;
  let b = -Infinity;
  for (let i = 0; i < points.length; i += POINT_FIELDS) {
    const x = points[i]!;
    const y = points[i + 1]!;
    if (x < l) l = x;
    if (x > r) r = x;
    if (y < t) t = y;
    if (y > b) b = y;
  }
  return [l / 100, t / 100, r / 100, b / 100];
}

export function moveStroke(points: StrokePoints, dx: number, dy: number): number[] {
  const out = points.slice();
  const qx = Math.round(dx * 100);
  const qy = Math.round(dy * 100);
  for (let i = 0; i < out.length; i += POINT_FIELDS) {
    out[i]! += qx;
    out[i + 1]! += qy;
  }
  return out;
}

/** The least distance, in points, between a point and the line through the stroke's points. */
export function distanceToStroke([px, py]: Point, points: StrokePoints): number {
  const x = px * 100;
  const y = py * 100;
  let best = Infinity;
  let ax = points[0]!;
  let ay = points[1]!;
  best = (x - ax) ** 2 + (y - ay) ** 2;
  for (let i = POINT_FIELDS; i < points.length; i += POINT_FIELDS) {
    const bx = points[i]!;
    const by = points[i + 1]!;
    const dx = bx - ax;
    const dy = by - ay;
    const len = dx * dx + dy * dy;
    const along = len === 0 ? 0 : Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / len));
    const d = (x - ax - along * dx) ** 2 + (y - ay - along * dy) ** 2;
    if (d < best) best = d;
    ax = bx;
    ay = by;
  }
  return Math.sqrt(best) / 100;
}
