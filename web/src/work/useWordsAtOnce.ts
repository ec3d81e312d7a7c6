import {
  type CopyId,
  type MessageId,
  type MessagePlace,
  plainWords,
  type Suggestion,
  suggestionIn,
} from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { addressOf } from '../api/call.ts';
import { tell } from '../ask/stale.ts';
import { useSaidHere } from '../conversation/SaidHere.tsx';
import { useMessages } from '../conversation/useMessages.ts';
import type { Pin } from '../fields/SheetStack.tsx';
import { toast } from '../frame/toast.ts';
import { useLive } from '../live/useLive.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';

/** A pin stays as long as the words may still be news; a change of words until it is accepted. */
const PIN_MS = 2 * 3_600_000;

/** Which change of wording a place proposes: what was done with it names the same. */
const changeOf = (place: MessagePlace | null) =>
  place?.instead ? JSON.stringify([place.document, place.page, place.quote, place.instead]) : '';

/**
 * The line to the teacher while the copy is open: being on it is being here. Words said at once are shown at once, and those about a
 * spot stay at it: open while they are news, then folded to a sign.
 */
export function useWordsAtOnce(
  copyId: CopyId,
  accept: (mark: Suggestion) => boolean,
  /** Somebody else may have written; left out: nobody else can. */
  onWork?: () => void,
) {
  const client = useQueryClient();
  const fresh = () => tell(client, 'wordSaid', { copyId });
  useLive(
    addressOf('copyLive', { copyId }),
    (hint) => {
      if (hint.kind === 'work') onWork?.();
      else if (hint.kind === 'word') fresh();
      else if (hint.kind === 'hand-in' || hint.kind === 'hand-back') tell(client, 'copyChanged', { copyId });
    },
    fresh,
  );
  const told = useRef(new Set<string>());
  const messages = useMessages(copyId);
  useEffect(() => {
    for (const m of messages ?? []) {
      if (!m.unread || told.current.has(m.id)) continue;
      told.current.add(m.id);
      toast(`${m.by}: ${plainWords(m.words) || 'suggests a change'}`, { duration: 12_000 });
    }
  }, [messages]);
  const accepting = useRef(accept);
  accepting.current = accept;
  const pins = useMemo(() => {
    const dealtWith = new Set((messages ?? []).flatMap((m) => (m.mine && m.act ? [changeOf(m.place)] : [])));
    return (messages ?? []).flatMap((m): Pin[] => {
      if (!m.place || m.place.mark || m.mine || m.act) return [];
      const pin = { id: m.id, place: m.place, words: m.words };
      const mark = suggestionIn(m);
      if (!mark) return Date.now() - m.at < PIN_MS ? [pin] : [];
      if (dealtWith.has(changeOf(m.place))) return [];
      const words = 'words' in mark ? mark.words : null;
      const onAccept = () => {
        if (!accepting.current(mark))
          return void toast('These words are no longer in your answer as they were: change them yourself.');
        outbox.say(copyId, {
          type: 'word',
          id: newId<MessageId>(),
          words: '',
          place: m.place,
          act: 'accepted',
        });
      };
      return [{ ...pin, instead: { quoted: mark.place.quote.exact, words, onAccept } }];
    });
  }, [messages, copyId]);
  const shown = useMemo(() => new Set<string>(pins.map((p) => p.id)), [pins]);
  return { pins, saidHere: useSaidHere(copyId, undefined, shown) };
}
