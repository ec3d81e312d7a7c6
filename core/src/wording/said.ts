import type { Message, MessagePlace } from '../contract/message.ts';

import type { MarkId } from '../ids/id.ts';
import type { Suggestion } from '../marks/mark.ts';
import { QUOTE_CONTEXT, type Quote } from '../passage/quote.ts';

/** Words chosen in a typed answer, with what stands before and after them; null where none are. */
export function quoteIn(answer: string, from: number, to: number): Quote | null {
  const said = answer.slice(from, to);
  const exact = said.trim();
  if (exact === '') return null;
  const start = from + said.indexOf(exact);
  const end = start + exact.length;
  return {
    exact,
    prefix: answer.slice(Math.max(0, start - QUOTE_CONTEXT), start),
    suffix: answer.slice(end, end + QUOTE_CONTEXT),
    start,
    end,
  };
}

/** The change of wording that a message proposes while work goes on, as a suggestion to be taken; null where it proposes none. */
export function suggestionIn(
  message: Pick<Message, 'id' | 'at'> & { readonly place: MessagePlace | null },
): Suggestion | null {
  const { place } = message;
  if (!place?.instead || !place.quote) return null;
  const base = {
    v: 2 as const,
    id: message.id as string as MarkId,
    document: place.document,
    page: place.page,
    colour: 'lake' as const,
    focus: null,
    madeAt: message.at,
  };
  const { quote, x, y } = place;
  const over = { on: 'passage' as const, bands: [[x, y, x, y] as const], quote };
  switch (place.instead.kind) {
    case 'cut':
      return { ...base, kind: 'cut', place: { ...over, bands: [...over.bands] } };
    case 'swap':
      return {
        ...base,
        kind: 'swap',
        place: { ...over, bands: [...over.bands] },
        words: place.instead.words,
      };
    case 'add':
      return {
        ...base,
        kind: 'add',
        place: { on: 'caret', side: 'after', x, top: y, bottom: y, quote },
        words: place.instead.words,
      };
  }
}
