import { type Box, boxAround, contains, distanceToBox, grow, moveBox, type Point } from '../geometry/box.ts';
import { inkReach } from '../ink/outline.ts';
import { distanceToStroke, moveStroke, pointAt, pointCount, strokeBox } from '../ink/stroke.ts';
import { type ArrowMark, type LineMark, type MarginMark, type Mark, never, type StampMark } from './mark.ts';
import { momentOf } from './moment.ts';
import { isEcho } from './pattern.ts';
import { uprightBox } from './upright.ts';

/** Radius of the sign that shows a note's spot on the page, in points. */
export const SPOT_RADIUS = 6;
/** The points that a stamp earns stand to its right, in a space of this share of its side. */
export const STAMP_POINTS_WIDTH = 0.9;

/** The length of an arrow's head, in points. */
export const arrowHead = (width: number): number => 5 + 3 * width;

/** The lines that make a line or an arrow: the shaft, and at `to` the two sides of the head. */
export function arrowLines(mark: LineMark | ArrowMark): readonly (readonly Point[])[] {
  const shaft = [mark.from, mark.to];
  const [dx, dy] = [mark.from[0] - mark.to[0], mark.from[1] - mark.to[1]];
  const long = Math.hypot(dx, dy);
  if (mark.kind === 'line' || long === 0) return [shaft];
  const head = Math.min(arrowHead(mark.width), long * 0.6) / long;
  const side = (angle: number): Point => [
    mark.to[0] + head * (dx * Math.cos(angle) - dy * Math.sin(angle)),
    mark.to[1] + head * (dx * Math.sin(angle) + dy * Math.cos(angle)),
  ];
  return [shaft, [side(0.45), mark.to, side(-0.45)]];
}

/** A caret's wedge stands this far to each side and below its line, in points. */
export const CARET = 4;

/** A mark never changes, so where it is is found out once: pages with thousands of strokes are asked for every move of the eraser. */
const covers = new WeakMap<Mark, Box>();

/** Where an unread mark stands is not known: its sign is at the page's top left. */
const UNREAD_BOX: Box = [6, 6, 24, 24];

/** Film and sound have no page: a mark there lies as far down as its moment is from the beginning, a point for a second. */
const onFilm = (ms: number): Box => [0, ms / 1000, 0, ms / 1000];

/** The box a mark covers on its page, with the width of its strokes. */
export function coverOf(mark: Mark): Box {
  const known = covers.get(mark);
  if (known) return known;
  const cover = findCover(mark);
  covers.set(mark, cover);
  return cover;
}

function findCover(mark: Mark): Box {
  switch (mark.kind) {
    case 'ink':
      return grow(strokeBox(mark.points), inkReach(mark.width));
    case 'highlight':
      return mark.place.on === 'free'
        ? grow(strokeBox(mark.place.points), mark.place.width / 2 + 0.5)
        : boxAround(mark.place.bands)!;
    case 'note': {
      if (mark.place.on === 'passage') return boxAround(mark.place.bands)!;
      if (mark.place.on === 'box') return grow(mark.place.box, 1);
      if (mark.place.on === 'moment') return onFilm(mark.place.at);
      const { x, y } = mark.place;
      return [x - SPOT_RADIUS, y - SPOT_RADIUS, x + SPOT_RADIUS, y + SPOT_RADIUS];
    }
    case 'line':
      return grow(endsBox(mark), mark.width / 2);
    case 'arrow':
      return grow(endsBox(mark), mark.width / 2 + arrowHead(mark.width) / 2);
    case 'box':
    case 'ring':
      return grow(mark.box, mark.width / 2);
    case 'foreign':
      return mark.box;
    case 'unread':
      return UNREAD_BOX;
    case 'text':
      return uprightBox([mark.x, mark.y], mark.turn, [0, 0], [mark.w, mark.h]);
    case 'stamp':
      return mark.moment === undefined ? stampBox(mark) : onFilm(mark.moment);
    case 'cut':
    case 'swap':
      return grow(boxAround(mark.place.bands)!, 1);
    case 'add': {
      const { x, top, bottom } = mark.place;
      return [x - CARET - 1, top, x + CARET + 1, bottom + CARET + 1];
    }
    default:
      return never(mark);
  }
}

