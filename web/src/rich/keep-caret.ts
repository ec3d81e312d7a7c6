import type { MouseEvent } from 'react';

/** A press on a tool does not take the caret out of the text: the next key, however quick, is a letter of it. */
export function keepCaret(e: MouseEvent): void {
  if (!(e.target as HTMLElement).closest('input, select, textarea')) e.preventDefault();
}
