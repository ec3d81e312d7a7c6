import {
  type Box,
  bandsOver,
  boxAround,
  boxToScreen,
  caretAfter,
  type DocumentId,
  findQuote,
  type InkColour,
  type Mark,
  type MarkId,
  type PageFrame,
  type PageText,
  pageSize,
  type QuarterTurn,
  quarterTurn,
  quoteOf,
  toPage,
  viewSize,
} from '@jotmark/core';
import { id } from './marks.ts';

/** How a page is shown, a pixel a point. */
export const viewOf = (frame: PageFrame, turn: QuarterTurn = 0) => {
  const [width, height] = pageSize(frame);
  return { width, height, turn: quarterTurn(frame.rotate + turn), zoom: 1 };
};

/** Drawn marks of every kind: line, arrow, box, ring, stamps and page text, upright as the page is shown. */
function drawn(
  base: Pick<Mark, 'v' | 'document' | 'page' | 'focus' | 'madeAt'>,
  at: (fx: number, fy: number) => readonly [number, number],
  turn: QuarterTurn,
): Mark[] {
  const spot = (fx: number, fy: number): [number, number] => [...at(fx, fy)];
  const box = (fx0: number, fy0: number, fx1: number, fy1: number) =>
    boxAround([at(fx0, fy0), at(fx1, fy1)].map(([px, py]): Box => [px, py, px, py]))!;
  const each = () => ({ ...base, id: id<MarkId>(), colour: 'lake' as const });
  const [x, y] = spot(0.5, 0.65);
  return [
    { ...each(), kind: 'line', from: spot(0.1, 0.6), to: spot(0.2, 0.6), width: 5 },
    { ...each(), kind: 'arrow', from: spot(0.1, 0.65), to: spot(0.2, 0.65), width: 5 },
    { ...each(), kind: 'ring', box: box(0.3, 0.6, 0.4, 0.7), width: 5 },
    {
      ...each(),
      colour: 'garnet',
      kind: 'stamp',
      x,
      y,
      size: 40,
      turn,
      look: { of: 'sign', sign: 'dot' },
      points: 150,
    },
    {
      ...each(),
      colour: 'moss',
      kind: 'stamp',
      x: spot(0.8, 0.65)[0],
      y: spot(0.8, 0.65)[1],
      size: 30,
      turn,
      look: { of: 'sign', sign: 'star' },
      points: null,
    },
    { ...each(), kind: 'box', box: box(0.85, 0.6, 0.9, 0.7), width: 5 },
    {
      ...each(),
      kind: 'text',
      x: spot(0.1, 0.72)[0],
      y: spot(0.1, 0.72)[1],
      w: 120,
      h: 40,
      size: 14,
      turn,
      words: 'Größe fehlt',
    },
  ];
}

/** One mark of every kind; where they must be seen is told by how the page is shown. */
export function marksOn(
  frame: PageFrame,
  text: PageText,
): { marks: Mark[]; seen: { at: readonly [number, number]; colour: InkColour }[] } {
  const base = {
    v: 2 as const,
    document: id<DocumentId>(),
    page: 0,
    focus: null,
    madeAt: Date.UTC(2026, 10, 25),
  };
  const view = viewOf(frame);
  const [width, height] = viewSize(view);
  const at = (fx: number, fy: number) => toPage(view, [width * fx, height * fy]);
  const line = (fx0: number, fx1: number, fy: number) =>
    [fx0, (fx0 + fx1) / 2, fx1].flatMap((fx) => [...at(fx, fy).map((v) => Math.round(v * 100)), 200]);
  const marks: Mark[] = [
    { ...base, id: id<MarkId>(), colour: 'garnet', kind: 'ink', points: line(0.2, 0.4, 0.8), width: 6 },
    {
      ...base,
      id: id<MarkId>(),
      colour: 'amber',
      kind: 'highlight',
      place: { on: 'free', points: line(0.5, 0.8, 0.8), width: 14 },
    },
    {
      ...base,
      id: id<MarkId>(),
      colour: 'plum',
      kind: 'note',
      words: 'Grüße – 高い hill',
      place: { on: 'spot', x: at(0.3, 0.9)[0], y: at(0.3, 0.9)[1] },
    },
    ...drawn(base, at, view.turn),
  ];
  const seen: ReturnType<typeof marksOn>['seen'] = [
    { at: [width * 0.3, height * 0.8], colour: 'garnet' },
    { at: [width * 0.65, height * 0.8], colour: 'amber' },
    { at: [width * 0.3, height * 0.9], colour: 'plum' },
    { at: [width * 0.15, height * 0.6], colour: 'lake' },
    { at: [width * 0.15, height * 0.65], colour: 'lake' },
    { at: [width * 0.3, height * 0.65], colour: 'lake' },
    { at: [width * 0.5, height * 0.65], colour: 'garnet' },
    { at: [width * 0.8, height * 0.65], colour: 'moss' },
    { at: [width * 0.9, height * 0.65], colour: 'lake' },
  ];
  const found = findQuote(text, { exact: 'steep on the north', prefix: '', suffix: '', start: 0, end: 0 });
  if (found.ok) {
    const bands = bandsOver(text, found.range);
    marks.push({
      ...base,
      id: id<MarkId>(),
      colour: 'moss',
      kind: 'highlight',
      place: { on: 'passage', bands, quote: quoteOf(text, found.range) },
    });
    marks.push(...onWords(base, text));
    const shown = boxToScreen(view, bands[0]!);
    // Just inside the band's upper edge, above the letters.
    seen.push({ at: [(shown[0] + shown[2]) / 2, shown[1] + 1.2], colour: 'moss' });
  }
  return { marks, seen };
}

/** Suggestions on words: cut the first, add after the second, swap the third. */
function onWords(base: Pick<Mark, 'v' | 'document' | 'page' | 'focus' | 'madeAt'>, text: PageText): Mark[] {
  const each = () => ({ ...base, id: id<MarkId>(), colour: 'lake' as const });
  const place = (word: number) => {
    const range = { from: word, to: word };
    return { on: 'passage' as const, bands: bandsOver(text, range), quote: quoteOf(text, range) };
  };
  return [
    { ...each(), kind: 'cut', place: place(0) },
    { ...each(), kind: 'add', place: caretAfter(text, 1), words: 'und' },
    { ...each(), kind: 'swap', place: place(2), words: 'steeper' },
  ];
}
