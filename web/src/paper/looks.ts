import type { DrawFormulas } from '@jotmark/core';
import { useSyncExternalStore } from 'react';
import { addressOf } from '../api/call.ts';
import { HAND } from './measure.ts';

/** What painting waits for: the teacher's handwriting, and pictures of stamps and of what came from elsewhere. When one is there, what shows it is painted again. */
let version = 0;
const listeners = new Set<() => void>();
const came = () => {
  version++;
  for (const heard of listeners) heard();
};

const pictures = new Map<string, HTMLImageElement>();

/** A picture once it can be drawn; null until then. */
export function pictureOf(picture: string): HTMLImageElement | null {
  const known = pictures.get(picture);
  if (known) return known.complete && known.naturalWidth > 0 ? known : null;
  const image = new Image();
  pictures.set(picture, image);
  image.onload = came;
  image.src = addressOf('picture', { picture });
  return null;
}

let drawFormula: DrawFormulas = null;
let formulasAsked = false;

/** What draws the formulas of these words, once it can; null until then, and where there are none. It is loaded when a first formula is seen. */
export function formulasFor(words: string): DrawFormulas {
  if (!words.includes('$')) return null;
  if (!formulasAsked) {
    formulasAsked = true;
    import('@jotmark/core/formula').then(
      (m) => {
        drawFormula = m.drawFormula;
        came();
      },
      // Without a network they stay as they were typed; the next one asks again.
      () => {
        formulasAsked = false;
      },
    );
  }
  return drawFormula;
}

let handAsked = false;

/** Goes up whenever something came that marks are painted with. */
export function useLooks(): number {
  return useSyncExternalStore(
    (heard) => {
      listeners.add(heard);
      if (!handAsked && document.fonts) {
        handAsked = true;
        document.fonts.load(`16px ${HAND}`, 'abc').then(came, () => {});
      }
      return () => listeners.delete(heard);
    },
    () => version,
  );
}
