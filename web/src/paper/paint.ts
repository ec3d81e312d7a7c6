import {
  type Box,
  type HighlightMark,
  INK_HEX,
  type InkMark,
  inkOutline,
  type Mark,
  type NoteMark,
  never,
  pointAt,
  pointCount,
  type StrokePoints,
} from '@jotmark/core';

/** Two canvases a page: `wash` lies multiplied over the print, `ink` covers it. */
export type Layer = 'ink' | 'wash';

export const HIGHLIGHT_OPACITY = 0.45;
const NOTE_OPACITY = 0.2;

export function layerOf(mark: Mark): Layer | null {
  switch (mark.kind) {
    case 'ink':
      return 'ink';
    case 'highlight':
      return 'wash';
    case 'note':
      // A note at a spot is a sign in the page's DOM.
      return mark.place.on === 'passage' ? 'wash' : null;
    default:
      return never(mark);
  }
}

/** A mark never changes, so its path in page space is made once. */
const paths = new WeakMap<Mark, Path2D>();

/** Paints a settled mark; the context is in page space. */
export function paintMark(ctx: CanvasRenderingContext2D, mark: Mark): void {
  ctx.fillStyle = INK_HEX[mark.colour];
  ctx.strokeStyle = INK_HEX[mark.colour];
  switch (mark.kind) {
    case 'ink':
      ctx.globalAlpha = 1;
      ctx.fill(pathFor(mark));
      return;
    case 'highlight':
      ctx.globalAlpha = HIGHLIGHT_OPACITY;
      if (mark.place.on === 'free') paintFree(ctx, pathFor(mark), mark.place.width);
      else ctx.fill(pathFor(mark));
      return;
    case 'note': {
      if (mark.place.on !== 'passage') return;
      ctx.globalAlpha = NOTE_OPACITY;
      ctx.fill(pathFor(mark));
      // Underlined as well, so that a passage with a note is told from a highlight without its colour.
      ctx.globalAlpha = 0.9;
      ctx.lineWidth = 1;
      for (const [x0, , x1, y1] of mark.place.bands) {
        ctx.beginPath();
        ctx.moveTo(x0, y1);
        ctx.lineTo(x1, y1);
        ctx.stroke();
      }
      return;
    }
    default:
      never(mark);
  }
}

function pathFor(mark: InkMark | HighlightMark | NoteMark): Path2D {
  const known = paths.get(mark);
  if (known) return known;
  const path =
    mark.kind === 'ink'
      ? outlinePath(mark.points, mark.width)
      : mark.place.on === 'free'
        ? linePath(mark.place.points)
        : mark.place.on === 'passage'
          ? bandsPath(mark.place.bands)
          : new Path2D();
  paths.set(mark, path);
  return path;
}

/** The filled outline of a stroke, smoothed between its corners. */
export function outlinePath(points: StrokePoints, width: number): Path2D {
  const outline = inkOutline(points, width);
  const path = new Path2D();
  const first = outline[0];
  if (!first) return path;
  path.moveTo(first[0], first[1]);
  for (let i = 1; i < outline.length; i++) path.lineTo(outline[i]![0], outline[i]![1]);
  path.closePath();
  return path;
}

export function linePath(points: StrokePoints): Path2D {
  const path = new Path2D();
  for (let i = 0; i < pointCount(points); i++) {
    const [x, y] = pointAt(points, i);
    if (i) path.lineTo(x, y);
    else path.moveTo(x, y);
  }
  if (pointCount(points) === 1) path.lineTo(...(pointAt(points, 0) as [number, number]));
  return path;
}

export function paintFree(ctx: CanvasRenderingContext2D, path: Path2D, width: number): void {
  ctx.lineWidth = width;
  ctx.lineCap = 'round';
  ctx.lineJoin = 'round';
  ctx.stroke(path);
}

export function bandsPath(bands: readonly Box[]): Path2D {
  const path = new Path2D();
  for (const [x0, y0, x1, y1] of bands) path.rect(x0, y0, x1 - x0, y1 - y0);
  return path;
}
