import { describe, expect, test } from 'vitest';
import { type DocumentId, type MarkId, makeId, type TrayId } from '../ids/id.ts';
import { Mark } from '../marks/mark.ts';
import type { PageText } from '../passage/text-layer.ts';
import { markOnWords } from './mark-on-words.ts';
import { isMarkingPen, type Pen } from './pen.ts';
import { starterTrays } from './trays.ts';

const id = <T extends string>(n: number) => makeId(n, new Uint8Array(10).fill(n)) as T;
const text: PageText = {
  words: ['The', 'hill', 'is', 'steep'].map((t, i) => ({
    text: t,
    box: [100 + i * 50, 100, 140 + i * 50, 112] as const,
  })),
  lines: [{ from: 0, to: 4, box: [100, 99, 290, 113], along: 'x' }],
};
const at = { document: id<DocumentId>(9), page: 0, text, range: { from: 1, to: 2 }, turn: 0 as const };
const pens = starterTrays(() => id<TrayId>(1)).trays.flatMap((t) => t.pens);
const make = (tool: Pen['tool']) => {
  const pen = pens.find((p) => p.tool === tool)!;
  if (!isMarkingPen(pen)) throw new Error(tool);
  return markOnWords(pen, at, id<MarkId>(2), 5);
};

describe('made on words without a pointer', () => {
  test.each([...new Set(pens.map((p) => p.tool))])('%s is a mark that can be kept', (tool) => {
    const mark = make(tool);
    expect(mark.kind).toBe(tool);
    expect(Mark.parse(JSON.parse(JSON.stringify(mark)))).toEqual(mark);
  });

  test('what lies on words quotes them, what is drawn goes round, under or to their end', () => {
    expect(make('swap')).toMatchObject({ place: { quote: { exact: 'hill is' } } });
    expect(make('add')).toMatchObject({ place: { side: 'after', x: 245, quote: { exact: 'is' } } });
    expect(make('box')).toMatchObject({ box: [147, 96, 243, 116] });
    expect(make('line')).toMatchObject({ from: [150, 114.5], to: [240, 114.5] });
    expect(make('arrow')).toMatchObject({ to: [243, 115] });
    expect(make('stamp')).toMatchObject({ x: 254, y: 106 });
  });
});
