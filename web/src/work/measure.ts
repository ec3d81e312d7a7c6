import type { Measure } from '@jotmark/core';

let context: CanvasRenderingContext2D | null = null;

/** Width of a text in the very font that answers are written with. */
export const measureText: Measure = (text, size) => {
  context ??= document.createElement('canvas').getContext('2d');
  if (!context) return text.length * size * 0.52;
  // Measured large and scaled: small sizes are rounded by some browsers.
  context.font = '100px "Atkinson Hyperlegible Next"';
  return (context.measureText(text).width * size) / 100;
};
