import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { EMPTY_RICH, picturesIn, plainOf, RichText, richFromPlain, SafeAddress } from './rich-text.ts';

const paragraph = (text: string, marks?: unknown[]) => ({
  type: 'paragraph',
  content: [{ type: 'text', text, ...(marks ? { marks } : {}) }],
});
const doc = (...content: unknown[]) => ({ type: 'doc', content });
const ID = '01a21263-aab7-77a6-ad1f-cbff6ce69fca';

describe('instructions', () => {
  test('with headings, lists, links and pictures pass', () => {
    const good = doc(
      { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'First' }] },
      paragraph('see the map', [{ type: 'link', attrs: { href: 'https://island.example/map' } }]),
      { type: 'bulletList', content: [{ type: 'listItem', content: [paragraph('a ruler')] }] },
      { type: 'image', attrs: { src: `document:${ID}`, alt: 'the map' } },
    );
    const read = RichText.parse(good);
    expect(plainOf(read)).toBe('First\nsee the map\na ruler');
    expect(picturesIn(read)).toEqual([ID]);
  });

  test.each([
    ['a script address', doc(paragraph('x', [{ type: 'link', attrs: { href: 'javascript:alert(1)' } }]))],
    [
      'a picture of another server',
      doc({ type: 'image', attrs: { src: 'https://elsewhere.example/x.png', alt: null } }),
    ],
    ['a picture as data', doc({ type: 'image', attrs: { src: 'data:image/svg+xml,<svg/>', alt: null } })],
    ['a kind nobody knows', doc({ type: 'script', content: [] })],
    ['lists nested without end', doc(nest(12))],
    ['a heading that is the page’s own', doc({ type: 'heading', attrs: { level: 1 } })],
  ])('with %s are refused', (_, bad) => {
    expect(RichText.safeParse(bad).success).toBe(false);
  });

  test('what nobody asked for is dropped at the door', () => {
    const read = RichText.parse(doc({ ...paragraph('x'), onclick: 'x', style: 'x' }));
    expect(JSON.stringify(read)).not.toMatch(/onclick|style/);
  });

  test('plain words come back as they were, a paragraph a line', () => {
    expect(plainOf(richFromPlain('Take a ruler.\n\nMeasure.'))).toBe('Take a ruler.\nMeasure.');
    expect(richFromPlain('')).toEqual(EMPTY_RICH);
    fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[^\n\r\s][^\n\r]*$/), { maxLength: 8 }), (lines) => {
        const rich = richFromPlain(lines.join('\n'));
        expect(RichText.safeParse(rich).success).toBe(true);
        expect(plainOf(rich)).toBe(lines.join('\n').trim());
      }),
      { seed: 31, numRuns: 100 },
    );
  });

  test('addresses are the web’s or mail’s', () => {
    expect(
      ['https://a.example', 'HTTP://a.example/x y', 'mailto:a@b.example'].map(
        (a) => SafeAddress.safeParse(a).success,
      ),
    ).toEqual([true, true, true]);
    expect(
      ['ftp://a', 'javascript:x', ' data:x', 'a.example'].map((a) => SafeAddress.safeParse(a).success),
    ).toEqual([false, false, false, false]);
  });
});

function nest(depth: number): unknown {
  return depth === 0
    ? paragraph('deep')
    : { type: 'bulletList', content: [{ type: 'listItem', content: [nest(depth - 1)] }] };
}
