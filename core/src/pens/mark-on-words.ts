import { type Box, boxAround, grow } from '../geometry/box.ts';
import type { QuarterTurn } from '../geometry/page-space.ts';
import type { DocumentId, MarkId } from '../ids/id.ts';
import type { Mark } from '../marks/mark.ts';
import { HAND_LEADING } from '../marks/page-text.ts';
import { quoteOf } from '../passage/quote.ts';
import { caretAfter } from '../passage/select.ts';
import { bandsOver, type PageText, type WordRange } from '../passage/text-layer.ts';
import type { MarkingPen } from './pen.ts';

/** Words that were walked to, where a mark is made without a pointer. */
export interface AtWords {
  readonly document: DocumentId;
  readonly page: number;
  readonly text: PageText;
  readonly range: WordRange;
  /** How the page is shown. */
  readonly turn: QuarterTurn;
}

const cent = (n: number) => Math.round(n * 100) / 100;
const spot = (x: number, y: number): [number, number] => [cent(x), cent(y)];

/** What a pen makes of words: on them where it can, and otherwise round them, under them or at their end. It can be moved from there. */
export function markOnWords(pen: MarkingPen, at: AtWords, id: MarkId, madeAt: number): Mark {
  const { text, range } = at;
  const bands = bandsOver(text, range);
  const [l, t, r, b] = boxAround(bands)!;
  const last = bands.at(-1)!;
  const high = last[3] - last[1];
  const base = {
    v: 2 as const,
    id,
    document: at.document,
    page: at.page,
    colour: pen.colour,
    focus: pen.focus,
    madeAt,
  };
  const place = { on: 'passage' as const, bands, quote: quoteOf(text, range) };
  const round = (by: number): Box => {
    const [x0, y0, x1, y1] = grow([l, t, r, b], by);
    return [cent(x0), cent(y0), cent(x1), cent(y1)];
  };
  switch (pen.tool) {
    case 'ink':
      return {
        ...base,
        kind: 'ink',
        width: pen.width,
        points: [last[0], last[2]].flatMap((x) => [
          Math.round(x * 100),
          Math.round((last[3] + 1.5) * 100),
          128,
        ]),
      };
    case 'highlight':
      return { ...base, kind: 'highlight', place };
    case 'note':
      return { ...base, kind: 'note', place, words: '' };
    case 'cut':
      return { ...base, kind: 'cut', place };
    case 'swap':
      return { ...base, kind: 'swap', place, words: '' };
    case 'add':
      return { ...base, kind: 'add', place: caretAfter(text, range.to), words: '' };
    case 'line':
      return {
        ...base,
        kind: 'line',
        width: pen.width,
        from: spot(last[0], last[3] + 1.5),
        to: spot(last[2], last[3] + 1.5),
      };
    case 'arrow':
      return {
        ...base,
        kind: 'arrow',
        width: pen.width,
        from: spot(last[2] + 40, last[3] + 30),
        to: spot(last[2] + 3, last[3] + 2),
      };
    case 'box':
      return { ...base, kind: 'box', width: pen.width, box: round(3) };
    case 'ring':
      return { ...base, kind: 'ring', width: pen.width, box: round(6) };
    case 'text':
      return {
        ...base,
        kind: 'text',
        x: cent(last[0]),
        y: cent(last[3] + 2),
        w: 190,
        h: pen.width * HAND_LEADING,
        size: pen.width,
        turn: at.turn,
        words: '',
      };
    case 'stamp':
      return {
        ...base,
        kind: 'stamp',
        x: cent(last[2] + pen.width * 0.7),
        y: cent(last[1] + high / 2),
        size: pen.width,
        turn: at.turn,
        look: pen.look,
        points: pen.points,
      };
  }
}
