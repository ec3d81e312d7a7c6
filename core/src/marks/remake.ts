import { type Box, boxAround, type Point } from '../geometry/box.ts';
import type { DocumentId, MarkId } from '../ids/id.ts';
import { POINT_FIELDS, type StrokePoints } from '../ink/stroke.ts';
import { isMarkingPen, type Pen } from '../pens/pen.ts';
import { type Mark, never } from './mark.ts';
import { coverOf, isMovable, moveMark } from './place.ts';

/** Marks that can be made larger and smaller; what lies on text is as large as its text, a note's sign always the same. */
export function isResizable(mark: Mark): boolean {
  return isMovable(mark) && !(mark.kind === 'note' && mark.place.on === 'spot');
}

const limit = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value));
const cent = (value: number) => Math.round(value * 100) / 100;

/**
 * The mark as it is when the box round it (or round all that are picked) goes from `from` to `to`, both with the same top left
 * corner kept or moved. Pens keep their width; words and signs grow by the smaller of the two ratios.
 */
export function resizeMark(mark: Mark, from: Box, to: Box): Mark {
  if (!isResizable(mark)) return mark;
  const sx = (to[2] - to[0]) / Math.max(0.01, from[2] - from[0]);
  const sy = (to[3] - to[1]) / Math.max(0.01, from[3] - from[1]);
  const at = ([x, y]: Point): [number, number] => [
    cent(to[0] + (x - from[0]) * sx),
    cent(to[1] + (y - from[1]) * sy),
  ];
  const box = ([l, t, r, b]: Box): Box => [...at([l, t]), ...at([r, b])];
  const stroke = (points: StrokePoints) => {
    const out = [...points];
    for (let i = 0; i < out.length; i += POINT_FIELDS) {
      const [x, y] = at([out[i]! / 100, out[i + 1]! / 100]);
      out[i] = Math.round(x * 100);
      out[i + 1] = Math.round(y * 100);
    }
    return out;
  };
  const even = Math.min(sx, sy);
  switch (mark.kind) {
    case 'ink':
      return { ...mark, points: stroke(mark.points) };
    case 'highlight':
      return mark.place.on === 'free'
        ? { ...mark, place: { ...mark.place, points: stroke(mark.place.points) } }
        : mark;
    case 'note':
      return mark.place.on === 'box' ? { ...mark, place: { on: 'box', box: box(mark.place.box) } } : mark;
    case 'line':
    case 'arrow':
      return { ...mark, from: at(mark.from), to: at(mark.to) };
    case 'box':
    case 'ring':
      return { ...mark, box: box(mark.box) };
    case 'text': {
      const [x, y] = at([mark.x, mark.y]);
      const size = cent(limit(mark.size * even, 4, 96));
      const by = size / mark.size;
      return {
        ...mark,
        x,
        y,
        size,
        w: cent(limit(mark.w * by, 8, 4000)),
        h: cent(limit(mark.h * by, 4, 14_400)),
      };
    }
    case 'stamp': {
      const [x, y] = at([mark.x, mark.y]);
      return { ...mark, x, y, size: cent(limit(mark.size * even, 4, 200)) };
    }
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

/**
 * The box round picked marks made larger or smaller by a step, in points, to the right or down. Words and signs have one size, so
 * theirs grows both ways at once: a step one way alone would leave them as they are.
 */
export function steppedBox(marks: readonly Mark[], [l, t, r, b]: Box, dx: number, dy: number): Box {
  const [w, h] = [Math.max(0.01, r - l), Math.max(0.01, b - t)];
  const least = (side: number, by: number) => Math.max(Math.min(side, Math.abs(by)), side + by);
  const to = [least(w, dx), least(h, dy)] as const;
  if (!marks.every((mark) => mark.kind === 'stamp' || mark.kind === 'text'))
    return [l, t, l + to[0], t + to[1]];
  const by = dx ? to[0] / w : to[1] / h;
  return [l, t, l + w * by, t + h * by];
}

/** The mark as if another pen had made it: its colour and focus, and its width or look where they are of a kind. The same mark for a tool that leaves none. */
export function withPen(mark: Mark, pen: Pen): Mark {
  if (!isMarkingPen(pen) || mark.kind === 'foreign' || mark.kind === 'unread') return mark;
  const inked = { ...mark, colour: pen.colour, focus: pen.focus } as Mark;
  if (!('width' in pen)) return inked;
  switch (inked.kind) {
    case 'ink':
    case 'line':
    case 'arrow':
    case 'box':
    case 'ring': {
      const drawn = ['ink', 'line', 'arrow', 'box', 'ring'].includes(pen.tool);
      return drawn ? { ...inked, width: pen.width } : inked;
    }
    case 'highlight':
      return pen.tool === 'highlight' && inked.place.on === 'free'
        ? { ...inked, place: { ...inked.place, width: pen.width } }
        : inked;
    case 'stamp':
      return pen.tool === 'stamp' ? { ...inked, size: pen.width, look: pen.look, points: pen.points } : inked;
    case 'text': {
      if (pen.tool !== 'text') return inked;
      const by = pen.width / inked.size;
      return {
        ...inked,
        size: pen.width,
        w: cent(limit(inked.w * by, 8, 4000)),
        h: cent(limit(inked.h * by, 4, 14_400)),
      };
    }
    default:
      return inked;
  }
}

export interface CopyTo {
  readonly document: DocumentId;
  readonly page: number;
  readonly by: Point;
  readonly madeAt: number;
  newId(): MarkId;
}

/**
 * Another of the same mark, on the same page or on another. What quotes words cannot go where those words are not: a note
 * on a passage becomes one on a part of the page, a highlight or suggestion is left out (null).
 */
export function copyMark(mark: Mark, to: CopyTo): Mark | null {
  const here = { id: to.newId(), document: to.document, page: to.page, madeAt: to.madeAt };
  if (isMovable(mark)) return { ...moveMark(mark, ...to.by), ...here };
  if (mark.kind !== 'note') return null;
  return moveMark({ ...mark, ...here, place: { on: 'box', box: coverOf(mark) } }, ...to.by);
}

/** The box round several marks, or null for none. */
export const coverOfAll = (marks: readonly Mark[]): Box | null => boxAround(marks.map(coverOf));
