import {
  type CopyId,
  leadPoint,
  type MarginMark,
  MESSAGE_LIMIT,
  type MessageAct,
  type MessageId,
  type MessagePlace,
} from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { tell } from '../ask/stale.ts';
import { useHere } from '../frame/session.tsx';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { WordsField } from '../words/WordsField.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { ACT_WORDS, type Talk } from './talk.ts';

/** Where words about a mark point. */
export function placeOfMark(mark: MarginMark): MessagePlace {
  const [x, y] = leadPoint(mark);
  return { document: mark.document, page: mark.page, x: Math.round(x), y: Math.round(y), mark: mark.id };
}

/** Says or does something at a mark: kept on this device at once, sent as soon as there is a network. */
export const sayAt = (copyId: CopyId, mark: MarginMark, words: string, act: MessageAct | null) =>
  outbox.say(copyId, {
    type: 'word',
    id: newId<MessageId>(),
    words,
    place: placeOfMark(mark),
    ...(act && { act }),
  });

interface Props {
  readonly copyId: CopyId;
  readonly note: MarginMark;
  readonly talk: Talk;
  /** The note is in hand: all of it is shown, and something can be said. */
  readonly open: boolean;
  /** Nothing is left to do here. */
  readonly settled: boolean;
  onOpen(): void;
  /** What can be done beside answering. */
  readonly acts?: ReactNode;
}

/** Below a note: what was answered and done, oldest first, and a field to answer. What is sorted folds to one line. */
export function TalkAt({ copyId, note, talk, open, settled, onOpen, acts }: Props) {
  const { clock } = useHere();
  const client = useQueryClient();
  const newest = talk.messages.at(-1)?.at ?? 0;
  useEffect(() => {
    if (!open || talk.unread === 0 || document.visibilityState !== 'visible') return;
    call('readMessages', { params: { copyId }, body: { at: newest } })
      .then(() => {
        tell(client, 'wordsRead', {});
        tell(client, 'wordSaid', { copyId });
      })
      .catch(() => {});
  }, [client, copyId, open, newest, talk.unread]);
  if (!open)
    return talk.messages.length === 0 ? null : (
      <button
        type="button"
        className="mt-1 block w-full border-t border-line pt-1 text-left text-[12px] text-soft"
        onClick={onOpen}
      >
        {settled
          ? `✓ ${ACT_WORDS[talk.act!]}`
          : talk.act === 'accepted'
            ? 'accepted, to change in the file'
            : `${talk.messages.length} ${talk.messages.length === 1 ? 'answer' : 'answers'}`}
        {talk.unread > 0 && <b className="text-action"> · {talk.unread} new</b>}
      </button>
    );
  return (
    <div className="mt-1 border-t border-line pt-1 text-[13px]">
      <ol className="space-y-1">
        {talk.messages.map((m) => (
          <li key={m.id} className={m.mine ? 'pl-3' : ''}>
            <p className="text-[11px] text-soft">
              {m.mine ? 'You' : m.by}
              {m.act && ` ${ACT_WORDS[m.act]}`} · {clock.moment(m.at, Date.now())}
              {m.mine && (m.seen ? ' · read' : ' · not read yet')}
            </p>
            {m.words && (
              <div className="break-words">
                <WordsShow words={m.words} />
              </div>
            )}
          </li>
        ))}
      </ol>
      <Answer onSay={(words) => sayAt(copyId, note, words, null)} acts={acts} />
    </div>
  );
}

function Answer({ onSay, acts }: { onSay(words: string): void; acts: ReactNode }) {
  const field = useRef<HTMLTextAreaElement | null>(null);
  const [words, setWords] = useState('');
  const send = () => {
    if (!words.trim()) return;
    onSay(words.trim());
    setWords('');
  };
  return (
    <div className="mt-1">
      <WordsField
        field={field}
        label="Answer"
        className="field !min-h-8 w-full !px-2 !py-1 text-[13px]"
        placeholder="Answer …"
        most={MESSAGE_LIMIT}
        value={words}
        onValue={setWords}
        onSend={send}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape') e.currentTarget.blur();
        }}
      />
      <div className="mt-1 flex flex-wrap gap-1.5">
        {words.trim() && (
          <button type="button" className="quiet !min-h-7 !px-2 !py-0.5 text-[13px]" onClick={send}>
            Send
          </button>
        )}
        {acts}
      </div>
    </div>
  );
}
