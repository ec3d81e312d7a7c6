import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { MarkId } from '../ids/id.ts';
import type { SwapMark } from '../marks/mark.ts';
import { quoteOf } from '../passage/quote.ts';
import { repetitionsOf } from '../passage/repetitions.ts';
import { bandsOver, type PageText } from '../passage/text-layer.ts';
import { asSmallest } from './suggest.ts';

/** A page of one line, each word ten points wide for each letter. */
function pageOf(said: string): PageText {
  let x = 0;
  const words = said.split(' ').map((text) => {
    const box: [number, number, number, number] = [x, 0, x + text.length * 10, 12];
    x += text.length * 10 + 10;
    return { text, box };
  });
  return { words, lines: [{ from: 0, to: words.length, box: [0, 0, x, 12], along: 'x' }] };
}

const swapOver = (text: PageText, words: string): SwapMark => {
  const range = { from: 0, to: text.words.length - 1 };
  return {
    v: 2,
    id: testId<MarkId>(1),
    document,
    page: 0,
    colour: 'lake',
    focus: 'wording',
    madeAt: 1,
    kind: 'swap',
    place: { on: 'passage', bands: bandsOver(text, range), quote: quoteOf(text, range) },
    words,
    reason: 'Past tense',
  };
};
const ids = () => {
  let n = 2;
  return () => testId<MarkId>(n++);
};

describe('a sentence written anew', () => {
  const page = pageOf('We go to the harbour by foot and seen the boats');

  test('becomes the smallest suggestions; the first keeps its id and the reason', () => {
    const small = asSmallest(
      swapOver(page, 'Yesterday we went to the harbour on foot and saw boats'),
      page,
      ids(),
    );
    expect(small?.map((m) => [m.kind, 'words' in m ? m.words : m.place.quote.exact, m.reason])).toEqual([
      ['swap', 'Yesterday we went', 'Past tense'],
      ['swap', 'on', undefined],
      ['swap', 'saw', undefined],
    ]);
    expect(small?.[0]?.id).toBe(testId<MarkId>(1));
    expect(small?.[2]?.place).toMatchObject({ quote: { exact: 'seen the' } });
  });

  test('words before the first and after another are additions', () => {
    const small = asSmallest(
      swapOver(page, 'So We go to the old harbour by foot and seen the boats'),
      page,
      ids(),
    );
    expect(small?.map((m) => [m.kind, m.kind === 'add' && m.place.side])).toEqual([
      ['add', 'before'],
      ['add', 'after'],
    ]);
  });

  test.each([
    ['nothing in common', 'Everything is entirely different now'],
    ['nothing changed', 'We go to the harbour by foot and seen the boats'],
    ['no words', ' '],
  ])('stays one where there is %s', (_, words) => {
    expect(asSmallest(swapOver(page, words), page, ids())).toBeNull();
  });

  test('of two words stays a swap', () => {
    const two = pageOf('stepe hill');
    expect(asSmallest(swapOver(two, 'steep hill'), two, ids())).toBeNull();
  });
});

describe('the same words elsewhere', () => {
  const pages = [
    { document, page: 0, text: pageOf('Thier boats, thier nets; other (thier) things and theirs') },
    { document, page: 1, text: null },
    { document, page: 2, text: pageOf('It is thier turn') },
  ];
  test('are found in any case and with any signs round them, not within longer words', () => {
    const found = repetitionsOf('thier', pages);
    expect(found.map((f) => [f.page, f.place.on === 'passage' && f.place.quote.exact])).toEqual([
      [0, 'Thier'],
      [0, 'thier'],
      [0, '(thier)'],
      [2, 'thier'],
    ]);
  });
  test('several words in a row, each found once', () => {
    const row = [{ document, page: 0, text: pageOf('so so so so') }];
    expect(repetitionsOf('so so', row)).toHaveLength(2);
  });
  test('signs alone are nowhere the same', () => {
    expect(repetitionsOf('… –', pages)).toEqual([]);
  });
});
