import { type LongText, plainText, type Quote, quoteIn } from '@jotmark/core';

/** The words that were chosen in a text that grows, as a quote of it; null: none were. Of words that stand there several times those are meant that are nearest. */
export function chosenIn(shown: HTMLElement | null, texts: readonly LongText[]): Quote | null {
  const selection = getSelection();
  if (!shown || !selection?.rangeCount || selection.isCollapsed) return null;
  const range = selection.getRangeAt(0);
  if (!shown.contains(range.commonAncestorContainer)) return null;
  const words = selection.toString().trim();
  if (words === '') return null;
  const before = document.createRange();
  before.setStart(shown, 0);
  before.setEnd(range.startContainer, range.startOffset);
  const near = before.toString().length;
  for (const text of texts) {
    const plain = plainText(text);
    let best = -1;
    for (let at = plain.indexOf(words); at >= 0; at = plain.indexOf(words, at + 1))
      if (best < 0 || Math.abs(at - near) < Math.abs(best - near)) best = at;
    if (best >= 0) return quoteIn(plain, best, best + words.length);
  }
  return null;
}
