import {
  type CopyId,
  leadPoint,
  type MarginMark,
  type MessageAct,
  type MessageId,
  type MessagePlace,
} from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect } from 'react';
import { call } from '../api/call.ts';
import { tell } from '../ask/stale.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { WordsShow } from '../words/WordsShow.tsx';
import { Byline } from './Byline.tsx';
import { MessageField } from './MessageField.tsx';
import { ACT_WORDS, type Talk } from './talk.ts';

/** Where words about a mark point. */
function placeOfMark(mark: MarginMark): MessagePlace {
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
  const client = useQueryClient();
  const newest = talk.messages.findLast((m) => !m.waits)?.at ?? 0;
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
              <Byline message={m} copyId={copyId} />
            </p>
            {m.words && (
              <div className="break-words">
                <WordsShow words={m.words} />
              </div>
            )}
          </li>
        ))}
      </ol>
      <MessageField
        label="Answer"
        placeholder="Answer …"
        onSay={(words) => sayAt(copyId, note, words, null)}
        acts={acts}
      />
    </div>
  );
}
