import { type Box, boxAround, contains, distanceToBox, grow, type Point } from '../geometry/box.ts';
import { inkReach } from '../ink/outline.ts';
import { distanceToStroke, moveStroke, strokeBox } from '../ink/stroke.ts';
import { type Mark, type NoteMark, never } from './mark.ts';

/** Radius of the sign that shows a note's spot on the page, in points. */
export const SPOT_RADIUS = 6;

/** The box a mark covers on its page, with the width of its strokes. */
export function coverOf(mark: Mark): Box {
  switch (mark.kind) {
    case 'ink':
      return grow(strokeBox(mark.points), inkReach(mark.width));
    case 'highlight':
      return mark.place.on === 'free'
        ? grow(strokeBox(mark.place.points), mark.place.width / 2 + 0.5)
        : boxAround(mark.place.bands)!;
    case 'note': {
      if (mark.place.on === 'passage') return boxAround(mark.place.bands)!;
      const { x, y } = mark.place;
      return [x - SPOT_RADIUS, y - SPOT_RADIUS, x + SPOT_RADIUS, y + SPOT_RADIUS];
    }
    default:
      return never(mark);
  }
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
      return mark.place.on === 'passage' ? toBands(mark.place.bands) : distanceToBox(point, coverOf(mark));
    default:
      return never(mark);
  }
}

/** The mark a touch means: of those within `reach` points the nearest, of equals the one on top (the last). */
export function markAt(marks: readonly Mark[], point: Point, reach: number): Mark | null {
  let best: Mark | null = null;
  let bestDistance = reach;
  for (const mark of marks) {
    if (!contains(grow(coverOf(mark), reach), point)) continue;
    const d = distanceToMark(mark, point);
    if (d <= bestDistance) {
      best = mark;
      bestDistance = d;
    }
  }
  return best;
}

/** Marks on text stay with their text; all others can be moved. */
export function isMovable(mark: Mark): boolean {
  return mark.kind === 'ink' || mark.place.on !== 'passage';
}

/** The mark moved by dx, dy points. A mark on text is given back unchanged. */
export function moveMark(mark: Mark, dx: number, dy: number): Mark {
  if (dx === 0 && dy === 0) return mark;
  switch (mark.kind) {
    case 'ink':
      return { ...mark, points: moveStroke(mark.points, dx, dy) };
    case 'highlight':
      return mark.place.on === 'free'
        ? { ...mark, place: { ...mark.place, points: moveStroke(mark.place.points, dx, dy) } }
        : mark;
    case 'note':
      return mark.place.on === 'spot'
        ? { ...mark, place: { ...mark.place, x: mark.place.x + dx, y: mark.place.y + dy } }
        : mark;
    default:
      return never(mark);
  }
}

/** Where a note wants its words to stand in the margin and its lead to begin: the end of its place's first line, or its spot. */
export function leadPoint(note: NoteMark): Point {
  if (note.place.on === 'spot') return [note.place.x, note.place.y];
  const first = note.place.bands[0]!;
  return [first[2], (first[1] + first[3]) / 2];
}

/** Reading order: by page, then from the top, then from the left. Lines within 4 points count as one. */
export function inReadingOrder(marks: readonly Mark[]): Mark[] {
  const row = (m: Mark) => Math.round(coverOf(m)[1] / 4);
  return marks.toSorted((a, b) => a.page - b.page || row(a) - row(b) || coverOf(a)[0] - coverOf(b)[0]);
}
