import type { DocumentId, MarginMark, MarkId, Message, MessageAct } from '@jotmark/core';
import type { Heard } from './useMessages.ts';

/** What was said and done at one mark. */
export interface Talk {
  readonly messages: readonly Heard[];
  /** What was done last; null: nothing yet. */
  readonly act: MessageAct | null;
  readonly unread: number;
}

/** To be read: what was only done with a note asks for nothing. */
export const isNews = (m: Message): boolean => m.unread && (m.act === null || m.words !== '');

export const NO_TALK: Talk = { messages: [], act: null, unread: 0 };

/**
 * The conversation on a copy, by the marks it is about. What was done before `since` counts no more: a note that is said again of a later hand-in asks
 * again, whatever was done with it before.
 */
export function talksOf(messages: readonly Heard[], since = 0): ReadonlyMap<MarkId, Talk> {
  const out = new Map<MarkId, Talk>();
  for (const m of messages) {
    const mark = m.place?.mark;
    if (!mark) continue;
    const before = out.get(mark) ?? NO_TALK;
    out.set(mark, {
      messages: [...before.messages, m],
      // What still waits here was done just now, whatever this device's clock says.
      act: m.act && (m.waits || m.at >= since) ? m.act : before.act,
      unread: before.unread + (isNews(m) ? 1 : 0),
    });
  }
  return out;
}

/** Whose words a student can have changed by accepting: those typed on these documents. In a file they change them themselves. */
export type Typed = ReadonlySet<DocumentId>;

/** Done with: declined, sorted, or accepted where that made the change; and not opened again. */
export const isSettled = ({ act }: Talk, mark: MarginMark, typed: Typed): boolean =>
  act === 'declined' || act === 'sorted' || (act === 'accepted' && typed.has(mark.document));

export const ACT_WORDS: Readonly<Record<MessageAct, string>> = {
  accepted: 'accepted',
  declined: 'declined',
  sorted: 'sorted',
  reopened: 'reopened',
  reflected: 'answered the question to think about',
};
