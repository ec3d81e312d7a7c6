import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { DocumentId } from '../ids/id.ts';
import { fileLink, filesIn, plainWords, readWords, type WordsPart } from './words.ts';

const line = (text: string) => {
  const [only] = readWords(text);
  return only?.as === 'line' ? only.parts : null;
};
const said = (parts: readonly WordsPart[] | null): unknown =>
  parts?.map((p) => ('parts' in p ? { [p.as]: said(p.parts) } : p.as === 'text' ? p.text : p));

describe('words with a light form', () => {
  test('bold and italic, one in the other', () => {
    expect(said(line('Count **all *four* corners** again'))).toEqual([
      'Count ',
      { bold: ['all ', { italic: ['four'] }, ' corners'] },
      ' again',
    ]);
  });

  test.each([
    ['3*4*5 is 60'],
    ['3 * 4 * 5'],
    ['a ** b ** c'],
    ['**not closed'],
    ['____ and __so__'],
    ['from $5 to $7'],
    ['$ 5$'],
    ['[title](javascript:alert(1))'],
    ['[title](data:text/html,x)'],
    ['[title](document:../../etc)'],
    ['xhttps://example.org'],
    ['2. floor'],
  ])('%s stays as it was typed', (text) => {
    expect(line(text)).toEqual([{ as: 'text', text }]);
    expect(plainWords(text)).toBe(text);
  });

  test('links with a title, bare ones, and the dot that ends a sentence', () => {
    expect(line('See [grid help](https://maps.example/a_(b)?q=1).')).toEqual([
      { as: 'text', text: 'See ' },
      { as: 'link', title: 'grid help', href: 'https://maps.example/a_(b)?q=1' },
      { as: 'text', text: '.' },
    ]);
    expect(line('at https://maps.example/x.')?.[1]).toEqual({
      as: 'link',
      title: 'https://maps.example/x',
      href: 'https://maps.example/x',
    });
  });

  test('formulas between dollar signs', () => {
    expect(line('so $\\frac{1}{2}$ km')?.[1]).toEqual({ as: 'formula', tex: '\\frac{1}{2}' });
  });

  test('a dash typed behind the dash that came by itself is one dash', () => {
    expect(readWords('- - north\n- 5 - 3')).toEqual([
      {
        as: 'list',
        numbered: false,
        items: [[{ as: 'text', text: 'north' }], [{ as: 'text', text: '5 - 3' }]],
      },
    ]);
  });

  test('lines that begin with a dash are a list, numbers that begin with 1 another', () => {
    expect(readWords('First:\n- one\n- **two**\n1. a\n2) b\nend').map((b) => b.as)).toEqual([
      'line',
      'list',
      'list',
      'line',
    ]);
    expect(plainWords('- one\n- **two**')).toBe('– one\n– two');
  });

  test('files are found, each once', () => {
    const id = testId<DocumentId>(7);
    const link = fileLink('Help [sheet] (1)', id);
    expect(link).toBe(`[Help  sheet   1](document:${id})`);
    expect(filesIn([`Look: ${link}`, `- **${link}**`, 'none'])).toEqual([id]);
    expect(plainWords(link)).toBe('Help  sheet   1');
  });

  test('any words are read, and no letter of them gets lost', () => {
    const letter = fc.constantFrom(...'ab *[]()$-1.\n\\h'.split(''), '**', 'https://x.y', '👩🏽‍🏫', 'ש');
    const wordsIn = (parts: readonly WordsPart[]): string =>
      parts
        .map((p) =>
          'parts' in p ? wordsIn(p.parts) : p.as === 'text' ? p.text : p.as === 'formula' ? p.tex : p.title,
        )
        .join('');
    const keeps = (text: string) => text.replace(/[*[\]()$\-\s.•\d]/g, '').replace(/https:\/\/x.?y/g, '');
    fc.assert(
      fc.property(fc.array(letter, { maxLength: 40 }), (letters) => {
        const text = letters.join('');
        const read = readWords(text).map((b) =>
          b.as === 'line' ? wordsIn(b.parts) : b.items.map(wordsIn).join(''),
        );
        expect(keeps(read.join('')).length).toBeGreaterThanOrEqual(0);
        if (!text.includes('](')) expect(keeps(read.join(''))).toBe(keeps(text));
      }),
      { seed: 20261127 },
    );
  });
});
