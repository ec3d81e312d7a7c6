import { type CopyId, MESSAGE_LIMIT, type MessageId } from '@jotmark/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useId, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { useHere } from '../frame/session.tsx';
import { newId } from '../outbox/useSheetKeeper.ts';

export const conversationQuery = (copyId: CopyId) => ({
  queryKey: ['messages', copyId],
  queryFn: () => call('messages', { params: { copyId } }),
  refetchInterval: 15_000,
});

/** How many words of the others were not read yet. */
export function useUnread(copyId: CopyId): number {
  return (useQuery(conversationQuery(copyId)).data?.messages ?? []).filter((m) => m.unread).length;
}

/** The private conversation on a copy: cover notes and replies, oldest first. What is in sight counts as read. */
export function Conversation({ copyId, withWhom }: { copyId: CopyId; withWhom: string }) {
  const { clock } = useHere();
  const client = useQueryClient();
  const { data } = useQuery(conversationQuery(copyId));
  const messages = data?.messages ?? [];
  const place = `jotmark.say.${copyId}`;
  // Words that were not sent yet wait in this browser.
  const [words, setWords] = useState(() => localStorage.getItem(place) ?? '');
  const field = useId();
  const write = (text: string) => {
    setWords(text);
    if (text) localStorage.setItem(place, text);
    else localStorage.removeItem(place);
  };
  const say = useMutation({
    mutationFn: (text: string) =>
      call('say', { params: { copyId }, body: { id: newId<MessageId>(), words: text } }),
    onSuccess: (all) => {
      write('');
      client.setQueryData(['messages', copyId], all);
    },
  });
  const newest = messages.at(-1)?.at ?? 0;
  const unread = messages.some((m) => m.unread);
  useEffect(() => {
    if (!unread || document.visibilityState !== 'visible') return;
    call('readMessages', { params: { copyId }, body: { at: newest } })
      .then(() => {
        client.invalidateQueries({ queryKey: ['unread'] });
        client.invalidateQueries({ queryKey: ['work'], exact: true });
      })
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
              {m.cover && ', with the copy'} · {clock.moment(m.at, Date.now())}
            </p>
            <p className="break-words whitespace-pre-wrap">{m.words}</p>
          </li>
        ))}
      </ol>
      <form
        className="mt-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (words.trim()) say.mutate(words.trim());
        }}
      >
        <label htmlFor={field} className="text-sm text-soft">
          Write to {withWhom}
        </label>
        <textarea
          id={field}
          className="field mt-1 min-h-16"
          value={words}
          maxLength={MESSAGE_LIMIT}
          onChange={(e) => write(e.target.value)}
        />
        {say.error && (
          <p role="alert" className="mt-1 text-sm text-caution">
            {sentenceOf(say.error)}
          </p>
        )}
        <button type="submit" className="quiet mt-2" disabled={!words.trim() || say.isPending}>
          Send
        </button>
      </form>
    </section>
  );
}
