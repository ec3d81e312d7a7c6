import {
  type ArrowMark,
  arrowLines,
  type Box,
  CARET,
  type CutMark,
  coverOf,
  type ForeignMark,
  formatPoints,
  HAND_BOLD,
  HAND_LEAN,
  INK_HEX,
  inkOutline,
  type LineMark,
  type Mark,
  type NoteMark,
  never,
  pointAt,
  pointCount,
  type QuarterTurn,
  type SetPiece,
  STAMP_LINE,
  STAMP_POINTS_WIDTH,
  type StampMark,
  type StrokePoints,
  type SwapMark,
  stampParts,
  type TextMark,
  textRows,
} from '@jotmark/core';
import { formulasFor, pictureOf } from './looks.ts';
import { HAND, measureHand } from './measure.ts';

/** Two canvases a page: `wash` lies multiplied over the print, `ink` covers it. */
export type Layer = 'ink' | 'wash';

export const HIGHLIGHT_OPACITY = 0.45;
const NOTE_OPACITY = 0.2;

export function layerOf(mark: Mark): Layer | null {
  switch (mark.kind) {
    case 'highlight':
      return 'wash';
    case 'note':
      // A note at a spot is a sign in the page's DOM.
      return mark.place.on === 'spot' ? null : mark.place.on === 'passage' ? 'wash' : 'ink';
    default:
      return 'ink';
  }
}

/** A mark never changes, so its path in page space is made once. */
const paths = new WeakMap<Mark, Path2D>();

function pathOf(mark: Mark, make: () => Path2D): Path2D {
  const known = paths.get(mark);
  if (known) return known;
  const path = make();
  paths.set(mark, path);
  return path;
}

/** Finds where a mark lies, and a stroke's outline, before it is to be painted: of all that painting does this takes the longest. */
export function preparePath(mark: Mark): void {
  coverOf(mark);
  if (mark.kind === 'ink') pathOf(mark, () => outlinePath(mark.points, mark.width));
}

/** Paints a settled mark; the context is in page space. */
export function paintMark(ctx: CanvasRenderingContext2D, mark: Mark): void {
  ctx.fillStyle = INK_HEX[mark.colour];
  ctx.strokeStyle = INK_HEX[mark.colour];
  ctx.globalAlpha = 1;
  ctx.lineCap = 'round';
  ctx.lineJoin = 'round';
  ctx.setLineDash([]);
  switch (mark.kind) {
    case 'ink':
      ctx.fill(pathOf(mark, () => outlinePath(mark.points, mark.width)));
      return;
    case 'highlight': {
      const { place } = mark;
      ctx.globalAlpha = HIGHLIGHT_OPACITY;
      if (place.on === 'free')
        paintFree(
          ctx,
          pathOf(mark, () => linePath(place.points)),
          place.width,
        );
      else ctx.fill(pathOf(mark, () => bandsPath(place.bands)));
      return;
    }
    case 'note':
      return paintNote(ctx, mark);
    case 'line':
    case 'arrow':
      ctx.lineWidth = mark.width;
      ctx.stroke(pathOf(mark, () => endsPath(mark)));
      return;
    case 'box':
      ctx.lineWidth = mark.width;
      ctx.strokeRect(...sizesOf(mark.box));
      return;
    case 'ring':
      ctx.lineWidth = mark.width;
      ctx.stroke(pathOf(mark, () => ringPath(mark.box)));
      return;
    case 'text':
      return paintText(ctx, mark);
    case 'stamp':
      return paintStamp(ctx, mark);
    case 'cut':
    case 'swap':
      return paintStruck(ctx, mark);
    case 'foreign':
      return paintForeign(ctx, mark);
    case 'unread':
      return paintUnread(ctx, mark);
    case 'add':
      return paintCaret(ctx, mark.place.x, mark.place.bottom);
    default:
      never(mark);
  }
}

/** As it looked where it was made; where that is not known, its place is dotted round. */
function paintForeign(ctx: CanvasRenderingContext2D, mark: ForeignMark): void {
  const [x, y, w, h] = sizesOf(mark.box);
  const picture = mark.picture === null ? null : pictureOf(mark.picture);
  if (picture) ctx.drawImage(picture, x, y, w, h);
  if (mark.picture !== null) return;
  ctx.lineWidth = 0.8;
  ctx.setLineDash([1.5, 2.5]);
  ctx.strokeRect(x, y, w, h);
  ctx.setLineDash([]);
}

/** A mark that cannot be read: a question mark where nobody overlooks it. */
function paintUnread(ctx: CanvasRenderingContext2D, mark: Mark): void {
  const [x, y, w, h] = sizesOf(coverOf(mark));
  ctx.lineWidth = 0.8;
  ctx.setLineDash([1.5, 2.5]);
  ctx.strokeRect(x, y, w, h);
  ctx.setLineDash([]);
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  ctx.font = `${h * 0.7}px sans-serif`;
  ctx.fillText('?', x + w / 2, y + h / 2);
}

