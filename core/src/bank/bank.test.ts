import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { QuestionId } from '../ids/id.ts';
import { makeId, type PhraseId } from '../ids/id.ts';
import { fillPhrase, openBlank, refillPhrase } from './blanks.ts';
import { readBank, writeBankCsv, writeBankFile } from './file.ts';
import { nearDoubles, withoutDoubles } from './near.ts';
import { groupsOf, type Phrase, phrasesIn, plainPhrase } from './phrase.ts';
import { PhraseIndex, slipsBetween, tokensOf } from './rank.ts';

const NOW = 1_790_000_000_000;
const DAY = 86_400_000;
let n = 1;
const phrase = (words: string, over: Partial<Phrase> = {}): Phrase => ({
  ...plainPhrase(makeId(n++, new Uint8Array(10)) as PhraseId, words),
  uses: 0,
  usedAt: null,
  asked: [],
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

describe('blanks', () => {
  const said = '[name], is [words] left or right of [line] in [question]?';
  test('are filled with what is known; what is not stays to be filled by hand', () => {
    expect(fillPhrase(said, { name: 'Noor', words: '34 76', question: '2 b' })).toBe(
      'Noor, is “34 76” left or right of [line] in 2 b?',
    );
    const open = fillPhrase(said, { name: 'Noor', words: null, question: null });
    expect(open).toBe('Noor, is [words] left or right of [line] in [question]?');
    expect(openBlank(open)).toEqual({ start: 9, end: 16 });
    expect(openBlank('none')).toBeNull();
  });

  test('the title of a link is none', () => {
    const link = 'See [name](https://maps.example/x)';
    expect(fillPhrase(link, { name: 'Noor', words: null, question: null })).toBe(link);
    expect(openBlank(link)).toBeNull();
  });

  test('keep what stood in them when the phrase is another', () => {
    expect(refillPhrase('Count [words] again.', 'Count [words] once more!', 'Count “34” again.')).toBe(
      'Count “34” once more!',
    );
    expect(refillPhrase('Count again.', 'Count. Again?', 'Count again. ')).toBe('Count. Again?');
    // Changed by hand, or a blank that nothing stood in.
    expect(refillPhrase('Count again.', 'Count.', 'Count it again.')).toBeNull();
    expect(refillPhrase('Count again.', '[name], count.', 'Count again.')).toBeNull();
    expect(refillPhrase('1 + 1 (a|b)*', 'x', '1 + 1 (a|b)*')).toBe('x');
  });

  test('what was filled is found again, whatever stood there', () => {
    const name = fc.stringMatching(/^[A-Za-zé$(]{1,9}$/);
    fc.assert(
      fc.property(name, (given) => {
        const comment = fillPhrase('[name], well done.', { name: given, words: null, question: null });
        expect(refillPhrase('[name], well done.', 'Well done, [name]!', comment)).toBe(
          `Well done, ${given}!`,
        );
      }),
      { seed: 3 },
    );
  });
});

test('what was used at this question comes before what was used more often elsewhere', () => {
  const question = testId<QuestionId>(5);
  const bank = [phrase('Say why.', { uses: 9 }), phrase('Say where.', { uses: 2, asked: [question] })];
  const find = (where: object) =>
    new PhraseIndex(bank).find('say', { focus: null, now: NOW, ...where }, 2)[0];
  expect(find({})?.words).toBe('Say why.');
  expect(find({ question })?.words).toBe('Say where.');
});

test('groups stand in the order they were given, then as they come', () => {
  const phrases = ['b', 'a', '', 'c', 'a'].map((group) => phrase('x', { group }));
  expect(groupsOf({ phrases, groups: ['c', 'gone', 'a'] })).toEqual(['c', 'a', 'b']);
});

describe('near doubles', () => {
  test('are found whatever their case, signs and order, the most used first', () => {
    const bank = [
      phrase('Count the squares again.'),
      phrase('Write the unit.'),
      phrase('count THE squares, again!', { uses: 4 }),
      phrase('Again, count the small squares.'),
      phrase('…'),
      phrase('!!!'),
    ];
    expect(nearDoubles(bank).map((group) => group.map((p) => p.words))).toEqual([
      ['count THE squares, again!', 'Count the squares again.', 'Again, count the small squares.'],
    ]);
  });

  test('of five thousand are found all the same', () => {
    const bank = Array.from({ length: 5000 }, (_, i) =>
      phrase(`the same words with number ${i} and ${i * 7}`),
    );
    bank.push(phrase('The same words, with number 17 and 119.'));
    expect(nearDoubles(bank).some((g) => g.some((p) => p.words.endsWith('119.')))).toBe(true);
  });

  test('that come in are left away, each once', () => {
    const { fresh, doubles } = withoutDoubles(
      [phrase('Well seen!')],
      [{ words: 'well seen' }, { words: 'New one' }, { words: 'new, one.' }],
    );
    expect([fresh, doubles]).toEqual([[{ words: 'New one' }], 2]);
  });
});

describe('a bank as a file', () => {
  const any = fc.record({
    words: fc.string({ minLength: 1, maxLength: 40 }).filter((w) => w.trim() === w),
    group: fc.constantFrom('', 'Maps', "'=odd", '+1'),
    focus: fc.constantFrom(null, 'method', '-x'),
    points: fc.constantFrom(null, 100, -50, 25, 0),
    colour: fc.constantFrom(null, 'lake' as const, 'amber' as const),
    key: fc.constantFrom(null, '3' as const),
    ink: fc.constant(null),
  });
  const written = (list: object[]) => list.map((p) => phrase('', p));

  test('is read as it was written, as a file and as a table', () => {
    const lines = fc.constantFrom('=SUM(A1)', '-5 °C?', "'so", 'two\nlines', 'a,"b";c', 'שלום', '@home');
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            any,
            any.chain((p) => lines.map((words) => ({ ...p, words }))),
          ),
          { minLength: 1, maxLength: 8 },
        ),
        (list) => {
          const file = readBank(writeBankFile(written(list)));
          expect(file).toEqual({ ok: true, phrases: list, odd: [] });
          expect(readBank(writeBankCsv(written(list)))).toEqual({ ok: true, phrases: list, odd: [] });
        },
      ),
      { seed: 12 },
    );
  });

  test('no cell of a table is counted out by a spreadsheet', () => {
    const csv = writeBankCsv([phrase('=HYPERLINK("x")', { points: -50, group: '+a' })]);
    expect(csv.split('\r\n')[1]).toBe(`"'=HYPERLINK(""x"")",'+a,,−½,,`);
  });

  test('a table of two columns without names is words and groups', () => {
    expect(readBank('Count again.,Maps\n\nWell seen!\n')).toMatchObject({
      ok: true,
      phrases: [
        { words: 'Count again.', group: 'Maps' },
        { words: 'Well seen!', group: '' },
      ],
    });
  });

  test.each([
    ['', 'empty'],
    ['{"kind":"jotmark comment bank","v":2,"phrases":[]}', 'newer'],
    ['{"kind":"something else"}', 'not-a-bank'],
    ['{"kind":', 'not-a-bank'],
    ['x\n'.repeat(5001), 'too-many'],
    ['x'.repeat(8 * 1024 * 1024 + 1), 'too-large'],
  ])('that is none is refused by its reason (%#)', (text, reason) => {
    expect(readBank(text)).toEqual({ ok: false, reason });
  });

  test('what cannot be a phrase is named by its line, the rest is read', () => {
    const text = JSON.stringify({
      kind: 'jotmark comment bank',
      v: 1,
      phrases: [{ words: 'x' }, { ...plainPhrase('' as PhraseId, 'y'), id: undefined }, null],
    });
    expect(readBank(text)).toMatchObject({
      ok: true,
      phrases: [{ words: 'y' }],
      odd: [
        { line: 1, why: 'not-a-phrase' },
        { line: 3, why: 'not-a-phrase' },
      ],
    });
    expect(readBank(`words\n${'x'.repeat(4001)}\ny`)).toMatchObject({
      phrases: [{ words: 'y' }],
      odd: [{ line: 2, why: 'too-long' }],
    });
  });
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
