import type { Point } from '../geometry/box.ts';
import type { QuarterTurn } from '../geometry/page-space.ts';
import type { DocumentId, MarkId } from '../ids/id.ts';
import type { Exact } from '../ink/exact.ts';
import type { Caret, Mark } from '../marks/mark.ts';
import { inLoop } from '../marks/place.ts';
import { quoteOf } from '../passage/quote.ts';
import { caretAt } from '../passage/select.ts';
import { bandsOver, type PageText, type WordRange } from '../passage/text-layer.ts';
import type { InkColour } from './ink-colour.ts';
import type { MarkingPen } from './pen.ts';

/** What a pen did from down to up, on one page: all that decides which mark it leaves. In points of the page, unless it says otherwise. */
export interface Drawn {
  readonly page: {
    readonly document: DocumentId;
    readonly page: number;
    readonly text: PageText | null;
    readonly view: { readonly turn: QuarterTurn };
  };
  readonly start: Point;
  /** Where the pen is now. */
  readonly at: Point;
  readonly points: number[];
  readonly range: WordRange | null;
  /** In CSS pixels, as far as it ever was from its start. */
  readonly travelled: number;
  /** A key is held that makes strokes straight. */
  readonly straight: boolean;
  /** Held still at its end, the stroke became this. */
  readonly exact: Exact | null;
}

/** A drag shorter than this, in CSS pixels, was a tap. */
export const TAP = 6;

const round = (n: number) => Math.round(n * 100) / 100;
const spotOf = ([x, y]: Point): [number, number] => [round(x), round(y)];

/** How wide page text is that was begun with a tap, in points. */
const TEXT_WIDTH = 190;

const baseOf = (
  { page }: Drawn,
  pen: { colour: InkColour; focus: string | null },
  id: MarkId,
  now: number,
) => ({
  v: 2 as const,
  id,
  document: page.document,
  page: page.page,
  colour: pen.colour,
  focus: pen.focus,
  madeAt: now,
});

/** The words that were gone over, as a place. */
function passageOf({ page, range }: Drawn) {
  return (
    range &&
    page.text && {
      on: 'passage' as const,
      bands: bandsOver(page.text, range),
      quote: quoteOf(page.text, range),
    }
  );
}

const boxBetween = (a: Point, b: Point): [number, number, number, number] => [
  round(Math.min(a[0], b[0])),
  round(Math.min(a[1], b[1])),
  round(Math.max(a[0], b[0])),
  round(Math.max(a[1], b[1])),
];

function caretOf({ page, start }: Drawn): Caret | null {
  return page.text && caretAt(page.text, start);
}

/** What an act leaves, as it stands now. Null: nothing yet, or a tool that leaves none. */
export function markOfDrawn(act: Drawn, pen: MarkingPen, id: MarkId, now: number): Mark | null {
  const base = baseOf(act, pen, id, now);
  const passage = passageOf(act);
  const moved = act.travelled > TAP / 2;
  switch (pen.tool) {
    case 'ink': {
      const { exact } = act;
      if (exact?.as === 'line')
        return { ...base, kind: 'line', from: spotOf(exact.from), to: spotOf(exact.to), width: pen.width };
      if (exact) return { ...base, kind: exact.as, box: exact.box, width: pen.width };
      return act.points.length ? { ...base, kind: 'ink', points: act.points, width: pen.width } : null;
    }
    case 'highlight':
      if (passage) return { ...base, kind: 'highlight', place: passage };
      return act.points.length && moved
        ? { ...base, kind: 'highlight', place: { on: 'free', points: act.points, width: pen.width } }
        : null;
    case 'note': {
      if (passage) return { ...base, kind: 'note', place: passage, words: '' };
      const [x, y] = spotOf(act.start);
      const place =
        act.travelled > 2 * TAP
          ? { on: 'box' as const, box: boxBetween(act.start, act.at) }
          : { on: 'spot' as const, x, y };
      return { ...base, kind: 'note', place, words: '' };
    }
    case 'line':
    case 'arrow':
      return moved
        ? { ...base, kind: pen.tool, from: spotOf(act.start), to: spotOf(endOf(act)), width: pen.width }
        : null;
    case 'box':
    case 'ring':
      return moved ? { ...base, kind: pen.tool, box: boxBetween(act.start, act.at), width: pen.width } : null;
    case 'text': {
      const [x, y] = spotOf(act.start);
      const seen = Math.abs(act.at[0] - act.start[0]);
      const w = act.travelled > 2 * TAP ? Math.max(24, round(seen)) : TEXT_WIDTH;
      return {
        ...base,
        kind: 'text',
        x,
        y,
        w,
        h: pen.width * 1.3,
        size: pen.width,
        turn: act.page.view.turn,
        words: '',
      };
    }
    case 'stamp': {
      const [x, y] = spotOf(act.at);
      const { turn } = act.page.view;
      return { ...base, kind: 'stamp', x, y, size: pen.width, turn, look: pen.look, points: pen.points };
    }
    case 'cut':
      return passage && { ...base, kind: 'cut', place: passage };
    case 'swap':
      return passage && { ...base, kind: 'swap', place: passage, words: '' };
    case 'add': {
      const place = caretOf(act);
      return place && { ...base, kind: 'add', place, words: '' };
    }
  }
}

/** Where a line ends: with the key held, level, upright or at half a right angle. */
function endOf(act: Drawn): Point {
  if (!act.straight) return act.at;
  const dx = act.at[0] - act.start[0];
  const dy = act.at[1] - act.start[1];
  const long = Math.hypot(dx, dy);
  const angle = (Math.round(Math.atan2(dy, dx) / (Math.PI / 4)) * Math.PI) / 4;
  return [act.start[0] + long * Math.cos(angle), act.start[1] + long * Math.sin(angle)];
}

/** Of the page's marks those that a loop was drawn round. */
export function gathered(act: Pick<Drawn, 'points'>, marks: readonly Mark[]): Mark[] {
  const loop: Point[] = [];
  for (let i = 0; i < act.points.length; i += 3) loop.push([act.points[i]! / 100, act.points[i + 1]! / 100]);
  return loop.length < 3 ? [] : marks.filter((m) => inLoop(m, loop));
}
