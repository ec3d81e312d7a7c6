import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { QuestionId } from '../ids/id.ts';
import type { AnswerKind, Question } from '../questions/question.ts';
import { choose, readNumber, unanswered } from './answer.ts';
import { fitAnswer, layOptions, unitIsPrinted, wrap } from './fit.ts';

const q = (answer: AnswerKind, box: Question['box'] = [60, 100, 260, 122], n = 1): Question => ({
  id: testId<QuestionId>(n),
  page: 0,
  box,
  part: false,
  label: null,
  points: null,
  answer,
});
/** Every letter half as wide as it is high. */
const half = (text: string, size: number) => text.length * size * 0.5;

describe('an answer in its place', () => {
  test('a line begins at its largest and shrinks until it fits', () => {
    const short = fitAnswer(q({ kind: 'line' }), 'Tarn Hut', half);
    expect(short).toMatchObject({ size: 12, rest: '' });
    expect(short.lines).toHaveLength(1);
    const long = fitAnswer(q({ kind: 'line' }), 'x'.repeat(50), half);
    // 194 points are free; 50 letters fit at 7.5: 187.5.
    expect(long).toMatchObject({ size: 7.5, rest: '' });
  });

  test('what a line cannot hold even at its smallest comes back as rest', () => {
    const fitted = fitAnswer(q({ kind: 'line' }), 'words '.repeat(30).trim(), half);
    expect(fitted.size).toBe(7);
    expect(`${fitted.lines[0]!.text} ${fitted.rest}`).toBe('words '.repeat(30).trim());
  });

  test('a paragraph on ruled lines keeps to them, each writing a little above its rule', () => {
    const ruled = q({ kind: 'paragraph', lines: 3 }, [60, 100, 260, 172]);
    const fitted = fitAnswer(ruled, 'one two three four five six seven eight nine ten', half);
    expect(fitted.leading).toBe(24);
    expect(fitted.lines.map((l) => Math.floor((l.y - 100) / 24))).toEqual([0, 1]);
    expect(fitted.rest).toBe('');
  });

  test('a paragraph in a box grows smaller before it is full, and then says what found no room', () => {
    const box = q({ kind: 'paragraph', lines: null }, [60, 100, 160, 140]);
    const few = fitAnswer(box, 'a few words', half);
    const more = fitAnswer(box, 'some more words that need more room than a few', half);
    expect(more.size).toBeLessThan(few.size);
    expect(more.rest).toBe('');
    const many = fitAnswer(box, 'word '.repeat(60).trim(), half);
    expect(many.rest).not.toBe('');
    expect([...many.lines.map((l) => l.text), many.rest].join(' ')).toBe('word '.repeat(60).trim());
  });

  test('nothing of a text is ever lost, wherever it breaks', () => {
    fc.assert(
      fc.property(
        fc.array(fc.stringMatching(/^[a-zäß]{1,30}$/), { maxLength: 60 }),
        fc.integer({ min: 30, max: 300 }),
        (words, w) => {
          const text = words.join(' ');
          const fitted = fitAnswer(q({ kind: 'paragraph', lines: null }, [0, 0, w, 60]), text, half);
          const back = [...fitted.lines.map((l) => l.text), fitted.rest].join('').replace(/\s/g, '');
          expect(back).toBe(text.replace(/\s/g, ''));
        },
      ),
      { seed: 11, numRuns: 200 },
    );
  });

  test('rows are no wider than they may be, unless one letter is', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), fc.integer({ min: 10, max: 120 }), (text, width) => {
        for (const row of wrap(text, width, (t) => half(t, 10)))
          expect([...row.text].length <= 1 || half(row.text, 10) <= width).toBe(true);
      }),
      { seed: 12, numRuns: 300 },
    );
  });

  test('an empty line stays one', () => {
    expect(wrap('a\n\nb', 100, (t) => half(t, 10)).map((r) => r.text)).toEqual(['a', '', 'b']);
  });

  test('options of a choice stand in rows inside their region, none is left out', () => {
    const laid = layOptions(
      q({ kind: 'choice', options: ['north', 'south', 'east', 'west'], several: false }, [0, 0, 100, 60]),
      half,
    );
    expect(laid.options.map((o) => o.text)).toEqual(['north', 'south', 'east', 'west']);
    expect(laid.options.every((o) => o.y > 0 && o.y < 60 && o.x >= 0)).toBe(true);
    expect(new Set(laid.options.map((o) => o.y)).size).toBe(2);
  });

  test('a unit that is printed right behind is not written again', () => {
    const number = q({ kind: 'number', unit: 'km' });
    const text = (x: number) => ({
      words: [{ text: 'km.', box: [x, 104, x + 14, 118] as const }],
      lines: [],
    });
    expect(unitIsPrinted(number, text(264) as never)).toBe(true);
    expect(unitIsPrinted(number, text(400) as never)).toBe(false);
    expect(unitIsPrinted(number, undefined)).toBe(false);
  });
});

describe('what is written', () => {
  test.each([
    ['3,5', 3.5],
    ['3.5', 3.5],
    ['−4', -4],
    ['1 200', 1200],
    ['.5', 0.5],
    ['3 km', null],
    ['about 3', null],
    ['', null],
    ['1,2,3', null],
  ])('%s is %s', (text, number) => {
    expect(readNumber(text)).toBe(number);
  });

  test('a single choice changes and can be let go; several keep the order of the options', () => {
    const one = q({ kind: 'choice', options: ['a', 'b'], several: false });
    expect([choose(one, '', 'a'), choose(one, 'a', 'b'), choose(one, 'b', 'b')]).toEqual(['a', 'b', '']);
    const many = q({ kind: 'choice', options: ['a', 'b', 'c'], several: true });
    expect([choose(many, 'c', 'a'), choose(many, 'a\nc', 'a')]).toEqual(['a\nc', 'c']);
  });

  test('the check points out what is empty and what is no number, in page order; drawing counts', () => {
    const line = q({ kind: 'line' }, [0, 100, 50, 120], 1);
    const number = q({ kind: 'number', unit: 'm' }, [0, 50, 50, 70], 2);
    const drawing = q({ kind: 'drawing' }, [0, 200, 50, 260], 3);
    const none = q({ kind: 'none' }, [0, 300, 50, 320], 4);
    const all = [line, number, drawing, none];
    const nowhere = () => false;
    expect(unanswered(all, new Map([[number.id, 'far']]), nowhere)).toEqual([
      { id: number.id, why: 'not-a-number' },
      { id: line.id, why: 'empty' },
      { id: drawing.id, why: 'empty' },
    ]);
    // An answer written by hand over a line is one as well.
    expect(unanswered(all, new Map([[number.id, '12']]), () => true)).toEqual([]);
  });
});