const endsBox = (mark: { from: Point; to: Point }): Box =>
  boxAround([
    [...mark.from, ...mark.from],
    [...mark.to, ...mark.to],
  ])!;

function stampBox(mark: StampMark): Box {
  const half = mark.size / 2;
  const right = mark.points === null ? half : half + mark.size * STAMP_POINTS_WIDTH;
  return uprightBox([mark.x, mark.y], mark.turn, [-half, -half], [right, half]);
}

/** Distance in points from a point to what the mark shows; 0 on it. */
export function distanceToMark(mark: Mark, point: Point): number {
  const toBands = (bands: readonly Box[]) => Math.min(...bands.map((b) => distanceToBox(point, b)));
  switch (mark.kind) {
    case 'ink':
      return Math.max(0, distanceToStroke(point, mark.points) - mark.width / 2);
    case 'highlight':
      return mark.place.on === 'free'
        ? Math.max(0, distanceToStroke(point, mark.place.points) - mark.place.width / 2)
        : toBands(mark.place.bands);
    case 'note':
      if (mark.place.on === 'box') return distanceToFrame(mark.place.box, point);
      return mark.place.on === 'passage' ? toBands(mark.place.bands) : distanceToBox(point, coverOf(mark));
    case 'line':
    case 'arrow': {
      const ends = [mark.from, mark.to].flatMap(([x, y]) => [x * 100, y * 100, 0]);
      return Math.max(0, distanceToStroke(point, ends) - mark.width / 2);
    }
    case 'box':
      return Math.max(0, distanceToFrame(mark.box, point) - mark.width / 2);
    case 'ring':
      return Math.max(0, distanceToRing(mark.box, point) - mark.width / 2);
    case 'cut':
    case 'swap':
      return toBands(mark.place.bands);
    case 'text':
    case 'stamp':
    case 'add':
    case 'foreign':
    case 'unread':
      return distanceToBox(point, coverOf(mark));
    default:
      return never(mark);
  }
}

/** To the nearest side of a frame: its inside is paper. */
function distanceToFrame(box: Box, point: Point): number {
  if (!contains(box, point)) return distanceToBox(point, box);
  const [l, t, r, b] = box;
  return Math.min(point[0] - l, r - point[0], point[1] - t, b - point[1]);
}

/** To the nearest of 64 points of the ellipse, which is near enough for a hand. */
function distanceToRing([l, t, r, b]: Box, [x, y]: Point): number {
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i < 64; i++) {
    const a = (i * Math.PI) / 32;
    best = Math.min(
      best,
      Math.hypot(
        (l + r) / 2 + ((r - l) / 2) * Math.cos(a) - x,
        (t + b) / 2 + ((b - t) / 2) * Math.sin(a) - y,
      ),
    );
  }
  return best;
}

/** The mark a touch means: of those within `reach` points the nearest, of equals the one on top (the last). */
export function markAt(marks: readonly Mark[], point: Point, reach: number): Mark | null {
  let best: Mark | null = null;
  let bestDistance = reach;
  for (const mark of marks) {
    const [l, t, r, b] = coverOf(mark);
    const [x, y] = point;
    if (x < l - reach || x > r + reach || y < t - reach || y > b + reach) continue;
    const d = distanceToMark(mark, point);
    if (d <= bestDistance) {
      best = mark;
      bestDistance = d;
    }
  }
  return best;
}

/** Marks on text stay with their text, what came from elsewhere where it was put there; all others can be moved. */
export function isMovable(mark: Mark): boolean {
  if (mark.kind === 'foreign' || mark.kind === 'unread' || isEcho(mark) || momentOf(mark) !== null)
    return false;
  return !('place' in mark) || (mark.place.on !== 'passage' && mark.place.on !== 'caret');
}

