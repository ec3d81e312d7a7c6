import type { MarginMark } from '@jotmark/core';
import { type ComponentType, createContext, type RefObject } from 'react';

/** What stands below words while they are written: phrases of a bank. `take` gives the words from now on. */
export interface GhostsProps {
  readonly words: string;
  /** The note whose words they are; null: words that stand at no place. */
  readonly about: MarginMark | null;
  readonly field: RefObject<HTMLTextAreaElement | null>;
  /** Below the words is what sends them: nothing may lie over it. */
  readonly above: boolean;
  take(words: string): void;
}
/** Where phrases are at hand, what shows them; elsewhere null. */
export const GhostsHere = createContext<ComponentType<GhostsProps> | null>(null);
