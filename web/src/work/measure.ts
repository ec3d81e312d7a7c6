import type { Measure } from '@jotmark/core';

let context: CanvasRenderingContext2D | null = null;
const widths = new Map<string, number>();

/** Width of one letter at size 1. Measured large and scaled: small sizes are rounded by some browsers. */
function letterWidth(letter: string): number {
  const known = widths.get(letter);
  if (known !== undefined) return known;
  context ??= document.createElement('canvas').getContext('2d');
  if (!context) return 0.52;
  context.font = '100px "Atkinson Hyperlegible Next"';
  const width = context.measureText(letter).width / 100;
  // Only once the font is there: what stands in for it until then has other widths.
  if (document.fonts.check(context.font)) widths.set(letter, width);
  return width;
}

/** Width of a text in the very font that answers are written with, letter by letter. */
export const measureText: Measure = (text, size) => {
  let width = 0;
  for (const letter of text) width += letterWidth(letter);
  return width * size;
};
