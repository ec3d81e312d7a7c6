import type { Point } from '../geometry/box.ts';
import { POINT_FIELDS, type StrokePoints } from './stroke.ts';

/**
 * What is left of a stroke when a round eraser of this radius, in points, is held at one place: the pieces in order, each a
 * true stroke that ends where the eraser's edge crossed it. The very same stroke when it was not touched; nothing when all of it went.
 */
export function rubPart(points: StrokePoints, [cx, cy]: Point, radius: number): StrokePoints[] {
  const x = cx * 100;
  const y = cy * 100;
  const r = radius * 100;
  const n = points.length / POINT_FIELDS;
  const inside = (i: number) => Math.hypot(points[i * 3]! - x, points[i * 3 + 1]! - y) < r;
  if (n === 1) return inside(0) ? [] : [points];
  const pieces: number[][] = [];
  let piece: number[] = [];
  let touched = false;
  const end = () => {
    if (piece.length > POINT_FIELDS) pieces.push(piece);
    piece = [];
  };
  const push = (i: number) => piece.push(points[i * 3]!, points[i * 3 + 1]!, points[i * 3 + 2]!);
  if (!inside(0)) push(0);
  for (let i = 1; i < n; i++) {
    const cross = crossings(points, i, x, y, r);
    if (cross) {
      touched = true;
      if (cross.enter > 0) piece.push(...between(points, i, cross.enter));
      end();
      if (cross.leave < 1) piece.push(...between(points, i, cross.leave));
    }
    if (!inside(i)) push(i);
  }
  end();
  return touched ? pieces : [points];
}

/** Where, as shares of the way from point i − 1 to point i, the segment lies inside the circle; null: nowhere. */
function crossings(
  p: StrokePoints,
  i: number,
  cx: number,
  cy: number,
  r: number,
): { enter: number; leave: number } | null {
  const ax = p[i * 3 - 3]! - cx;
  const ay = p[i * 3 - 2]! - cy;
  const dx = p[i * 3]! - cx - ax;
  const dy = p[i * 3 + 1]! - cy - ay;
  const a = dx * dx + dy * dy;
  const c = ax * ax + ay * ay - r * r;
  if (a === 0) return c < 0 ? { enter: 0, leave: 1 } : null;
  const b = 2 * (ax * dx + ay * dy);
  const root = b * b - 4 * a * c;
  if (root <= 0) return null;
  const enter = Math.max(0, (-b - Math.sqrt(root)) / (2 * a));
  const leave = Math.min(1, (-b + Math.sqrt(root)) / (2 * a));
  return enter < leave ? { enter, leave } : null;
}

function between(p: StrokePoints, i: number, t: number): number[] {
  return [0, 1, 2].map((k) => Math.round(p[i * 3 - 3 + k]! + (p[i * 3 + k]! - p[i * 3 - 3 + k]!) * t));
}
