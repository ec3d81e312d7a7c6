import type { Suggestion } from '../marks/mark.ts';
import type { Quote } from '../passage/quote.ts';

/** Where a suggestion's words stand in a text now: characters from `start` up to `end`. */
interface Span {
  readonly start: number;
  readonly end: number;
}

export type Taken =
  | { readonly ok: true; readonly text: string }
  /** Gone: its words no longer stand there. Overlaps: another one that was taken has changed the same words. */
  | { readonly ok: false; readonly reason: 'gone' | 'overlaps' };

/** A text whose spaces all count as one, and where each of its letters stands in the text as it is. */
function levelled(text: string): { readonly flat: string; readonly at: readonly number[] } {
  let flat = '';
  const at: number[] = [];
  for (let i = 0; i < text.length; i++) {
    const space = /\s/u.test(text[i]!);
    if (space && (flat === '' || flat.endsWith(' '))) continue;
    flat += space ? ' ' : text[i];
    at.push(i);
  }
  return { flat, at };
}

/** Two letters of what stands before or after must agree, where as much is there, for words that stand several times in a text. */
const commonEnd = (a: string, b: string): number => {
  let n = 0;
  while (n < a.length && n < b.length && a[a.length - 1 - n] === b[b.length - 1 - n]) n++;
  return n;
};
const commonStart = (a: string, b: string): number => {
  let n = 0;
  while (n < a.length && n < b.length && a[n] === b[n]) n++;
  return n;
};

const WORDISH = /[\p{L}\p{N}]/u;

/**
 * Where quoted words stand in a text that may have changed since: whole words whose surroundings are most alike. Null where they are no longer there. Line
 * breaks and spaces count as one: on a page they fell elsewhere.
 */
export function spanOf(text: string, quote: Pick<Quote, 'exact' | 'prefix' | 'suffix'>): Span | null {
  const { flat, at } = levelled(text);
  const exact = quote.exact.replace(/\s+/gu, ' ').trim();
  let best: number | null = null;
  let most = -1;
  for (let i = flat.indexOf(exact); exact && i >= 0; i = flat.indexOf(exact, i + 1)) {
    const within =
      (WORDISH.test(flat[i - 1] ?? ' ') && WORDISH.test(exact[0]!)) ||
      (WORDISH.test(flat[i + exact.length] ?? ' ') && WORDISH.test(exact.at(-1)!));
    if (within) continue;
    const alike =
      commonEnd(flat.slice(0, i), quote.prefix.replace(/\s+/gu, ' ')) +
      commonStart(flat.slice(i + exact.length), quote.suffix.replace(/\s+/gu, ' '));
    if (alike > most) [best, most] = [i, alike];
  }
  return best === null ? null : { start: at[best]!, end: at[best + exact.length - 1]! + 1 };
}

/** How well a text fits a quote, to tell which of several answers it stands in: letters of its surroundings that agree; −1: not there. */
export function fitOf(text: string, quote: Quote): number {
  const span = spanOf(text, quote);
  if (!span) return -1;
  return (
    commonEnd(levelled(text.slice(0, span.start)).flat, quote.prefix) +
    commonStart(levelled(text.slice(span.end)).flat, quote.suffix)
  );
}

interface Step extends Span {
  readonly words: string;
}

/** What a suggestion changes in a text: from where to where, and what comes there instead. Null: its words are gone. */
function stepOf(text: string, mark: Suggestion): Step | null {
  const span = spanOf(text, mark.place.quote);
  if (!span) return null;
  switch (mark.kind) {
    case 'swap':
      return { ...span, words: mark.words.trim() };
    case 'cut': {
      // The space beside goes along: before it, or at the beginning after it.
      const before = /\s$/u.test(text.slice(0, span.start));
      const after = /^[^\S\n]+/u.exec(text.slice(span.end))?.[0].length ?? 0;
      if (before && (after > 0 || /^(?:\n|$)/u.test(text.slice(span.end)) || !WORDISH.test(text[span.end]!)))
        return { start: span.start - 1, end: span.end, words: '' };
      return { start: span.start, end: span.end + after, words: '' };
    }
    case 'add':
      return mark.place.side === 'after'
        ? { start: span.end, end: span.end, words: ` ${mark.words.trim()}` }
        : { start: span.start, end: span.start, words: `${mark.words.trim()} ` };
  }
}

/** The text with one suggestion taken. */
export function takeSuggestion(text: string, mark: Suggestion): Taken {
  const step = stepOf(text, mark);
  return step
    ? { ok: true, text: text.slice(0, step.start) + step.words + text.slice(step.end) }
    : { ok: false, reason: 'gone' };
}

const overlap = (a: Step, b: Step): boolean =>
  a.start < b.end && b.start < a.end ? true : a.start === b.start && a.end === b.end && a.start === a.end;

/**
 * The text with all suggestions taken that can be: each found where it stands in the text as it is, the first of two that touch the same words wins, the
 * others are told by their id. What is taken does not depend on the order in which places come.
 */
export function takeAll(
  text: string,
  marks: readonly Suggestion[],
): { readonly text: string; readonly left: ReadonlyMap<string, 'gone' | 'overlaps'> } {
  const left = new Map<string, 'gone' | 'overlaps'>();
  const steps: Step[] = [];
  for (const mark of marks) {
    const step = stepOf(text, mark);
    if (!step) left.set(mark.id, 'gone');
    else if (steps.some((s) => overlap(s, step))) left.set(mark.id, 'overlaps');
    else steps.push(step);
  }
  let out = text;
  for (const { start, end, words } of steps.sort((a, b) => b.start - a.start || b.end - a.end))
    out = out.slice(0, start) + words + out.slice(end);
  return { text: out, left };
}
