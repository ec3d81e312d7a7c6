import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { document, testId } from '../changes/arbitrary.ts';
import type { MarkId, QuestionId } from '../ids/id.ts';
import type { Suggestion } from '../marks/mark.ts';
import { takeOnAnswers } from './answers.ts';
import { quoteIn, suggestionIn } from './said.ts';
import { fitOf, spanOf, takeAll, takeSuggestion } from './take.ts';

const quoteAt = (text: string, exact: string, nth = 0) => {
  let start = -1;
  for (let i = 0; i <= nth; i++) start = text.indexOf(exact, start + 1);
  const end = start + exact.length;
  return {
    exact,
    prefix: text.slice(Math.max(0, start - 32), start),
    suffix: text.slice(end, end + 32),
    start,
    end,
  };
};
let n = 1;
const base = () => ({
  v: 2 as const,
  id: testId<MarkId>(n++),
  document,
  page: 0,
  colour: 'lake' as const,
  focus: null,
  madeAt: 1,
});
const bands: [number, number, number, number][] = [[0, 0, 9, 9]];
type Q = ReturnType<typeof quoteAt>;
const swap = (quote: Q, words: string): Suggestion => ({
  ...base(),
  kind: 'swap',
  place: { on: 'passage', bands, quote },
  words,
});
const cut = (quote: Q): Suggestion => ({ ...base(), kind: 'cut', place: { on: 'passage', bands, quote } });
const add = (quote: Q, words: string, side: 'after' | 'before' = 'after'): Suggestion => ({
  ...base(),
  kind: 'add',
  place: { on: 'caret', side, x: 0, top: 0, bottom: 9, quote },
  words,
});

const SAID = 'The hill is stepe, and the river is deep.';

