import { getStroke } from 'perfect-freehand';
import type { Point } from '../geometry/box.ts';
import { POINT_FIELDS, type StrokePoints } from './stroke.ts';

/** How much of the full width the lightest touch leaves: a pen still writes legibly when hardly pressed. */
const THINNING = 0.55;

/**
 * The outline of an ink stroke as one closed polygon in page space. `width` is the stroke's width in points at
 * middle pressure. A single point gives a dot. The same points and width always give the same outline, so
 * the live stroke, the settled one and the exported one agree.
 */
export function inkOutline(points: StrokePoints, width: number): Point[] {
  const input: [number, number, number][] = [];
  for (let i = 0; i < points.length; i += POINT_FIELDS)
    input.push([points[i]! / 100, points[i + 1]! / 100, points[i + 2]! / 255]);
  return getStroke(input, {
    size: width,
    thinning: THINNING,
    smoothing: 0.5,
    streamline: 0.25,
    simulatePressure: false,
    last: true,
  }) as Point[];
}

/**
 * How far `inkOutline` may stand out from the drawn points: half the width at full pressure, and 1 pt more on either
 * axis, which the outline adds to a stroke of one point to give it a direction.
 */
export function inkReach(width: number): number {
  return (width * (1 + THINNING)) / 2 + 1.5;
}
