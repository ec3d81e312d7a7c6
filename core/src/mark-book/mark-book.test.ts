import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { pastedCells } from './paste.ts';
import { BookRule, PLAIN_RULE, readBookRule } from './rule.ts';
import { type BookEntry, bookTotal, ruleWords } from './total.ts';

const entry = (
  category: string,
  grade: number | null,
  most: number | null,
  more: Partial<BookEntry> = {},
): BookEntry => ({
  category,
  grade,
  most,
  excused: false,
  missing: false,
  ...more,
});
const rule = (over: Partial<BookRule>): BookRule => ({ ...PLAIN_RULE, ...over });
const weighted = rule({
  weights: [
    { category: 'homework', weight: 2 },
    { category: 'test', weight: 3 },
  ],
});

describe('what a student’s work comes to', () => {
  // Homework 6/8 and 6½/10 are 12½/18 = 69.44 %, the test 19/25 is 76 %: (2 · 69.44… + 3 · 76) / 5 = 73.377… %.
  const worked = [entry('homework', 600, 800), entry('homework', 650, 1000), entry('test', 1900, 2500)];

  test('points within a category, categories by their weights', () => {
    expect(bookTotal(worked, weighted)).toEqual({
      percent: 7338,
      zeros: 0,
      parts: [
        { category: 'homework', weight: 2, count: 2, percent: 6944 },
        { category: 'test', weight: 3, count: 1, percent: 7600 },
      ],
    });
  });

  test('each piece the same: homework is (75 + 65) / 2 = 70 %, the whole (2 · 70 + 3 · 76) / 5 = 73.6 %', () => {
    expect(bookTotal(worked, { ...weighted, within: 'each' }).percent).toBe(7360);
  });

  test('a category that counts nothing is left out of the whole, and so is one in which nothing is entered', () => {
    const none = rule({ weights: [{ category: 'homework', weight: 0 }] });
    expect(bookTotal(worked, none).percent).toBe(7600);
    expect(bookTotal([...worked, entry('project', null, 1000)], weighted).percent).toBe(7338);
  });

  test('excused and ungraded work is left out; missing work is, or counts nothing, as the rule says', () => {
    const late = [entry('homework', 800, 1000), entry('homework', null, 1000, { missing: true })];
    expect(bookTotal(late, PLAIN_RULE)).toMatchObject({ percent: 8000, zeros: 0 });
    expect(bookTotal(late, rule({ missing: 'zero' }))).toMatchObject({ percent: 4000, zeros: 1 });
    const excused = [
      ...late.slice(0, 1),
      entry('homework', 0, 1000, { excused: true }),
      entry('homework', null, null),
    ];
    expect(bookTotal(excused, rule({ missing: 'zero' })).percent).toBe(8000);
    expect(bookTotal([], PLAIN_RULE)).toEqual({ percent: null, parts: [], zeros: 0 });
  });

  test('for any work: between what was worst and what was best, the same in whatever order, and more points never make it less', () => {
    const work = fc.record({
      category: fc.constantFrom('a', 'b', 'c'),
      most: fc.integer({ min: 1, max: 5000 }),
      part: fc.integer({ min: 0, max: 100 }),
    });
    const rules = fc.record({
      a: fc.nat(5),
      b: fc.nat(5),
      within: fc.constantFrom('points' as const, 'each' as const),
    });
    fc.assert(
      fc.property(fc.array(work, { minLength: 1, maxLength: 20 }), rules, fc.nat(), (all, r, at) => {
        const by = rule({
          within: r.within,
          weights: [
            { category: 'a', weight: r.a },
            { category: 'b', weight: r.b },
          ],
        });
        const entries = all.map((w) => entry(w.category, Math.floor((w.most * w.part) / 100), w.most));
        const { percent } = bookTotal(entries, by);
        expect(bookTotal([...entries].reverse(), by).percent).toBe(percent);
        if (percent === null) return;
        const shares = entries.map((e) => (10_000 * e.grade!) / e.most!);
        expect(percent).toBeGreaterThanOrEqual(Math.floor(Math.min(...shares)));
        expect(percent).toBeLessThanOrEqual(Math.ceil(Math.max(...shares)));
        const n = at % entries.length;
        const better = entries.map((e, i) => (i === n ? { ...e, grade: e.most! } : e));
        expect(bookTotal(better, by).percent).toBeGreaterThanOrEqual(percent);
      }),
    );
  });
});

test('the rule can be read', () => {
  expect(ruleWords(weighted, ['homework', 'test'])).toBe(
    'Counts: homework 2, test 3. Points are added up within each kind of work. Missing work is left out.',
  );
  expect(ruleWords(rule({ within: 'each', missing: 'zero' }), ['homework', ''])).toBe(
    'Each piece of work counts the same within its kind. Missing work counts 0.',
  );
});

test('a rule that weighs a category twice, or a term that ends before it begins, is none', () => {
  const twice = {
    ...PLAIN_RULE,
    weights: [
      { category: 'a', weight: 1 },
      { category: 'a', weight: 2 },
    ],
  };
  expect(readBookRule(twice).ok).toBe(false);
  expect(readBookRule({ ...PLAIN_RULE, terms: [{ name: 'Autumn', from: 5, to: 5 }] }).ok).toBe(false);
  expect(readBookRule(PLAIN_RULE)).toEqual({ ok: true, value: PLAIN_RULE });
  expect(BookRule.safeParse({ ...PLAIN_RULE, weights: [{ category: 'a', weight: -1 }] }).success).toBe(false);
});

test.each([
  ['8', [['8']]],
  ['8\n7½\n', [['8'], ['7½']]],
  [
    '8\t9\r\n \t7\r\n',
    [
      ['8', '9'],
      ['', '7'],
    ],
  ],
  ['', [['']]],
])('what a spreadsheet copied: %j', (text, cells) => {
  expect(pastedCells(text)).toEqual(cells);
});