describe('a suggestion taken on a typed answer', () => {
  test.each([
    ['a swap', swap(quoteAt(SAID, 'stepe,'), 'steep,'), 'The hill is steep, and the river is deep.'],
    ['a cut in the middle', cut(quoteAt(SAID, 'and')), 'The hill is stepe, the river is deep.'],
    ['a cut at the end', cut(quoteAt(SAID, 'deep.')), 'The hill is stepe, and the river is'],
    ['a cut at the beginning', cut(quoteAt(SAID, 'The')), 'hill is stepe, and the river is deep.'],
    [
      'an addition after',
      add(quoteAt(SAID, 'river'), 'below'),
      'The hill is stepe, and the river below is deep.',
    ],
    [
      'one before',
      add(quoteAt(SAID, 'The'), 'Yes:', 'before'),
      'Yes: The hill is stepe, and the river is deep.',
    ],
  ])('%s', (_, mark, text) => {
    expect(takeSuggestion(SAID, mark)).toEqual({ ok: true, text });
  });

  test('finds its words where the answer has changed since, or breaks its lines elsewhere', () => {
    const now = 'Look:\nThe hill\nis  stepe, and very green. The river is deep.';
    expect(takeSuggestion(now, swap(quoteAt(SAID, 'hill is'), 'mountain was'))).toEqual({
      ok: true,
      text: 'Look:\nThe mountain was  stepe, and very green. The river is deep.',
    });
  });

  test('of the same words twice the one with the same surroundings', () => {
    expect(takeSuggestion(SAID, swap(quoteAt(SAID, 'is', 1), 'was'))).toEqual({
      ok: true,
      text: 'The hill is stepe, and the river was deep.',
    });
  });

  test('is never applied blindly: words that are gone, or only part of another word', () => {
    expect(takeSuggestion('All new.', swap(quoteAt(SAID, 'stepe,'), 'steep,'))).toEqual({
      ok: false,
      reason: 'gone',
    });
    expect(spanOf('This', quoteAt(SAID, 'is'))).toBeNull();
    expect(fitOf('This', quoteAt(SAID, 'is'))).toBe(-1);
    expect(fitOf(SAID, quoteAt(SAID, 'is'))).toBeGreaterThan(fitOf('it is so', quoteAt(SAID, 'is')));
  });

  test('of two that touch the same words the first is taken, the other told', () => {
    const [a, b, c] = [
      swap(quoteAt(SAID, 'is stepe,'), 'was steep,'),
      cut(quoteAt(SAID, 'stepe,')),
      swap(quoteAt(SAID, 'deep.'), 'shallow.'),
    ] as const;
    const { text, left } = takeAll(SAID, [a, b, c]);
    expect(text).toBe('The hill was steep, and the river is shallow.');
    expect([...left]).toEqual([[b.id, 'overlaps']]);
  });

  test('suggestions on words of their own come to the same in any order, at once or one after the other', () => {
    const words = fc.uniqueArray(fc.stringMatching(/^[a-z]{3,6}$/), { minLength: 4, maxLength: 10 });
    fc.assert(
      fc.property(
        words,
        fc.array(fc.nat(2), { minLength: 10, maxLength: 10 }),
        fc.nat(1000),
        (all, kinds, turn) => {
          const text = all.join(' ');
          // Every second word, so that none touches another.
          const marks = all.flatMap((word, i) =>
            i % 2
              ? []
              : [
                  kinds[i] === 0
                    ? swap(quoteAt(text, word), 'X')
                    : kinds[i] === 1
                      ? add(quoteAt(text, word), 'Y')
                      : swap(quoteAt(text, word), 'Z Z'),
                ],
          );
          const at = turn % marks.length;
          const turned = [...marks.slice(at), ...marks.slice(0, at)];
          const one = takeAll(text, marks);
          expect(takeAll(text, turned).text).toBe(one.text);
          expect(one.left.size).toBe(0);
          let step = text;
          for (const mark of turned) {
            const taken = takeSuggestion(step, mark);
            expect(taken.ok).toBe(true);
            if (taken.ok) step = taken.text;
          }
          expect(step).toBe(one.text);
        },
      ),
      { seed: 12 },
    );
  });

  test('is taken on the answer in which its words stand, of several alike the one with the same surroundings', () => {
    const [a, b] = [testId<QuestionId>(1), testId<QuestionId>(2)];
    const answers = new Map([
      [a, 'It is stepe there.'],
      [b, SAID],
    ]);
    const mark = swap(quoteAt(SAID, 'stepe,'), 'steep,');
    expect(takeOnAnswers(mark, answers)).toEqual({
      ok: true,
      question: b,
      text: 'The hill is steep, and the river is deep.',
    });
    expect(takeOnAnswers(swap(quoteAt(SAID, 'is'), 'was'), answers)).toMatchObject({ question: b });
    expect(takeOnAnswers(mark, new Map([[a, 'All new.']]))).toEqual({ ok: false });
  });
});

describe('a change of wording said while work goes on', () => {
  const place = { document, page: 0, x: 5, y: 6 };
  const said = (over: object) => suggestionIn({ id: testId(9), at: 1, place: { ...place, ...over } });
  test('quotes what was chosen in the answer, and is taken on it as it stands then', () => {
    const quote = quoteIn(SAID, 11, 18)!;
    expect(quote).toMatchObject({ exact: 'stepe,', prefix: 'The hill is ', start: 12 });
    const taken = (instead: object) => {
      const mark = said({ quote, instead });
      return mark && takeSuggestion(`So: ${SAID}`, mark);
    };
    expect(taken({ kind: 'swap', words: 'steep,' })).toMatchObject({
      text: `So: ${SAID.replace('stepe', 'steep')}`,
    });
    expect(taken({ kind: 'cut' })).toMatchObject({ text: `So: ${SAID.replace(' stepe,', '')}` });
    expect(taken({ kind: 'add', words: 'indeed' })).toMatchObject({
      text: `So: ${SAID.replace('stepe,', 'stepe, indeed')}`,
    });
  });
  test('is none where only something is said, and nothing is quoted where nothing is chosen', () => {
    expect(said({})).toBeNull();
    expect(quoteIn(SAID, 3, 4)).toBeNull();
  });
});
