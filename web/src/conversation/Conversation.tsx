import { type CopyId, MESSAGE_LIMIT, type MessageId } from '@jotmark/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { call } from '../api/call.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { placeOfWords, useKeptText } from '../outbox/kept-text.ts';
import { type WordLetter, wordsLane } from '../outbox/letter.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { useOutbox } from '../outbox/useSheetKeeper.ts';
import { WordsField } from '../words/WordsField.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { MessageWords, ToMoment } from './SaidHere.tsx';
import { ACT_WORDS } from './talk.ts';

export const conversationQuery = (copyId: CopyId) => ({
  queryKey: keys.messages(copyId),
  queryFn: () => call('messages', { params: { copyId } }),
  refetchInterval: 15_000,
});

/** How many words of the others were not read yet; and how many of those are about no note, at which they would be read. */
export function useUnread(copyId: CopyId): { readonly all: number; readonly besides: number } {
  const unread = (useQuery(conversationQuery(copyId)).data?.messages ?? []).filter((m) => m.unread);
  return { all: unread.length, besides: unread.filter((m) => !m.place?.mark).length };
}

/** How words stand that were not sent yet. */
const WAITS = {
  saved: 'is sent …',
  saving: 'is sent …',
  kept: 'kept on this device, sent when there is a network',
  loose: 'not sent yet: leave this page open',
} as const;

/** The private conversation on a copy: cover notes and replies, oldest first. What is in sight counts as read. */
export function Conversation({ copyId, withWhom }: { copyId: CopyId; withWhom: string }) {
  const { clock, session } = useHere();
  const client = useQueryClient();
  const { data } = useQuery(conversationQuery(copyId));
  const messages = data?.messages ?? [];
  const personId = session.person!.id;
  const [words, write] = useKeptText(placeOfWords(personId, copyId));
  const field = useRef<HTMLTextAreaElement | null>(null);
  useOutbox();
  const waiting = outbox
    .waitingIn(wordsLane(copyId))
    .filter((l) => l.type === 'word' && !messages.some((m) => m.id === l.id)) as WordLetter[];
  const say = (text: string) => {
    outbox.say(copyId, { type: 'word', id: newId<MessageId>(), words: text, place: null });
    write('');
  };
  const newest = messages.at(-1)?.at ?? 0;
  const unread = messages.some((m) => m.unread);
  useEffect(() => {
    if (!unread || document.visibilityState !== 'visible') return;
    call('readMessages', { params: { copyId }, body: { at: newest } })
      .then(() => tell(client, 'wordsRead', {}))
      .catch(() => {});
  }, [client, copyId, newest, unread]);
  return (
    <section aria-label="Conversation" className="text-[15px]">
      <ol className="space-y-2">
        {messages.map((m) => (
          <li
            key={m.id}
            className={`rounded-lg px-3 py-2 ${m.mine ? 'ml-6 bg-action-wash' : 'mr-6 bg-margin'}`}
          >
            <p className="text-xs text-soft">
              {m.mine ? 'You' : m.by}
              {m.cover && ', with the copy'}
              {m.act && ` ${ACT_WORDS[m.act]} ${m.place?.instead ? 'a change of words' : 'a note'}`} ·{' '}
              {clock.moment(m.at, Date.now())}
              {m.mine && (m.seen ? ' · read' : ' · not read yet')}
            </p>
            <MessageWords message={m} />
            <ToMoment message={m} copyId={copyId} />
          </li>
        ))}
        {waiting.map((letter) => (
          <li key={letter.id} className="ml-6 rounded-lg border border-dashed border-line-strong px-3 py-2">
            <p className="text-xs text-soft" role="status">
              You · {WAITS[outbox.lane(wordsLane(copyId)).save]}
            </p>
            <div className="break-words">
              <WordsShow words={letter.words} />
            </div>
          </li>
        ))}
      </ol>
      <form
        className="mt-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (words.trim()) say(words.trim());
        }}
      >
        <p className="text-sm text-soft">Write to {withWhom}</p>
        <WordsField
          field={field}
          label={`Write to ${withWhom}`}
          className="field mt-1 min-h-16"
          most={MESSAGE_LIMIT}
          value={words}
          onValue={write}
          onSend={() => words.trim() && say(words.trim())}
        />
        <button type="submit" className="quiet mt-2" disabled={!words.trim()}>
          Send
        </button>
      </form>
    </section>
  );
}
