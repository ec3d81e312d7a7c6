import { type AddMark, isWorded, type MarginMark, type NoteMark, type SwapMark } from '@jotmark/core';
import { ChevronsDownUp, Trash2 } from 'lucide-react';
import type { Ref } from 'react';
import { tip } from '../frame/tip.ts';
import { useGrowingField } from '../frame/useGrowingField.ts';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { describeMark, MARGIN_NAMES } from '../marks/describe.ts';
import type { MarginWriting } from './margin-look.ts';

interface Props {
  readonly note: MarginMark;
  readonly top: number;
  /** Of the page, in its margin. */
  readonly bottom: number;
  /** Unfolded among others, only its sign, or unfolded above signs. */
  readonly shape: 'card' | 'sign' | 'over';
  /** From a narrow margin the unfolded one reaches out to this side; null: it lies within. */
  readonly reaches: 'left' | 'right' | null;
  readonly active: boolean;
  readonly editing: boolean;
  readonly readOnly: boolean;
  readonly ref: Ref<HTMLElement>;
  readonly does: {
    onActivate(edit: boolean): void;
    onLeave(): void;
    onWords(words: string): void;
    onRemove(): void;
    readonly onFold: (() => void) | undefined;
    readonly Ghosts: MarginWriting['Ghosts'];
  };
}

/** One note in the margin: words to read, words to write, or only its sign. */
export function NoteCard({ note, top, bottom, shape, reaches, active, editing, readOnly, ref, does }: Props) {
  const { onActivate, onLeave, onWords, onRemove, onFold, Ghosts } = does;
  const over = shape === 'over';
  const kind = MARGIN_NAMES[note.kind];
  const about = note.focus ? `${kind}, ${note.focus}` : kind;
  const said = note.kind === 'note' ? note.words : describeMark(note);
  if (shape === 'sign')
    return (
      <button
        ref={ref as Ref<HTMLButtonElement>}
        type="button"
        data-folded="yes"
        className="absolute left-3 grid h-6 w-8 place-items-center rounded bg-raised shadow-sm"
        style={{ top }}
        aria-label={`${about}: ${said}`}
        {...tip(said)}
        onClick={() => onActivate(false)}
      >
        <FocusSignGlyph colour={note.colour} />
      </button>
    );
  return (
    <article
      ref={ref}
      aria-label={about}
      className={`absolute ${reaches === null ? 'right-2 left-3.5' : reaches === 'left' ? 'left-2 w-60' : 'right-2 w-60'} rounded-r-lg bg-raised px-2.5 py-1.5 text-[14px] leading-snug shadow-sm ${active ? 'outline-2 outline-action' : ''} ${over ? 'z-10 shadow-lg' : ''}`}
      style={{
        top: over ? Math.min(top, Math.max(0, bottom - 160)) : top,
        borderLeft: `3px solid var(--color-${note.colour})`,
      }}
    >
      <div className="flex items-start gap-2">
        <div className="min-w-0 flex-1">
          {note.kind !== 'note' && <Proposal note={note} />}
          {editing && isWorded(note) ? (
            <Words note={note} onWords={onWords} onLeave={onLeave} />
          ) : (
            <button
              type="button"
              className="block min-h-5 w-full cursor-pointer text-left break-words whitespace-pre-wrap"
              onClick={() => onActivate(!readOnly)}
            >
              {isWorded(note) ? (
                note.words || <span className="text-soft">{EMPTY[note.kind]}</span>
              ) : (
                <span className="text-soft">leave it out</span>
              )}
            </button>
          )}
        </div>
        <span className="mt-1">
          <FocusSignGlyph colour={note.colour} />
        </span>
      </div>
      {editing && isWorded(note) && Ghosts && <Ghosts note={note} take={onWords} />}
      {note.replies?.map((reply) => (
        <p
          key={`${reply.at} ${reply.said}`}
          className="mt-1 border-t border-line pt-1 text-[13px] break-words"
        >
          <span className="text-soft">{reply.by || 'answered'}:</span> {reply.said}
        </p>
      ))}
      {active && !readOnly && (
        <p className="mt-1 flex items-center gap-2 border-t border-line pt-1 text-xs text-soft">
          {note.focus ?? ''}
          {onFold && (
            <button
              type="button"
              className="ml-auto inline-flex items-center gap-1 hover:text-action"
              onPointerDown={(e) => e.preventDefault()}
              onClick={onFold}
            >
              <ChevronsDownUp size={13} aria-hidden="true" /> Fold
            </button>
          )}
          <button
            type="button"
            className={`inline-flex items-center gap-1 hover:text-caution ${onFold ? '' : 'ml-auto'}`}
            onPointerDown={(e) => e.preventDefault()}
            onClick={onRemove}
          >
            <Trash2 size={13} aria-hidden="true" /> Take away
          </button>
        </p>
      )}
    </article>
  );
}

const EMPTY = { note: 'empty note', add: 'nothing to add yet', swap: 'no other words yet' } as const;
const LABELS = { note: 'Words of the note', add: 'Words to add', swap: 'Words instead' } as const;

/** What a suggestion is about, above the words that are suggested: said by signs as proofreaders write them. */
function Proposal({ note }: { note: Exclude<MarginMark, NoteMark> }) {
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

/** The words being written; every keystroke goes on, the desk decides when it is sent. */
function Words({
  note,
  onWords,
  onLeave,
}: {
  note: NoteMark | AddMark | SwapMark;
  onWords(words: string): void;
  onLeave(): void;
}) {
  const field = useGrowingField();
  return (
    <textarea
      ref={field.ref}
      rows={1}
      aria-label={LABELS[note.kind]}
      className="block w-full resize-none bg-transparent outline-none"
      placeholder={note.kind === 'note' ? 'What do you want to say?' : 'Which words?'}
      maxLength={note.kind === 'note' ? 4000 : 1000}
      value={note.words}
      onChange={(e) => onWords(e.target.value)}
      onBlur={onLeave}
      onKeyDown={field.onKeyDown}
    />
  );
}
