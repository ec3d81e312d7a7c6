import { type PageFrame, pageSize, type QuarterTurn, quarterTurn, viewSize } from '@jotmark/core';

export const LEAST_ZOOM = 0.2;
export const MOST_ZOOM = 6;
export const ZOOM_STEP = 1.2;

/** Fit the width, fit the page, or so many CSS pixels a point. */
export type Zoom = 'width' | 'page' | number;

export const clampZoom = (zoom: number) => Math.min(MOST_ZOOM, Math.max(LEAST_ZOOM, zoom));

/** The zoom that makes all pages fit: `width` and `height` are the room in CSS pixels beside the margin. */
export function fitZoom(
  zoom: Zoom,
  pages: readonly { frame: PageFrame; turn: QuarterTurn }[],
  width: number,
  height: number,
): number {
  if (typeof zoom === 'number') return clampZoom(zoom);
  const sizes = pages.map(({ frame, turn }) => {
    const [w, h] = pageSize(frame);
    return viewSize({ width: w, height: h, turn: quarterTurn(frame.rotate + turn), zoom: 1 });
  });
  const widest = Math.max(1, ...sizes.map((s) => s[0]));
  const tallest = Math.max(1, ...sizes.map((s) => s[1]));
  const across = width / widest;
  // A small page is not blown up: a postcard stays a postcard.
  return clampZoom(Math.min(2.2, zoom === 'width' ? across : Math.min(across, height / tallest)));
}
