import type { MarginMark } from '@jotmark/core';
import type { ComponentType, ReactNode } from 'react';

/** Widths in CSS pixels. */
export const MARGIN_WIDTH = 250;
export const LEAST_MARGIN = 170;
export const MOST_MARGIN = 420;
/** The margin folded: room for signs. */
export const MARGIN_FOLDED = 46;
export type MarginSide = 'left' | 'right';

/** How the margins of all pages look; the same for as long as nothing of it changes. */
export interface MarginLook {
  /** Narrow: all notes are signs. */
  readonly show: 'wide' | 'narrow' | 'none';
  readonly side: MarginSide;
  /** Of the wide margin. */
  readonly width: number;
  /** Which notes were folded one by one. */
  readonly folds: ReadonlySet<string>;
  /** Lets the wide margin be pulled. */
  onWidth?(to: number): void;
  /** What can be done in it; without it the margin is for reading. */
  readonly writing?: MarginWriting | null;
  /** What stands below each note. */
  readonly below?: BelowNote | null;
}

export const PLAIN_MARGIN: MarginLook = {
  show: 'wide',
  side: 'right',
  width: MARGIN_WIDTH,
  folds: new Set(),
};
export const SIGNS_ONLY: MarginLook = { ...PLAIN_MARGIN, show: 'narrow' };
export const NO_MARGIN: MarginLook = { ...PLAIN_MARGIN, show: 'none' };

/** What can be done in the margin. */
export interface MarginWriting {
  onWords(note: MarginMark, words: string): void;
  /** The note as it is from now on: other points, another reason. */
  onRemake(note: MarginMark, now: MarginMark): void;
  onRemove(note: MarginMark): void;
  onFold?(note: MarginMark): void;
  /** Further tools below a note that is in hand. */
  readonly Tools?: ComponentType<{ readonly note: MarginMark }>;
}

/** What stands below the words of each note, in the margin where it is read: what was answered to it. `onOpen` takes the note in hand. The same function for as long as nothing of it changes. */
export type BelowNote = (note: MarginMark, onOpen: () => void) => ReactNode;
