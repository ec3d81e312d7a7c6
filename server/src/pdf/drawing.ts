import {
  type AddMark,
  type Box,
  boxAround,
  CARET,
  coverOf,
  INK_HEX,
  type InkColour,
  type Mark,
  type PageFrame,
  type Point,
  pointAt,
  pointCount,
  SPOT_RADIUS,
  type StrokePoints,
  type SwapMark,
  toPdf,
} from '@jotmark/core';

/** Shapes of page space as PDF's operators and numbers, in the page's own user space. */

/** A number as PDF reads it, to a hundredth of a point. */
export const n = (value: number) => String(Math.round(value * 100) / 100);

/** Numbers as a PDF array. */
export const list = (values: readonly number[]) => `[${values.map(n).join(' ')}]`;

export function rgb(colour: InkColour): number[] {
  const hex = INK_HEX[colour];
  return [1, 3, 5].map((i) => Math.round((Number.parseInt(hex.slice(i, i + 2), 16) / 255) * 1000) / 1000);
}

/** PDF rectangle [x0 y0 x1 y1], y up. */
export function toRect(frame: PageFrame, box: Box): Box {
  return boxAround([[...toPdf(frame, [box[0], box[3]]), ...toPdf(frame, [box[2], box[1]])]])!;
}

/**
 * A closed outline, in whole hundredths of a unit under a matrix that makes them small again: shorter, and quicker to
 * write than fractions. Leaves the graphics state as it was.
 */
export function polygon(frame: PageFrame, outline: readonly Point[]): string {
  const scale = 100 / frame.userUnit;
  const left = frame.crop[0] * 100;
  const top = frame.crop[3] * 100;
  let out = 'q .01 0 0 .01 0 0 cm\n';
  for (let i = 0; i < outline.length; i++) {
    const p = outline[i]!;
    out += `${Math.round(left + p[0] * scale)} ${Math.round(top - p[1] * scale)} ${i ? 'l' : 'm'}\n`;
  }
  return `${out}f Q`;
}

export function polyline(frame: PageFrame, points: StrokePoints): string {
  const out: string[] = [];
  for (let i = 0; i < pointCount(points); i++)
    out.push(`${toPdf(frame, pointAt(points, i)).map(n).join(' ')} ${i ? 'l' : 'm'}`);
  // A line of one point is drawn only if it has an end.
  if (out.length === 1) out.push(out[0]!.replace(' m', ' l'));
  return out.join('\n');
}

/** Where a suggestion's wedge points: the gap, or the end of what is struck. */
export function wedgeTip(mark: AddMark | SwapMark): Point {
  if (mark.kind === 'add') return [mark.place.x, mark.place.bottom];
  const last = mark.place.bands.at(-1)!;
  return [last[2] - 1, last[3]];
}

/** The box of the annotation that shows a mark, in page space; of a swap that of its wedge. */
export function annotationBox(mark: Mark): Box {
  if (mark.kind !== 'add' && mark.kind !== 'swap') return coverOf(mark);
  const [x, bottom] = wedgeTip(mark);
  return [x - CARET - 1, bottom - CARET - 1, x + CARET + 1, bottom + CARET + 1];
}

/** An open line through points of page space. */
export const path = (frame: PageFrame, points: readonly Point[]): string =>
  points.map((p, i) => `${toPdf(frame, p).map(n).join(' ')} ${i ? 'l' : 'm'}`).join('\n');

/** The ellipse that fills a rectangle of the page's user space, by four Bézier arcs; 0.5523 is 4/3·(√2 − 1). */
export function ringPath([x0, y0, x1, y1]: Box): string {
  const [cx, cy, rx, ry] = [(x0 + x1) / 2, (y0 + y1) / 2, (x1 - x0) / 2, (y1 - y0) / 2];
  const [kx, ky] = [rx * 0.5523, ry * 0.5523];
  const arc = (...v: number[]) => `${v.map(n).join(' ')} c`;
  return [
    `${n(cx + rx)} ${n(cy)} m`,
    arc(cx + rx, cy + ky, cx + kx, cy + ry, cx, cy + ry),
    arc(cx - kx, cy + ry, cx - rx, cy + ky, cx - rx, cy),
    arc(cx - rx, cy - ky, cx - kx, cy - ry, cx, cy - ry),
    arc(cx + kx, cy - ry, cx + rx, cy - ky, cx + rx, cy),
    'h',
  ].join('\n');
}

export function inkList(frame: PageFrame, points: StrokePoints): number[] {
  const out: number[] = [];
  for (let i = 0; i < pointCount(points); i++)
    out.push(...toPdf(frame, pointAt(points, i)).map((v) => Math.round(v * 100) / 100));
  return out;
}

export function bandsPath(frame: PageFrame, bands: readonly Box[]): string {
  return bands
    .map((b) => toRect(frame, b))
    .map(([x0, y0, x1, y1]) => `${n(x0)} ${n(y0)} ${n(x1 - x0)} ${n(y1 - y0)} re`)
    .join('\n');
}

/** Four corners a band in the order that readers agree on: top left, top right, bottom left, bottom right. */
export function quads(frame: PageFrame, bands: readonly Box[]): number[] {
  return bands.map((b) => toRect(frame, b)).flatMap(([x0, y0, x1, y1]) => [x0, y1, x1, y1, x0, y0, x1, y0]);
}

export const fill = (colour: readonly number[], path: string) => `${colour.map(n).join(' ')} rg\n${path}\nf`;

/** A filled disc with a light rim, round its spot, the same whichever way the page is turned. */
export function spotSign(colour: readonly number[], [x0, y0, x1, y1]: Box): string {
  const edge = ((x1 - x0) / 2) * (0.7 / SPOT_RADIUS);
  return `1 1 1 RG 0.8 w ${colour.map(n).join(' ')} rg\n${ringPath([x0 + edge, y0 + edge, x1 - edge, y1 - edge])}\nB`;
}

/** A moment as a PDF date string, in UTC (ISO 32000-1, 7.9.4). */
export function pdfDate(ms: number): string {
  return `(D:${new Date(ms).toISOString().slice(0, 19).replace(/[-:T]/g, '')}Z)`;
}
