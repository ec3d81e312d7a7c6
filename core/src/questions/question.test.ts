import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { QuestionId } from '../ids/id.ts';
import { alignQuestions, drawnBox, duplicateQuestions, pullBox, shiftBox } from './arrange.ts';
import { inPageOrder, numberQuestions, Question, Questions, readLabel, sumOfPoints } from './question.ts';

let n = 1;
const q = (top: number, more: Partial<Question> = {}): Question => ({
  id: testId<QuestionId>(n++),
  page: 0,
  box: [60, top, 300, top + 20],
  part: false,
  label: null,
  points: 100,
  answer: { kind: 'line' },
  ...more,
});
const numbersOf = (questions: readonly Question[]) =>
  inPageOrder(questions).map((x) => numberQuestions(questions).get(x.id));

describe('questions number themselves', () => {
  test('in page order, whatever order they were drawn in', () => {
    expect(numbersOf([q(300), q(100), q(200, { page: 1 }), q(200)])).toEqual(['1', '2', '3', '4']);
  });

  test('1, 2, 2a, 2b, 3: parts count letters under the number before them', () => {
    expect(numbersOf([q(10), q(40), q(70, { part: true }), q(100, { part: true }), q(130)])).toEqual([
      '1',
      '2',
      '2a',
      '2b',
      '3',
    ]);
  });

  test('a part with nothing before it is a question of its own', () => {
    expect(numbersOf([q(10, { part: true }), q(40, { part: true })])).toEqual(['1', '1a']);
  });

  test('a number typed over stands, and counting goes on from it', () => {
    expect(
      numbersOf([
        q(10, { label: '4' }),
        q(40, { part: true }),
        q(70),
        q(100, { label: '9c' }),
        q(130, { part: true }),
      ]),
    ).toEqual(['4', '4a', '5', '9c', '9d']);
    expect(numbersOf([q(10), q(40, { label: 'Bonus' }), q(70)])).toEqual(['1', 'Bonus', '2']);
  });

  test('in one row from left to right, though one stands a little higher', () => {
    const left = q(104);
    const right = q(100, { box: [320, 100, 500, 120] });
    expect(inPageOrder([right, left])).toEqual([left, right]);
  });

  test('labels are read as number and letter', () => {
    expect([readLabel('2b'), readLabel('12'), readLabel('2 B'), readLabel('x')]).toEqual([
      { number: 2, letter: 'b' },
      { number: 12, letter: '' },
      { number: 2, letter: 'b' },
      null,
    ]);
  });

  test('every question gets exactly one number, and without parts and labels they are 1…n', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(3), fc.nat(700)), { maxLength: 20 }), (tops) => {
        const questions = tops.map(([page, top]) => q(top, { page }));
        expect(numbersOf(questions)).toEqual(questions.map((_, i) => String(i + 1)));
      }),
      { seed: 7, numRuns: 100 },
    );
  });

  test('points add up exactly; one without points earns nothing', () => {
    expect(sumOfPoints([q(1, { points: 150 }), q(2, { points: null }), q(3, { points: 50 })])).toBe(200);
  });
});

describe('what is no question is refused', () => {
  test.each([
    ['too small', { box: [10, 10, 14, 14] as Question['box'] }],
    ['off any page', { page: 500 }],
    ['negative points', { points: -1 }],
    ['a choice without options', { answer: { kind: 'choice', options: [], several: false } as const }],
    ['an option over two lines', { answer: { kind: 'choice', options: ['a\nb'], several: false } as const }],
  ])('%s', (_, wrong) => {
    expect(Question.safeParse({ ...q(10), ...wrong }).success).toBe(false);
  });

  test('the same question twice', () => {
    const one = q(10);
    expect(Questions.safeParse([one, one]).success).toBe(false);
  });
});

describe('arranging regions', () => {
  const page = { width: 595, height: 842 };
  const box = fc
    .tuple(fc.nat(500), fc.nat(700), fc.integer({ min: 8, max: 90 }), fc.integer({ min: 8, max: 100 }))
    .map(([x, y, w, h]): Question['box'] => [x, y, x + w, y + h]);
  const far = fc.integer({ min: -1000, max: 1000 });

  test('moving keeps the size and stays on the page', () => {
    fc.assert(
      fc.property(box, far, far, (b, dx, dy) => {
        const moved = shiftBox(b, dx, dy, page);
        expect(moved[2] - moved[0]).toBeCloseTo(b[2] - b[0]);
        expect(moved[3] - moved[1]).toBeCloseTo(b[3] - b[1]);
        expect(moved[0] >= 0 && moved[1] >= 0 && moved[2] <= page.width && moved[3] <= page.height).toBe(
          true,
        );
      }),
      { seed: 3, numRuns: 200 },
    );
  });

  test('pulling an edge leaves the opposite one, never makes it too small, never leaves the page', () => {
    fc.assert(
      fc.property(box, far, far, fc.constantFrom('n', 'e', 's', 'w', 'ne', 'sw'), (b, dx, dy, grip) => {
        const pulled = pullBox(b, grip as 'n', dx, dy, page);
        expect(pulled[2] - pulled[0]).toBeGreaterThanOrEqual(8 - 1e-9);
        expect(pulled[3] - pulled[1]).toBeGreaterThanOrEqual(8 - 1e-9);
        expect(pulled[0] >= 0 && pulled[1] >= 0 && pulled[2] <= page.width && pulled[3] <= page.height).toBe(
          true,
        );
        if (!grip.includes('w')) expect(pulled[0]).toBe(b[0]);
        if (!grip.includes('s')) expect(pulled[3]).toBe(b[3]);
      }),
      { seed: 5, numRuns: 200 },
    );
  });

  test('a drawn frame is cut to its page, and a slip of the hand is none', () => {
    expect(drawnBox([500, 100], [700, 130], page)).toEqual([500, 100, 595, 130]);
    expect(drawnBox([100, 100], [104, 130], page)).toBeNull();
  });

  test('the chosen line up with the first of them', () => {
    const a = q(10);
    const b = q(60, { box: [100, 60, 200, 90] });
    const c = q(120, { box: [90, 120, 200, 150] });
    const sizeOf = () => page;
    expect(alignQuestions([a, b, c], [a.id, b.id], 'left', sizeOf).map((x) => x.box[0])).toEqual([
      60, 60, 90,
    ]);
    expect(alignQuestions([a, b, c], [a.id, c.id], 'width', sizeOf)[2]!.box).toEqual([90, 120, 330, 150]);
  });

  test('duplicates stand below, number themselves and have ids of their own', () => {
    const a = q(10, { label: '7' });
    const { questions, made } = duplicateQuestions(
      [a],
      [a.id],
      () => testId<QuestionId>(900),
      () => page,
    );
    expect(made).toEqual([testId(900)]);
    expect(questions[1]).toMatchObject({ label: null, box: [60, 36, 300, 56] });
    expect(numbersOf(questions)).toEqual(['7', '8']);
  });
});
