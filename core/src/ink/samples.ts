import { type PageView, viewMatrix } from '../geometry/page-space.ts';

/**
 * Writes the samples of one stroke into its points as they come, without making anything new for each: a pen sends hundreds a second. Takes a place on the
 * screen, in CSS pixels from the page's corner, and a pressure 0…1; what does not move the pen by a hundredth of a point is left out. Gives the same as `quantise`
 * of `toPage`.
 */
export function samplesInto(
  points: number[],
  view: PageView,
): (sx: number, sy: number, pressure: number) => void {
  const [a, b, c, d, e, f] = viewMatrix(view);
  const scale = 100 / (a * d - b * c);
  return (sx, sy, pressure) => {
    const x = sx - e;
    const y = sy - f;
    const px = Math.round((d * x - c * y) * scale);
    const py = Math.round((a * y - b * x) * scale);
    const n = points.length;
    if (n && points[n - 3] === px && points[n - 2] === py) return;
    points.push(px, py, Math.round(Math.min(1, Math.max(0, pressure)) * 255));
  };
}
