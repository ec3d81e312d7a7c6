import type { AddMark, MarginMark, NoteMark, Suggestion, SwapMark } from '@jotmark/core';
import { useState } from 'react';
import { tip } from '../frame/tip.ts';
import { useGrowingField } from '../frame/useGrowingField.ts';
import { WordsField } from '../words/WordsField.tsx';
import type { MarginWriting } from './margin-look.ts';

const LABELS = { note: 'Words of the note', add: 'Words to add', swap: 'Words instead' } as const;

/** The words being written; every key goes on, the desk decides when it is sent. */
export function NoteWords({
  note,
  writing,
  onLeave,
}: {
  note: NoteMark | AddMark | SwapMark;
  writing: MarginWriting;
  onLeave(): void;
}) {
  const field = useGrowingField();
  const onWords = (words: string) => writing.onWords(note, words);
  if (note.kind === 'note')
    return (
      <WordsField
        field={field.ref}
        label={LABELS.note}
        className="block w-full resize-none bg-transparent outline-none"
        placeholder="What do you want to say?"
        most={4000}
        value={note.words}
        about={note}
        onValue={onWords}
        onBlur={onLeave}
        onKeyDown={field.onKeyDown}
      />
    );
  return (
    <textarea
      ref={field.ref}
      rows={1}
      aria-label={LABELS[note.kind]}
      className="block w-full resize-none bg-transparent outline-none"
      placeholder="Which words?"
      maxLength={1000}
      value={note.words}
      onChange={(e) => onWords(e.target.value)}
      onBlur={onLeave}
      onKeyDown={(e) => {
        // The words that stand there, to be written anew: only what is another becomes a suggestion.
        if (note.kind === 'swap' && e.altKey && e.code === 'KeyR') {
          e.preventDefault();
          e.stopPropagation();
          return onWords(note.place.quote.exact);
        }
        // Other words for these are one line: with Enter they are done.
        if (e.key === 'Enter' && !e.shiftKey && !e.nativeEvent.isComposing) {
          e.preventDefault();
          e.stopPropagation();
          return e.currentTarget.blur();
        }
        field.onKeyDown(e);
      }}
    />
  );
}

/** What a suggestion is about, above the words that are suggested: said by signs as proofreaders write them. */
export function Proposal({ note }: { note: Suggestion }) {
  const { exact } = note.place.quote;
  return (
    <p className="truncate text-[12px] text-soft" {...tip(exact)}>
      {note.kind === 'add' ? (
        <>
          {note.place.side} “{exact}”
        </>
      ) : (
        <s>{exact}</s>
      )}
    </p>
  );
}

/** Why something is suggested: read, and written where it can be. */
export function ReasonWords({ note, writing }: { note: MarginMark; writing: MarginWriting | null }) {
  const reason = note.kind === 'note' ? undefined : note.reason;
  const [typed, setTyped] = useState<string | null>(null);
  if (note.kind === 'note' || (!reason && !writing)) return null;
  if (!writing) return <p className="mt-0.5 text-[13px] break-words text-soft">{reason}</p>;
  const keep = () => {
    const said = (typed ?? '').trim();
    setTyped(null);
    if (typed === null || said === (reason ?? '')) return;
    const { reason: _, ...bare } = note;
    writing.onRemake(note, said ? { ...bare, reason: said } : bare);
  };
  return (
    <input
      className="mt-0.5 block w-full bg-transparent text-[13px] outline-none placeholder:text-soft"
      aria-label="Reason"
      placeholder="why (if you like)"
      maxLength={1000}
      value={typed ?? reason ?? ''}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter' || e.key === 'Escape') e.currentTarget.blur();
      }}
    />
  );
}
