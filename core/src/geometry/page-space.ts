import * as z from 'zod';
import type { Box, Point } from './box.ts';

/**
 * The one owner of coordinates.
 *
 * Page space: PDF points (1/72 in) on the page as it stands unrotated, origin at the top left of what the page
 * shows, x to the right, y down. Only page points are stored. Screen space: the same page after it is turned and
 * zoomed, in CSS pixels. PDF space: the page's own user space, whose origin lies wherever its boxes say, y up.
 */
export type PagePoint = Point & { readonly space?: 'page' };
export type ScreenPoint = Point & { readonly space?: 'screen' };

export type QuarterTurn = 0 | 90 | 180 | 270;
export const QuarterTurn = z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]);

/** How a page lies in its PDF. `crop` is [x0, y0, x1, y1] in user space; `userUnit` scales it to points. */
export const PageFrame = z.object({
  crop: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  rotate: QuarterTurn,
  userUnit: z.number().positive(),
});
export type PageFrame = z.infer<typeof PageFrame>;

/** Width and height of the page in points, unrotated. */
export function pageSize(frame: PageFrame): readonly [width: number, height: number] {
  const [x0, y0, x1, y1] = frame.crop;
  return [(x1 - x0) * frame.userUnit, (y1 - y0) * frame.userUnit];
}

/** Any whole number of degrees to the quarter turn it means; what is no multiple of 90 counts as the one below. */
export function quarterTurn(degrees: number): QuarterTurn {
  return ((((Math.floor(degrees / 90) * 90) % 360) + 360) % 360) as QuarterTurn;
}

export function toPdf(frame: PageFrame, [x, y]: Point): Point {
  return [frame.crop[0] + x / frame.userUnit, frame.crop[3] - y / frame.userUnit];
}

/** The inverse of `toPdf`. */
export function fromPdf(frame: PageFrame, [x, y]: Point): Point {
  return [(x - frame.crop[0]) * frame.userUnit, (frame.crop[3] - y) * frame.userUnit];
}

/** How a page is shown: its unrotated size in points, the turn (its own and the reader's together) and CSS pixels a point. */
export interface PageView {
  readonly width: number;
  readonly height: number;
  readonly turn: QuarterTurn;
  readonly zoom: number;
}

/** Size on the screen, in CSS pixels. */
export function viewSize(view: PageView): readonly [width: number, height: number] {
  const sideways = view.turn === 90 || view.turn === 270;
  const w = sideways ? view.height : view.width;
  const h = sideways ? view.width : view.height;
  return [w * view.zoom, h * view.zoom];
}

/** Matrix [a b c d e f] as canvas and CSS take it: screen = M · page. Clockwise turns, as PDF's Rotate. */
export function viewMatrix(view: PageView): readonly [number, number, number, number, number, number] {
  const { width: w, height: h, zoom: z } = view;
  switch (view.turn) {
    case 0:
      return [z, 0, 0, z, 0, 0];
    case 90:
      return [0, z, -z, 0, h * z, 0];
    case 180:
      return [-z, 0, 0, -z, w * z, h * z];
    case 270:
      return [0, -z, z, 0, 0, w * z];
  }
}

export function toScreen(view: PageView, [x, y]: PagePoint): ScreenPoint {
  const [a, b, c, d, e, f] = viewMatrix(view);
  return [a * x + c * y + e, b * x + d * y + f];
}

/** The inverse of `toScreen`. */
export function toPage(view: PageView, [sx, sy]: ScreenPoint): PagePoint {
  return pageMapper(view)(sx, sy);
}

/** `toPage` for one view, worked out once: for the many samples of a stroke. */
export function pageMapper(view: PageView): (sx: number, sy: number) => PagePoint {
  const [a, b, c, d, e, f] = viewMatrix(view);
  const det = a * d - b * c;
  return (sx, sy) => {
    const x = sx - e;
    const y = sy - f;
    return [(d * x - c * y) / det, (a * y - b * x) / det];
  };
}

export function boxToScreen(view: PageView, box: Box): Box {
  const [x0, y0] = toScreen(view, [box[0], box[1]]);
  const [x1, y1] = toScreen(view, [box[2], box[3]]);
  return [Math.min(x0, x1), Math.min(y0, y1), Math.max(x0, x1), Math.max(y0, y1)];
}