function paintNote(ctx: CanvasRenderingContext2D, mark: NoteMark): void {
  const { place } = mark;
  ctx.lineWidth = 1;
  if (place.on === 'box') {
    ctx.setLineDash([4, 2.5]);
    ctx.strokeRect(...sizesOf(place.box));
    ctx.setLineDash([]);
  }
  if (place.on !== 'passage') return;
  ctx.globalAlpha = NOTE_OPACITY;
  ctx.fill(pathOf(mark, () => bandsPath(place.bands)));
  // Underlined as well, so that a passage with a note is told from a highlight without its colour.
  ctx.globalAlpha = 0.9;
  for (const [x0, , x1, y1] of place.bands) {
    ctx.beginPath();
    ctx.moveTo(x0, y1);
    ctx.lineTo(x1, y1);
    ctx.stroke();
  }
}

/** As proofreaders do: words to cut are struck through; where others come in their place a caret stands at the end. */
function paintStruck(ctx: CanvasRenderingContext2D, mark: CutMark | SwapMark): void {
  ctx.lineWidth = 1.4;
  const { bands } = mark.place;
  for (const [x0, y0, x1, y1] of bands) {
    const y = (y0 + y1) / 2 + (y1 - y0) * 0.06;
    ctx.beginPath();
    ctx.moveTo(x0 - 1, y);
    ctx.lineTo(x1 + 1, y);
    ctx.stroke();
  }
  const last = bands.at(-1)!;
  if (mark.kind === 'swap') paintCaret(ctx, last[2] - 1, last[3]);
}

function paintCaret(ctx: CanvasRenderingContext2D, x: number, bottom: number): void {
  ctx.lineWidth = 1.6;
  ctx.beginPath();
  ctx.moveTo(x - CARET, bottom + CARET);
  ctx.lineTo(x, bottom - CARET * 0.8);
  ctx.lineTo(x + CARET, bottom + CARET);
  ctx.stroke();
}

/** Draws in the upright frame of what was written while the page was shown turned. */
function upright(
  ctx: CanvasRenderingContext2D,
  mark: { x: number; y: number; turn: QuarterTurn },
  draw: () => void,
): void {
  ctx.save();
  ctx.translate(mark.x, mark.y);
  ctx.rotate((-mark.turn * Math.PI) / 180);
  draw();
  ctx.restore();
}

function paintText(ctx: CanvasRenderingContext2D, mark: TextMark): void {
  upright(ctx, mark, () => {
    ctx.font = `${mark.size}px ${HAND}`;
    ctx.textBaseline = 'alphabetic';
    for (const row of textRows(mark, measureHand, formulasFor(mark.words)))
      for (const piece of row.pieces) paintPiece(ctx, piece, row.right + piece.x, row.down, mark.size);
  });
}

/** A piece of a row of words, in the colour and font that are set, standing on its line at `x`, `y`. */
export function paintPiece(
  ctx: CanvasRenderingContext2D,
  piece: SetPiece,
  x: number,
  y: number,
  size: number,
): void {
  ctx.save();
  ctx.translate(x, y);
  if (piece.as === 'formula') {
    ctx.scale(piece.size / 1000, -piece.size / 1000);
    for (const { d, at } of piece.drawn.parts) {
      ctx.save();
      ctx.transform(...at);
      ctx.fill(new Path2D(d));
      ctx.restore();
    }
  } else {
    if (piece.italic) ctx.transform(1, 0, -HAND_LEAN, 1, 0, 0);
    ctx.fillText(piece.text, 0, 0);
    if (piece.bold) {
      ctx.lineWidth = size * HAND_BOLD;
      ctx.lineJoin = 'round';
      ctx.strokeText(piece.text, 0, 0);
    }
  }
  ctx.restore();
}

export function paintStamp(ctx: CanvasRenderingContext2D, mark: StampMark): void {
  const { size, look } = mark;
  upright(ctx, mark, () => {
    ctx.translate(-size / 2, -size / 2);
    if (look.of === 'picture') {
      const picture = pictureOf(look.picture);
      if (picture) {
        const by = size / Math.max(picture.naturalWidth, picture.naturalHeight);
        const [w, h] = [picture.naturalWidth * by, picture.naturalHeight * by];
        ctx.drawImage(picture, (size - w) / 2, (size - h) / 2, w, h);
      }
    }
    ctx.lineWidth = size * STAMP_LINE;
    for (const part of stampParts(look)) {
      ctx.beginPath();
      part.points.forEach(([x, y], i) =>
        i ? ctx.lineTo(x * size, y * size) : ctx.moveTo(x * size, y * size),
      );
      if (part.filled) ctx.fill();
      else ctx.stroke();
    }
    if (mark.points !== null) {
      ctx.font = `${size * 0.62}px ${HAND}`;
      ctx.textBaseline = 'alphabetic';
      ctx.fillText(formatPoints(mark.points), size * 1.04, size * 0.82, size * STAMP_POINTS_WIDTH);
    }
  });
}

const sizesOf = ([l, t, r, b]: Box): [number, number, number, number] => [l, t, r - l, b - t];

function ringPath([l, t, r, b]: Box): Path2D {
  const path = new Path2D();
  path.ellipse((l + r) / 2, (t + b) / 2, (r - l) / 2, (b - t) / 2, 0, 0, 2 * Math.PI);
  return path;
}

function endsPath(mark: LineMark | ArrowMark): Path2D {
  const path = new Path2D();
  for (const line of arrowLines(mark)) {
    path.moveTo(line[0]![0], line[0]![1]);
    for (const [x, y] of line.slice(1)) path.lineTo(x, y);
  }
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
