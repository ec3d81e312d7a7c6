import type { Measure } from '@jotmark/core';

let context: CanvasRenderingContext2D | null = null;

/** Measures texts letter by letter in a font. Measured large and scaled: small sizes are rounded by some browsers. */
function measureIn(font: string): Measure {
  const widths = new Map<string, number>();
  const letterWidth = (letter: string): number => {
    const known = widths.get(letter);
    if (known !== undefined) return known;
    context ??= document.createElement('canvas').getContext('2d');
    if (!context) return 0.52;
    context.font = `100px ${font}`;
    const width = context.measureText(letter).width / 100;
    // Only once the font is there: what stands in for it until then has other widths.
    if (document.fonts.check(context.font)) widths.set(letter, width);
    return width;
  };
  return (text, size) => {
    let width = 0;
    for (const letter of text) width += letterWidth(letter);
    return width * size;
  };
}

/** Width of a text in the very font that answers are written with. */
export const measureText = measureIn('"Atkinson Hyperlegible Next"');

/** The teacher's hand, as fonts are named in CSS; with what writes the letters it lacks. */
export const HAND = '"Kalam", "Atkinson Hyperlegible Next"';
/** Width of a text in the teacher's hand. */
export const measureHand = measureIn(HAND);
