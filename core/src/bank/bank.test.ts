import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeId, type PhraseId } from '../ids/id.ts';
import { fillPhrase, type Phrase, phrasesIn } from './phrase.ts';
import { PhraseIndex, slipsBetween, tokensOf } from './rank.ts';

const NOW = 1_790_000_000_000;
const DAY = 86_400_000;
let n = 1;
const phrase = (words: string, over: Partial<Phrase> = {}): Phrase => ({
  id: makeId(n++, new Uint8Array(10)) as PhraseId,
  words,
  group: '',
  focus: null,
  uses: 0,
  usedAt: null,
  ...over,
});

/** A bank a teacher of map reading would have. */
const BANK = [
  phrase('Along first, then up: you have swapped them.', { focus: 'method', uses: 52, usedAt: NOW }),
  phrase('Count the squares again: is [words] left or right of the line?', { focus: 'method', uses: 26 }),
  phrase('Six figures need tenths: divide the square in your mind.', { focus: 'accuracy', uses: 20 }),
  phrase('Say how many lines, and how far apart.', { focus: 'method', uses: 22 }),
  phrase('[name], you turned the map before you read it. That is what walkers do.', { focus: 'well put' }),
  phrase('Bearings have three figures: 045°, not 45°.', { focus: 'accuracy', uses: 12 }),
  phrase('Which way does the slope face? Look at the numbers on the lines.', { focus: 'method', uses: 8 }),
  phrase('Measure along the path, not as the crow flies.', { focus: 'method' }),
  phrase('Write the unit: 3.5 what?', { focus: 'accuracy' }),
];
const index = new PhraseIndex(BANK);
const find = (typed: string, focus: string | null = null) =>
  index.find(typed, { focus, now: NOW }, 5).map((p) => p.words);

describe('looking for a phrase', () => {
  test.each([
    ['swapped', 'Along first'],
    ['first along', 'Along first'],
    ['squares count', 'Count the squares'],
    ['sq ag', 'Count the squares'],
    ['tenths', 'Six figures'],
    ['tenht', 'Six figures'],
    ['bearngs', 'Bearings have'],
    ['slpoe', 'Which way'],
    ['crow', 'Measure along'],
    ['unit', 'Write the unit'],
    ['how far', 'Say how many'],
    ['walkers', '[name], you turned'],
  ])('“%s” brings %s first', (typed, begins) => {
    expect(find(typed)[0]).toMatch(new RegExp(`^${begins.replace(/[[\]]/g, '\\$&')}`));
  });

  test('a typed word that no word of a phrase begins with leaves it out', () => {
    expect(find('squares zebra')).toEqual([]);
    expect(find('xy')).toEqual([]);
  });

  test('among equals what is about the same, then what was used lately, then often', () => {
    const like = [
      phrase('look again here', { uses: 3 }),
      phrase('look again there', { focus: 'wording' }),
      phrase('look again today', { uses: 1, usedAt: NOW - DAY }),
    ];
    const i = new PhraseIndex(like);
    const order = (focus: string | null) =>
      i.find('look', { focus, now: NOW }, 3).map((p) => p.words.split(' ')[2]);
    expect(order('wording')).toEqual(['there', 'today', 'here']);
    expect(order(null)).toEqual(['today', 'here', 'there']);
  });

  test('before anything is typed those one would most likely want', () => {
    expect(find('')[0]).toMatch(/^Along first/);
    expect(find('', 'accuracy')[0]).toMatch(/^Six figures/);
  });

  test('what is found is of the bank, each once, fits every typed word, and the whole phrase finds itself', () => {
    const word = fc.stringMatching(/^[a-z]{1,8}$/);
    fc.assert(
      fc.property(
        fc.array(fc.array(word, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 20 }),
        fc.nat(),
        (lines, pick) => {
          const bank = lines.map((line) => phrase(line.join(' ')));
          const i = new PhraseIndex(bank);
          const one = bank[pick % bank.length]!;
          const found = i.find(one.words, { focus: null, now: NOW }, bank.length);
          expect(found).toContain(one);
          expect(new Set(found).size).toBe(found.length);
          const shuffled = one.words.split(' ').reverse().join(' ');
          expect(i.find(shuffled, { focus: null, now: NOW }, bank.length)).toEqual(found);
        },
      ),
    );
  });
});

test('slips between two words: the obvious way is the referee', () => {
  const slow = (a: string, b: string): number => {
    const d = Array.from({ length: a.length + 1 }, (_, i) =>
      Array.from({ length: b.length + 1 }, (_, j) => (i ? (j ? 0 : i) : j)),
    );
    for (let i = 1; i <= a.length; i++)
      for (let j = 1; j <= b.length; j++) {
        d[i]![j] = Math.min(
          d[i - 1]![j]! + 1,
          d[i]![j - 1]! + 1,
          d[i - 1]![j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1),
        );
        if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
          d[i]![j] = Math.min(d[i]![j]!, d[i - 2]![j - 2]! + 1);
      }
    return d[a.length]![b.length]!;
  };
  const word = fc.stringMatching(/^[abc]{0,7}$/);
  fc.assert(
    fc.property(word, word, fc.nat(3), (a, b, most) => {
      expect(slipsBetween(a, b, most)).toBe(Math.min(slow(a, b), most + 1));
    }),
    { numRuns: 2000 },
  );
});

test('accents and signs do not matter', () => {
  expect(tokensOf('Inés’s café: 45°!')).toEqual(['ines', 's', 'cafe', '45']);
});

test('blanks are filled with what is known; what is not stays to be filled by hand', () => {
  const said = '[name], is [words] left or right of [line]?';
  expect(fillPhrase(said, { name: 'Noor', words: '34 76' })).toBe(
    'Noor, is “34 76” left or right of [line]?',
  );
  expect(fillPhrase(said, { name: 'Noor', words: null })).toBe('Noor, is [words] left or right of [line]?');
});

test('a pasted list becomes phrases in groups, without the signs of a list', () => {
  expect(
    phrasesIn(
      'Reading maps:\n- Along first\n 2) Count again.\n\nPraise:\r\n• Well seen!\nLook here: and there',
      'x',
    ),
  ).toEqual([
    { words: 'Along first', group: 'Reading maps' },
    { words: 'Count again.', group: 'Reading maps' },
    { words: 'Well seen!', group: 'Praise' },
    { words: 'Look here: and there', group: 'Praise' },
  ]);
});
