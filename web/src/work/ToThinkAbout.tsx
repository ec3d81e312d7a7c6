import { type CopyId, type HandBackShape, MESSAGE_LIMIT, type MessageId } from '@jotmark/core';
import { useRef } from 'react';
import type { Heard } from '../conversation/useMessages.ts';
import { useHere } from '../frame/session.tsx';
import { placeOfReflection, useKeptText } from '../outbox/kept-text.ts';
import { newId } from '../outbox/new-id.ts';
import { outbox } from '../outbox/outbox.ts';
import { WordsField } from '../words/WordsField.tsx';
import { WordsShow } from '../words/WordsShow.tsx';

interface Props {
  /** Null: nothing can be said here. */
  readonly copyId: CopyId | null;
  readonly handBack: HandBackShape;
  readonly said: readonly Heard[];
}

/** The teacher's question at the end of Your turn, and what its student answered. */
export function ToThinkAbout({ copyId, handBack, said }: Props) {
  const { session } = useHere();
  const field = useRef<HTMLTextAreaElement | null>(null);
  const [words, write] = useKeptText(placeOfReflection(session.person!.id, handBack.id));
  const { reflect } = handBack.snapshot;
  if (!reflect) return null;
  const answers = said.filter((m) => m.act === 'reflected' && (m.waits || m.at >= handBack.handedBackAt));
  const send = () => {
    if (!words.trim() || !copyId) return;
    outbox.say(copyId, {
      type: 'word',
      id: newId<MessageId>(),
      words: words.trim(),
      place: null,
      act: 'reflected',
    });
    write('');
  };
  return (
    <section className="mt-5 rounded-lg border border-action p-4" aria-label="A question to think about">
      <h3 className="font-bold break-words">{reflect}</h3>
      {answers.map((m) => (
        <div key={m.id} className="mt-2 border-t border-line pt-2">
          <WordsShow words={m.words} />
        </div>
      ))}
      {copyId && (
        <>
          <WordsField
            field={field}
            label={reflect}
            className="field mt-2 min-h-16"
            most={MESSAGE_LIMIT}
            value={words}
            onValue={write}
            onSend={send}
          />
          <button type="button" className="quiet mt-2" disabled={!words.trim()} onClick={send}>
            {answers.length ? 'Send again' : 'Send'}
          </button>
        </>
      )}
    </section>
  );
}
