import {
  clip,
  endPath,
  type PDFPage,
  popGraphicsState,
  pushGraphicsState,
  rectangle,
  rgb,
} from '@cantoo/pdf-lib';
import { contour, type Polyline } from '../island/contours.ts';
import { GRID, heightAt, PLACES, type Place } from '../island/height.ts';
import { GREY, PAGE, type Paper } from './paper.ts';

const SEA = rgb(0.89, 0.925, 0.935);
const LAND = rgb(0.935, 0.94, 0.885);
const BROWN = rgb(0.62, 0.48, 0.33);
const GRID_BLUE = rgb(0.72, 0.8, 0.84);
const INK = rgb(0.15, 0.16, 0.18);

/** Where a map lies on the page: its left and top in points and the points of a kilometre. */
export interface MapFrame {
  readonly x: number;
  readonly y: number;
  readonly km: number;
}

export function onPage(frame: MapFrame, e: number, n: number): [x: number, y: number] {
  return [frame.x + (e - GRID.e0) * frame.km, frame.y + (GRID.n1 - n) * frame.km];
}

const lines = new Map<number, Polyline[]>();
function contourAt(level: number): Polyline[] {
  const found = lines.get(level) ?? contour(heightAt, level, GRID, 14);
  lines.set(level, found);
  return found;
}

/** Draws the island with its grid, contour lines, places, scale bar and compass rose. */
export function drawMap(
  paper: Paper,
  page: PDFPage,
  frame: MapFrame,
  places: readonly Place[] = PLACES,
): void {
  const width = (GRID.e1 - GRID.e0) * frame.km;
  const height = (GRID.n1 - GRID.n0) * frame.km;
  const bottom = PAGE.height - frame.y - height;
  page.pushOperators(pushGraphicsState(), rectangle(frame.x, bottom, width, height), clip(), endPath());
  page.drawRectangle({ x: frame.x, y: bottom, width, height, color: SEA });
  const path = (line: Polyline) =>
    line
      .map(
        ([e, n], i) =>
          `${i ? 'L' : 'M'}${onPage(frame, e, n)
            .map((v) => v.toFixed(2))
            .join(' ')}`,
      )
      .join('');
  const draw = (line: Polyline, style: object) =>
    page.drawSvgPath(path(line), { x: 0, y: PAGE.height, ...style });
  for (const coast of contourAt(0)) draw(coast, { color: LAND });
  for (let e = GRID.e0; e <= GRID.e1; e++)
    gridLine(page, onPage(frame, e, GRID.n0), onPage(frame, e, GRID.n1));
  for (let n = GRID.n0; n <= GRID.n1; n++)
    gridLine(page, onPage(frame, GRID.e0, n), onPage(frame, GRID.e1, n));
  for (let level = 0; level < 240; level += 20)
    for (const line of contourAt(level))
      draw(line, { borderColor: BROWN, borderWidth: level % 100 === 0 ? 1.2 : 0.55 });
  for (const level of [40, 80, 120]) label(paper, page, frame, level);
  page.pushOperators(popGraphicsState());
  page.drawRectangle({ x: frame.x, y: bottom, width, height, borderColor: GREY, borderWidth: 0.7 });
  for (let e = GRID.e0; e <= GRID.e1; e++)
    paper.text(page, String(e), onPage(frame, e, 0)[0] - 4, frame.y + height + 10, 7, 'plain', GREY);
  for (let n = GRID.n0; n <= GRID.n1; n++)
    paper.text(page, String(n), frame.x - 12, onPage(frame, GRID.e0, n)[1] + 2.5, 7, 'plain', GREY);
  for (const place of places) drawPlace(paper, page, frame, place);
  scaleBar(paper, page, frame.x + width - 2 * frame.km - 14, frame.y + height - 14, frame.km);
  compass(paper, page, frame.x + width - 30, frame.y + 38);
}