/** A mark that is moved so far, in points, was put elsewhere; less is a nudge. */
const ELSEWHERE = 24;

/** The mark moved by dx, dy points. A mark on text is given back unchanged. */
export function moveMark(mark: Mark, dx: number, dy: number): Mark {
  if ((dx === 0 && dy === 0) || !isMovable(mark)) return mark;
  if ((mark.kind === 'stamp' || mark.kind === 'note') && Math.hypot(dx, dy) >= ELSEWHERE) {
    // Put elsewhere, its points belong where it stands now.
    const { question: _, ...placed } = mark;
    return moved(placed as Mark, dx, dy);
  }
  return moved(mark, dx, dy);
}

function moved(mark: Mark, dx: number, dy: number): Mark {
  const to = ([x, y]: Point): [number, number] => [x + dx, y + dy];
  switch (mark.kind) {
    case 'ink':
      return { ...mark, points: moveStroke(mark.points, dx, dy) };
    case 'highlight':
      return mark.place.on === 'free'
        ? { ...mark, place: { ...mark.place, points: moveStroke(mark.place.points, dx, dy) } }
        : mark;
    case 'note':
      if (mark.place.on === 'box')
        return { ...mark, place: { on: 'box', box: moveBox(mark.place.box, dx, dy) } };
      return mark.place.on === 'spot'
        ? { ...mark, place: { ...mark.place, x: mark.place.x + dx, y: mark.place.y + dy } }
        : mark;
    case 'line':
    case 'arrow':
      return { ...mark, from: to(mark.from), to: to(mark.to) };
    case 'box':
    case 'ring':
      return { ...mark, box: moveBox(mark.box, dx, dy) };
    case 'text':
    case 'stamp':
      return { ...mark, x: mark.x + dx, y: mark.y + dy };
    case 'cut':
    case 'add':
    case 'swap':
    case 'foreign':
    case 'unread':
      return mark;
    default:
      return never(mark);
  }
}

/** Where words in a margin on this side want to stand and their lead to begin: the end of its place's first line that is nearer, or its spot. */
export function leadPoint(mark: MarginMark, side: 'left' | 'right' = 'right'): Point {
  const end = side === 'left' ? 0 : 2;
  const { place } = mark;
  switch (place.on) {
    case 'spot':
      return [place.x, place.y];
    case 'box':
      return [place.box[end], (place.box[1] + place.box[3]) / 2];
    case 'caret':
      return [place.x, place.bottom];
    case 'moment':
      return [0, place.at / 1000];
    case 'passage': {
      const first = place.bands[0]!;
      return [first[end], (first[1] + first[3]) / 2];
    }
    default:
      return never(place);
  }
}

/** Reading order: by page, then from the top, then from the left. Lines within 4 points count as one. */
export function inReadingOrder(marks: readonly Mark[]): Mark[] {
  return marks
    .map((mark) => {
      const [left, top] = coverOf(mark);
      return { mark, left, row: Math.round(top / 4) };
    })
    .sort((a, b) => a.mark.page - b.mark.page || a.row - b.row || a.left - b.left)
    .map(({ mark }) => mark);
}

/** Whether a loop drawn by hand means this mark: the middle of it, or of ink most of its points, lie within. */
export function inLoop(mark: Mark, loop: readonly Point[]): boolean {
  if (mark.kind === 'ink') {
    const n = pointCount(mark.points);
    let inside = 0;
    for (let i = 0; i < n; i++) if (withinLoop(pointAt(mark.points, i), loop)) inside++;
    return inside * 2 > n;
  }
  const [l, t, r, b] = coverOf(mark);
  return withinLoop([(l + r) / 2, (t + b) / 2], loop);
}

/** Even–odd rule; the loop is closed from its last point to its first. */
function withinLoop([x, y]: Point, loop: readonly Point[]): boolean {
  let inside = false;
  for (let i = 0, j = loop.length - 1; i < loop.length; j = i++) {
    const [xi, yi] = loop[i]!;
    const [xj, yj] = loop[j]!;
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}
