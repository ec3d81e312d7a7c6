import { describe, expect, test } from 'vitest';
import type { PageText } from '../passage/text-layer.ts';
import { findRegion, printedAt } from './find-region.ts';

/** A page with one line each 20 points, from the top; each word 30 points wide. */
function page(...lines: string[]): PageText {
  const words: PageText['words'] = [];
  const out: PageText['lines'] = [];
  lines.forEach((line, row) => {
    const from = words.length;
    const top = row * 20;
    line
      .split(' ')
      .forEach((text, i) => words.push({ text, box: [50 + i * 30, top, 75 + i * 30, top + 12] }));
    out.push({
      from,
      to: words.length,
      box: [50, top, 50 + (words.length - from) * 30, top + 12],
      along: 'x',
    });
  });
  return { words, lines: out };
}

describe('a question that was drawn on one copy', () => {
  const own = page('Rivers of the north', '', '1. Name the river', 'the Lume', '2. How long is it');
  const box = [40, 38, 300, 78] as const;
  const printed = printedAt(own, [...box])!;

  test('keeps the first line that is printed in it', () => {
    expect(printed).toEqual({ printed: '1. Name the river', at: [50, 40, 170, 52] });
    expect(printedAt(own, [0, 500, 100, 600])).toBeNull();
  });

  const region = { page: 0, box: [...box] as [number, number, number, number], ...printed };

  test('is found where that line is printed on another copy, however far it moved', () => {
    const other = page('A cover', 'by somebody');
    const moved = page('Rivers', 'of', 'the', 'north', 'today', '1. Name the river!', 'Ostra', '2. How long');
    expect(findRegion(region, [other, moved], 2)).toEqual({ page: 1, box: [40, 98, 300, 138], by: 'print' });
  });

  test('of two such lines the nearer to where it was drawn', () => {
    const twice = page('1. Name the river', 'a', '1. Name the river');
    expect(findRegion(region, [twice], 1)?.box).toEqual([40, 38, 300, 78]);
  });

  test('on a photo stays where it was drawn, as long as there is such a page', () => {
    const photo: PageText = { words: [], lines: [] };
    expect(findRegion(region, [photo], 1)).toEqual({ page: 0, box: [...box], by: 'place' });
    expect(findRegion({ ...region, page: 3 }, [photo], 1)).toBeNull();
    expect(findRegion(null, [photo], 1)).toBeNull();
  });
});
