import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { testId } from '../changes/arbitrary.ts';
import type { DocumentId } from '../ids/id.ts';
import { layBlock, layPages } from './lay-text.ts';
import { LINED, LINED_ROOM, pictureSize } from './lined-page.ts';
import {
  countWords,
  isEmptyText,
  type LongBlock,
  LongText,
  picturesOf,
  plainText,
  textOfPlain,
} from './long-text.ts';

const setting = { measure: (text: string, size: number) => [...text].length * size * 0.5, formulas: null };
/** So many letters fit in a line. */
const FIT = Math.floor(LINED_ROOM / 6);
const said = (...texts: string[]): LongBlock => ({
  type: 'paragraph',
  content: texts.map((text) => ({ text })),
});
const wordsIn = (lines: readonly ReturnType<typeof layBlock>[number][]) =>
  lines.map((l) =>
    l.rows.map((r) => r.pieces.map((p) => (p.as === 'text' ? p.text : '')).join('')).join('|'),
  );
const picture = (wide: number, high: number): LongBlock => ({
  type: 'picture',
  document: testId<DocumentId>(7),
  alt: 'The hut',
  wide,
  high,
});

describe('a text as a value', () => {
  test('its plain words: a line a paragraph, cells with tabs between, items in their order; pictures are none', () => {
    const text: LongText = {
      type: 'doc',
      content: [
        { type: 'heading', level: 2, content: [{ text: 'The tarn' }] },
        said('It is ', 'deep.'),
        { type: 'list', numbered: true, items: [[said('one')], [said('two'), said('and more')]] },
        {
          type: 'table',
          rows: [
            [
              { head: true, content: [said('Day')] },
              { head: false, content: [said('cold'), said('wet')] },
            ],
          ],
        },
        picture(10, 10),
      ],
    };
    expect(LongText.parse(JSON.parse(JSON.stringify(text)))).toEqual(text);
    expect(plainText(text)).toBe('The tarn\nIt is deep.\none\ntwo\nand more\nDay\tcold wet');
    expect(picturesOf(text)).toHaveLength(1);
    expect([isEmptyText(text), isEmptyText(textOfPlain('\n '))]).toEqual([false, true]);
  });

  test('plain words and back are the same, whatever they are', () => {
    fc.assert(fc.property(fc.string(), (words) => plainText(textOfPlain(words)) === words));
  });

  test.each([
    ['', 0],
    ['One, two; three.', 3],
    ['don’t stop – twenty-two 3.5 km', 5],
    ['Żółta łódź płynie', 3],
    ['我喜歡山', 4],
    ['שלום עולם and so', 4],
  ])('%j has %i words', (words, count) => {
    expect(countWords(words)).toBe(count);
  });

  test('addresses that lead astray, sides without end and unknown blocks are refused', () => {
    const bad = (block: unknown) => LongText.safeParse({ type: 'doc', content: [block] }).success;
    expect(bad({ type: 'paragraph', content: [{ text: 'x', href: 'javascript:alert(1)' }] })).toBe(false);
    expect(bad({ ...picture(10, 10), wide: 1e9 })).toBe(false);
    expect(bad({ type: 'script', content: [] })).toBe(false);
  });
});

