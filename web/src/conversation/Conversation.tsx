import { type ConversationShape, type CopyId, MESSAGE_LIMIT, type MessageId } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { keys } from '../ask/keys.ts';
import { tell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { toast } from '../frame/toast.ts';
import { placeOfWords, useKeptText } from '../outbox/kept-text.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { WordsField } from '../words/WordsField.tsx';
import { Byline } from './Byline.tsx';
import { MessageWords, ToMoment } from './SaidHere.tsx';
import { isNews } from './talk.ts';
import { type Heard, useMessages } from './useMessages.ts';

/** How many words of the others were not read yet; and how many of those are about no note, at which they would be read. */
export function useUnread(copyId: CopyId): { readonly all: number; readonly besides: number } {
  const unread = (useMessages(copyId) ?? []).filter(isNews);
  return { all: unread.length, besides: unread.filter((m) => !m.place?.mark).length };
}

/** The private conversation on a copy: cover notes and replies, oldest first. What is in sight counts as read. */
export function Conversation({ copyId, withWhom }: { copyId: CopyId; withWhom: string }) {
  const { session } = useHere();
  const client = useQueryClient();
  const messages = useMessages(copyId) ?? [];
  const [words, write] = useKeptText(placeOfWords(session.person!.id, copyId));
  const field = useRef<HTMLTextAreaElement | null>(null);
  const say = (text: string) => {
    outbox.say(copyId, { type: 'word', id: newId<MessageId>(), words: text, place: null });
    write('');
  };
  const newest = messages.findLast((m) => !m.waits)?.at ?? 0;
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
          <li key={m.id} className={`rounded-lg px-3 py-2 ${bubble(m)}`}>
            <p className="text-xs text-soft">
              <Byline message={m} copyId={copyId} what={m.place?.instead ? 'a suggestion' : 'a note'} />
            </p>
            <OwnWords message={m} copyId={copyId} />
            <ToMoment message={m} copyId={copyId} />
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

/** What was said; one's own can be changed or withdrawn. */
function OwnWords({ message: m, copyId }: { message: Heard; copyId: CopyId }) {
  const client = useQueryClient();
  const [words, setWords] = useState<string | null>(null);
  const keep = async (work: Promise<ConversationShape>) => {
    try {
      client.setQueryData(keys.messages(copyId), await work);
      setWords(null);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  };
  const of = { params: { copyId, messageId: m.id } };
  if (!m.mine || m.waits || m.withdrawn || m.words === '') return <MessageWords message={m} />;
  if (words !== null)
    return (
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (words.trim()) keep(call('editMessage', { ...of, body: { words: words.trim() } }));
        }}
      >
        <textarea
          // biome-ignore lint/a11y/noAutofocus: the field opens where the button was pressed
          autoFocus
          className="field mt-1 min-h-16"
          aria-label="Change the message"
          maxLength={MESSAGE_LIMIT}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        <div className="mt-1 flex gap-2">
          <button type="submit" className="quiet !min-h-7 !px-2 !py-0.5 text-[13px]" disabled={!words.trim()}>
            Save
          </button>
          <button
            type="button"
            className="quiet !min-h-7 !px-2 !py-0.5 text-[13px]"
            onClick={() => setWords(null)}
          >
            Cancel
          </button>
        </div>
      </form>
    );
  return (
    <>
      <MessageWords message={m} />
      <p className="mt-1 flex gap-3 text-xs">
        <button type="button" className="text-action underline" onClick={() => setWords(m.words)}>
          Edit
        </button>
        <button
          type="button"
          className="text-action underline"
          onClick={() => keep(call('withdrawMessage', of))}
        >
          Withdraw
        </button>
      </p>
    </>
  );
}

const bubble = ({ mine, waits }: Heard) =>
  waits ? 'ml-6 border border-dashed border-line-strong' : mine ? 'ml-6 bg-action-wash' : 'mr-6 bg-margin';
