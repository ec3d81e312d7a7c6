import { type ConversationShape, type CopyId, type Message, timeOfId } from '@jotmark/core';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { type WordLetter, wordsLane } from '../outbox/letter.ts';
import { outbox } from '../outbox/outbox.ts';
import { useOutbox } from '../outbox/useSheetKeeper.ts';

export const conversationQuery = (copyId: CopyId) => ({
  queryKey: keys.messages(copyId),
  queryFn: () => call('messages', { params: { copyId } }),
  refetchInterval: 15_000,
});

/** A message as this device knows it. */
export interface Heard extends Message {
  /** It is one's own and not sent yet. */
  readonly waits?: boolean;
}

/** What was said on a copy, oldest first, with what waits on this device to be sent behind it; undefined while nothing is known. The same list for as long as nothing of it changes. */
export function useMessages(copyId: CopyId): readonly Heard[] | undefined {
  const said = useQuery(conversationQuery(copyId)).data?.messages;
  useOutbox();
  const waiting = outbox.waitingIn(wordsLane(copyId));
  return useMemo(() => withWaitingWords(said, waiting as readonly WordLetter[]), [said, waiting]);
}

export function withWaitingWords(
  said: ConversationShape['messages'] | undefined,
  waiting: readonly WordLetter[],
): readonly Heard[] | undefined {
  const there = new Set(said?.map((m) => m.id));
  const own = waiting.flatMap((l): Heard[] =>
    l.type !== 'word' || there.has(l.id)
      ? []
      : [
          {
            id: l.id,
            by: '',
            mine: true,
            at: timeOfId(l.id),
            words: l.words,
            cover: false,
            place: l.place,
            act: l.act ?? null,
            unread: false,
            seenAt: null,
            edited: false,
            withdrawn: false,
            waits: true,
          },
        ],
  );
  return own.length ? [...(said ?? []), ...own] : said;
}