function gridLine(page: PDFPage, [x0, y0]: [number, number], [x1, y1]: [number, number]): void {
  page.drawLine({
    start: { x: x0, y: PAGE.height - y0 },
    end: { x: x1, y: PAGE.height - y1 },
    thickness: 0.5,
    color: GRID_BLUE,
  });
}

function label(paper: Paper, page: PDFPage, frame: MapFrame, level: number): void {
  const longest = contourAt(level).toSorted((a, b) => b.length - a.length)[0];
  if (!longest) return;
  const [x, y] = onPage(frame, ...longest[Math.floor(longest.length * 0.72)]!);
  page.drawRectangle({ x: x - 6, y: PAGE.height - y - 3, width: 12, height: 6.4, color: LAND });
  paper.text(page, String(level), x - 5, y + 2.3, 5.6, 'plain', BROWN);
}

function drawPlace(paper: Paper, page: PDFPage, frame: MapFrame, place: Place): void {
  const [x, y] = onPage(frame, place.e, place.n);
  const shape = (d: string, fill = true) =>
    page.drawSvgPath(d, {
      x,
      y: PAGE.height - y,
      ...(fill ? { color: INK } : { borderColor: INK, borderWidth: 0.8, color: SEA }),
    });
  switch (place.sign) {
    case 'hut':
      shape('M-3 3 L-3 -1 L0 -4 L3 -1 L3 3 Z');
      break;
    case 'summit':
      shape('M-4 3 L0 -4 L4 3 Z', false);
      break;
    case 'lighthouse':
      shape('M-2 4 L-1 -4 L1 -4 L2 4 Z M-4 -5 L-1.6 -4 M4 -5 L1.6 -4');
      break;
    case 'point':
      page.drawCircle({ x, y: PAGE.height - y, size: 2.2, color: INK });
      break;
    case 'tarn':
      shape('M-6 0 C-5 -3 4 -4 6 -1 C6 3 -5 4 -6 0 Z', false);
      break;
  }
  paper.text(page, place.name, x + 7, y + 2.6, 7);
  if (place.sign === 'summit')
    paper.text(page, `${Math.round(heightAt(place.e, place.n))} m`, x + 7, y + 10, 6, 'plain', GREY);
}

function scaleBar(paper: Paper, page: PDFPage, x: number, y: number, km: number): void {
  for (let i = 0; i < 4; i++)
    page.drawRectangle({
      x: x + (i * km) / 2,
      y: PAGE.height - y,
      width: km / 2,
      height: 3,
      borderColor: INK,
      borderWidth: 0.6,
      ...(i % 2 ? {} : { color: INK }),
    });
  for (const [i, text] of ['0', '1', '2 km'].entries()) paper.text(page, text, x + i * km - 2, y - 6, 6);
}

function compass(paper: Paper, page: PDFPage, x: number, y: number): void {
  for (let k = 0; k < 8; k++) {
    const long = k % 2 === 0 ? 17 : 9;
    const a = (k * Math.PI) / 4;
    const side = (da: number) =>
      `${(3.2 * Math.sin(a + da)).toFixed(2)} ${(-3.2 * Math.cos(a + da)).toFixed(2)}`;
    page.drawSvgPath(
      `M0 0 L${side(-0.78)} L${(long * Math.sin(a)).toFixed(2)} ${(-long * Math.cos(a)).toFixed(2)} Z`,
      { x, y: PAGE.height - y, color: INK },
    );
    page.drawSvgPath(
      `M0 0 L${side(0.78)} L${(long * Math.sin(a)).toFixed(2)} ${(-long * Math.cos(a)).toFixed(2)} Z`,
      {
        x,
        y: PAGE.height - y,
        borderColor: INK,
        borderWidth: 0.4,
        color: rgb(1, 1, 1),
      },
    );
  }
  paper.text(page, 'N', x - 2.6, y - 20, 8, 'bold');
}
