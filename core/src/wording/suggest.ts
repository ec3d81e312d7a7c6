import type { MarkId } from '../ids/id.ts';
import type { AddMark, CutMark, SwapMark } from '../marks/mark.ts';
import { findQuote, quoteOf } from '../passage/quote.ts';
import { caretAfter, caretBefore } from '../passage/select.ts';
import { bandsOver, type PageText, type WordRange } from '../passage/text-layer.ts';
import { smallestEdits, wordsIn } from './edits.ts';

/** From so many words on what is written instead is a sentence written anew. */
const SENTENCE = 3;

/**
 * A whole passage written anew, as the smallest suggestions that come to the same: what stays is left alone. Null where nothing is gained: a word or two, a
 * passage that has nothing in common with what is written instead, or that is no longer on its page. The reason goes with the first.
 */
export function asSmallest(
  swap: SwapMark,
  text: PageText,
  newId: () => MarkId,
): (AddMark | CutMark | SwapMark)[] | null {
  const found = findQuote(text, swap.place.quote);
  if (!found.ok) return null;
  const { range } = found;
  const before = text.words.slice(range.from, range.to + 1).map((w) => w.text);
  const after = wordsIn(swap.words);
  if (before.length < SENTENCE || after.length === 0) return null;
  const edits = smallestEdits(before, after);
  const only = edits[0];
  const whole = edits.length === 1 && only?.edit === 'swap' && only.to - only.from + 1 === before.length;
  if (whole || edits.length === 0 || edits.length > before.length / 2) return null;
  const { kind: _, place: __, words: ___, reason, replies, ...base } = swap;
  const over = (from: number, to: number) => {
    const at: WordRange = { from: range.from + from, to: range.from + to };
    return { on: 'passage' as const, bands: bandsOver(text, at), quote: quoteOf(text, at) };
  };
  return edits.map((edit, i) => {
    const mark =
      i === 0
        ? { ...base, ...(reason && { reason }), ...(replies && { replies }) }
        : { ...base, id: newId() };
    switch (edit.edit) {
      case 'cut':
        return { ...mark, kind: 'cut', place: over(edit.from, edit.to) };
      case 'swap':
        return { ...mark, kind: 'swap', place: over(edit.from, edit.to), words: edit.words.join(' ') };
      case 'add': {
        const at = range.from + edit.after;
        const place = edit.after < 0 ? caretBefore(text, range.from) : caretAfter(text, at);
        return { ...mark, kind: 'add', place, words: edit.words.join(' ') };
      }
    }
  });
}