describe('a text on lined pages', () => {
  test('long lines break at spaces; a word that is longer than a line breaks within', () => {
    const words = `${'a'.repeat(FIT - 1)} bb`;
    expect(wordsIn(layBlock(said(words), setting))).toEqual(['a'.repeat(FIT - 1), 'bb']);
    expect(wordsIn(layBlock(said('x'.repeat(FIT + 3)), setting))).toEqual(['x'.repeat(FIT), 'xxx']);
    expect(layBlock(said(), setting)).toHaveLength(1);
  });

  test('a list stands in with its signs; the cells of a row stand beside each other as high as the highest', () => {
    const list: LongBlock = {
      type: 'list',
      numbered: true,
      items: [[said('one')], [said('two'), said('more')]],
    };
    expect(wordsIn(layBlock(list, setting))).toEqual(['1.|one', '2.|two', 'more']);
    const table: LongBlock = {
      type: 'table',
      rows: [
        [
          { head: true, content: [said('Day')] },
          { head: false, content: [said('cold'), said('wet')] },
        ],
      ],
    };
    const lines = layBlock(table, setting);
    expect(wordsIn(lines)).toEqual(['Day|cold', 'wet']);
    expect(lines[0]!.upright).toEqual([0, LINED_ROOM / 2, LINED_ROOM]);
    expect([lines[0]!.above !== null, lines[0]!.below, lines[1]!.below !== null]).toEqual([true, null, true]);
  });

  test('a heading has space above, but not at the top of a page, and never stands alone at its foot', () => {
    const heading: LongBlock = { type: 'heading', level: 2, content: [{ text: 'Next' }] };
    const lines = (n: number) => Array.from({ length: n }, () => layBlock(said('x'), setting));
    const pages = layPages([...lines(LINED.lines - 2), layBlock(heading, setting), ...lines(1)]);
    expect(pages.map((p) => p.lines.length)).toEqual([LINED.lines - 2, 2]);
    expect(pages[1]!.starts).toEqual({ block: LINED.lines - 2, line: 0 });
    expect(layPages([layBlock(heading, setting)])[0]!.lines).toHaveLength(1);
  });

  test('a picture is no wider than the lines and no higher than a page, and stands in one piece', () => {
    expect(pictureSize(100, 44)).toEqual({ width: 75, height: 33, lines: 2 });
    expect(pictureSize(4000, 3000).width).toBe(LINED_ROOM);
    const { height } = pictureSize(100, 20_000);
    expect(height).toBeLessThanOrEqual(LINED.lines * LINED.leading);
    const lines = Array.from({ length: 20 }, () => layBlock(said('x'), setting));
    const pages = layPages([...lines, layBlock(picture(4000, 3000), setting)]);
    expect(pages).toHaveLength(2);
    expect(pages[0]!.lines.every((l) => l.picture === null)).toBe(true);
  });

  test('for any text: every letter stands on a page, none twice; no page has more lines than it has; a page begins where the one before ends', () => {
    const block: fc.Arbitrary<LongBlock> = fc.oneof(
      fc
        .array(fc.constantFrom('word', ' ', 'longer', '\n', 'x'.repeat(120)), { maxLength: 60 })
        .map((bits) => said(bits.join(''))),
      fc.constant<LongBlock>({ type: 'heading', level: 2, content: [{ text: 'Heading' }] }),
      fc
        .tuple(fc.integer({ min: 1, max: 3000 }), fc.integer({ min: 1, max: 3000 }))
        .map(([w, h]) => picture(w, h)),
      fc.array(fc.constantFrom('a', 'bb cc'), { minLength: 1, maxLength: 4 }).map(
        (cells): LongBlock => ({
          type: 'table',
          rows: [
            cells.map((c) => ({ head: false, content: [said(c)] })),
            [{ head: true, content: [said('h')] }],
          ],
        }),
      ),
    );
    fc.assert(
      fc.property(fc.array(block, { maxLength: 40 }), (content) => {
        const blocks = content.map((b) => layBlock(b, setting));
        const pages = layPages(blocks);
        expect(pages.every((p) => p.lines.length <= LINED.lines)).toBe(true);
        const shown = pages.flatMap((p) => p.lines);
        const letters = (t: string) => t.replace(/[\s|]/g, '').length;
        expect(letters(wordsIn(shown).join(''))).toBe(letters(plainText({ content })));
        expect(shown.filter((l) => !l.gap)).toEqual(blocks.flat().filter((l) => !l.gap));
        expect(shown.filter((l) => l.picture)).toHaveLength(
          content.filter((b) => b.type === 'picture').length,
        );
      }),
    );
  });
});
