import { describe, expect, test } from 'vitest';
import { groupAnswers } from './group.ts';
import { type AnswerKey, byKey, keyFits } from './key.ts';
import { normalAnswer } from './normal.ts';

describe('the same answer', () => {
  test.each([
    ['3,50 km', '3.5km'],
    ['  Tarn  Hut ', 'tarn hut.'],
    ['1 200 m', '1200m'],
    ['−4', '-4'],
    ['0,5', '00.50'],
    ['don’t', "don't"],
  ])('"%s" and "%s"', (a, b) => {
    expect(normalAnswer(a)).toBe(normalAnswer(b));
  });

  test.each([
    ['3.5 km', '35 km'],
    ['354 765', '355 765'],
    ['north', 'south'],
    ['3 km', '3 m'],
  ])('"%s" and "%s" are two', (a, b) => {
    expect(normalAnswer(a)).not.toBe(normalAnswer(b));
  });

  test('the unit that is asked for need not be written', () => {
    expect(normalAnswer('3,5 km', 'km')).toBe(normalAnswer('3.5', 'km'));
    expect(normalAnswer('3,5 m', 'km')).not.toBe(normalAnswer('3.5', 'km'));
  });
});

describe('groups', () => {
  const texts = [
    'Left of it',
    'left of it.',
    'left  of it',
    'leftt of it',
    '35 76',
    '35 77',
    '',
    ' ',
    'left of it',
  ];
  const groups = groupAnswers(texts, (t) => t);
  test('equal answers stand together, the most first, nothing written last', () => {
    expect(groups.map((g) => g.answers.length)).toEqual([4, 1, 1, 1, 2]);
    expect(groups.at(-1)).toMatchObject({ normal: '', answers: ['', ' '] });
  });
  test('a similar one stands behind the group it is similar to; numbers that differ are never similar', () => {
    expect(groups[1]).toMatchObject({ shown: 'leftt of it', near: 'left of it' });
    expect(groups.filter((g) => g.normal.startsWith('35')).every((g) => g.near === null)).toBe(true);
  });
  test('none is lost', () => {
    expect(groups.flatMap((g) => g.answers).length).toBe(texts.length);
    expect(groupAnswers([], String)).toEqual([]);
  });
});

describe('a key', () => {
  const km: AnswerKey = { of: 'number', value: '2,9', tolerance: '0.1', unit: 'km' };
  test.each([
    ['2.9', 'right', 300],
    ['3,0 km', 'right', 300],
    ['2.8km', 'right', 300],
    ['3.01', 'wrong', null],
    ['2.9 m', 'other-unit', null],
    ['about 3', 'wrong', null],
    ['', 'empty', 0],
  ])('2.9 ± 0.1 km: "%s" is %s', (answer, verdict, offers) => {
    expect(byKey(km, answer, 300)).toEqual({ verdict, offers });
  });

  test('accepted wordings, whatever their case and spaces', () => {
    const key: AnswerKey = { of: 'wordings', accepted: ['contour lines', 'contours'] };
    expect(byKey(key, ' Contour  Lines.', 200)).toEqual({ verdict: 'right', offers: 200 });
    expect(byKey(key, 'lines', 200)).toEqual({ verdict: 'wrong', offers: null });
  });

  test('of several choices each right one counts and each wrong one takes one away', () => {
    const key: AnswerKey = { of: 'choice', options: ['a', 'c'] };
    expect(byKey(key, 'a\nc', 200)).toEqual({ verdict: 'right', offers: 200 });
    expect(byKey(key, 'a', 200)).toEqual({ verdict: 'part', offers: 100 });
    expect(byKey(key, 'a\nb', 200)).toEqual({ verdict: 'wrong', offers: 0 });
    expect(byKey(key, 'a\nb\nc', 200)).toEqual({ verdict: 'part', offers: 100 });
  });

  test('fits its question, or is no key of it any more', () => {
    const choice = { kind: 'choice' as const, options: ['a', 'b'], several: true };
    expect(keyFits({ of: 'choice', options: ['a', 'c'] }, choice)).toBe(false);
    expect(keyFits({ of: 'choice', options: ['a'] }, choice)).toBe(true);
    expect(keyFits(km, choice)).toBe(false);
  });
});
