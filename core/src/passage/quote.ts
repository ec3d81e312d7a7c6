import * as z from 'zod';
import { type PageText, pageString, type WordRange } from './text-layer.ts';

/** Characters kept before and after a quote, to tell two like passages apart. */
export const QUOTE_CONTEXT = 32;

/**
 * What a mark on text quotes, after the W3C Web Annotation model: TextQuoteSelector (`exact`, `prefix`, `suffix`)
 * and TextPositionSelector (`start`, `end`) in the page's string.
 */
export const Quote = z.object({
  exact: z.string().min(1).max(20_000),
  prefix: z.string().max(QUOTE_CONTEXT),
  suffix: z.string().max(QUOTE_CONTEXT),
  start: z.int().min(0),
  end: z.int().min(0),
});
export type Quote = z.infer<typeof Quote>;

export function quoteOf(text: PageText, range: WordRange): Quote {
  const whole = pageString(text);
  let start = 0;
  for (let i = 0; i < range.from; i++) start += text.words[i]!.text.length + 1;
  let end = start - 1;
  for (let i = range.from; i <= range.to; i++) end += text.words[i]!.text.length + 1;
  return {
    exact: whole.slice(start, end),
    prefix: whole.slice(Math.max(0, start - QUOTE_CONTEXT), start),
    suffix: whole.slice(end, end + QUOTE_CONTEXT),
    start,
    end,
  };
}

export type Found =
  | { readonly ok: true; readonly range: WordRange }
  | { readonly ok: false; readonly reason: 'gone' };

/**
 * Where a quote stands now: at its old position if it is still there, else at the place whose surroundings
 * are most alike, and of equals the one nearest to the old position.
 */
export function findQuote(text: PageText, quote: Quote): Found {
  const whole = pageString(text);
  if (whole.slice(quote.start, quote.end) === quote.exact) return rangeOf(text, quote.start, quote.end);
  let best = -1;
  let bestScore = -1;
  for (let at = whole.indexOf(quote.exact); at >= 0; at = whole.indexOf(quote.exact, at + 1)) {
    const alike =
      commonEnd(whole.slice(Math.max(0, at - QUOTE_CONTEXT), at), quote.prefix) +
      commonStart(whole.slice(at + quote.exact.length), quote.suffix);
    const near = 1 / (1 + Math.abs(at - quote.start));
    if (alike + near > bestScore) {
      bestScore = alike + near;
      best = at;
    }
  }
  return best < 0 ? { ok: false, reason: 'gone' } : rangeOf(text, best, best + quote.exact.length);
}

function rangeOf(text: PageText, start: number, end: number): Found {
  let at = 0;
  let from = -1;
  let to = -1;
  text.words.forEach((w, i) => {
    if (at < end && at + w.text.length > start) {
      if (from < 0) from = i;
      to = i;
    }
    at += w.text.length + 1;
  });
  return from < 0 ? { ok: false, reason: 'gone' } : { ok: true, range: { from, to } };
}

function commonStart(a: string, b: string): number {
  let n = 0;
  while (n < a.length && n < b.length && a[n] === b[n]) n++;
  return n;
}

function commonEnd(a: string, b: string): number {
  let n = 0;
  while (n < a.length && n < b.length && a[a.length - 1 - n] === b[b.length - 1 - n]) n++;
  return n;
}
