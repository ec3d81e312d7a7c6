import type { CopyId } from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { toast } from 'sonner';
import { addressOf } from '../api/call.ts';
import { tell } from '../ask/stale.ts';
import { conversationQuery } from '../conversation/Conversation.tsx';
import type { Pin } from '../fields/SheetStack.tsx';
import { useLive } from '../live/useLive.ts';

/** A pin stays as long as the words may still be news. */
const PIN_MS = 2 * 3_600_000;

/**
 * The line to the teacher while the copy is open: being on it is being here. Words said at once are shown at once, and those about a
 * spot stay at it.
 */
export function useWordsAtOnce(copyId: CopyId): Pin[] {
  const client = useQueryClient();
  const { data } = useQuery(conversationQuery(copyId));
  const fresh = () => tell(client, 'wordSaid', { copyId });
  useLive(
    addressOf('copyLive', { copyId }),
    (hint) => {
      if (hint.kind === 'word') fresh();
      else if (hint.kind === 'hand-in' || hint.kind === 'hand-back') tell(client, 'copyChanged', { copyId });
    },
    fresh,
  );
  const told = useRef(new Set<string>());
  const messages = data?.messages;
  useEffect(() => {
    for (const m of messages ?? []) {
      if (!m.unread || told.current.has(m.id)) continue;
      told.current.add(m.id);
      toast(`${m.by}: ${m.words}`, { duration: 12_000 });
    }
  }, [messages]);
  return useMemo(
    () =>
      (messages ?? []).flatMap((m) =>
        m.place && !m.mine && Date.now() - m.at < PIN_MS
          ? [{ id: m.id, place: m.place, words: m.words }]
          : [],
      ),
    [messages],
  );
}
