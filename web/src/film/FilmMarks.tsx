import {
  clockOf,
  formatPoints,
  formatSigned,
  isWorded,
  type Mark,
  momentOf,
  type NoteMark,
  stampName,
} from '@jotmark/core';
import { Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import type { MarginWriting } from '../margin/margin-look.ts';
import { NoteWords } from '../margin/NoteWords.tsx';
import { VoiceHere } from '../voice/VoiceHere.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import { MomentSign } from './FilmLine.tsx';

interface Props {
  /** In the order of time. */
  readonly marks: readonly Mark[];
  readonly picked: ReadonlySet<string>;
  /** The cursor is in the words of the one that is picked. */
  readonly editing: boolean;
  /** Null: for reading. */
  readonly writing: (MarginWriting & { onRemove(mark: Mark): void }) | null;
  /** What stands below a note: what was answered to it. */
  below?(note: NoteMark): ReactNode;
  onPick(mark: Mark, edit: boolean): void;
  onLeave(): void;
}

/** The marks of a film as a list with their times: each jumps to its moment. */
export function FilmMarks({ marks, picked, editing, writing, below, onPick, onLeave }: Props) {
  if (marks.length === 0) return null;
  return (
    <ol className="mt-2 divide-y divide-line" aria-label="Marks on this film">
      {marks.map((mark) => {
        const inHand = picked.has(mark.id);
        const Tools = writing?.Tools;
        return (
          <li key={mark.id} className={`flex gap-2 rounded px-1 py-1.5 ${inHand ? 'bg-action-wash' : ''}`}>
            <button
              type="button"
              className="mt-0.5 h-6 shrink-0 rounded px-1 text-sm text-action tabular hover:bg-paper"
              aria-label={`Go to ${clockOf(momentOf(mark)!)}`}
              onClick={() => onPick(mark, false)}
            >
              {clockOf(momentOf(mark)!)}
            </button>
            <span className="mt-1.5 shrink-0">
              <MomentSign mark={mark} />
            </span>
            <div className="min-w-0 flex-1">
              {mark.kind === 'note' ? (
                <>
                  {inHand && editing && writing ? (
                    <NoteWords note={mark} writing={writing} onLeave={onLeave} />
                  ) : mark.voice && !inHand && mark.words.trim() === '' ? null : (
                    <Said note={mark} onOpen={writing ? () => onPick(mark, true) : null} />
                  )}
                  {mark.voice && (
                    <VoiceHere recording={mark.voice} label={`Voice note at ${clockOf(momentOf(mark)!)}`} />
                  )}
                  {inHand && Tools && (
                    <div className="mt-1 text-xs text-soft">
                      <Tools note={mark} />
                    </div>
                  )}
                  {below?.(mark)}
                </>
              ) : (
                <span className="text-soft">
                  {mark.kind === 'stamp' && stampName(mark.look)}
                  {mark.kind === 'stamp' && mark.points !== null && ` ${formatPoints(mark.points)}`}
                </span>
              )}
            </div>
            {writing && (
              <button
                type="button"
                aria-label={`Delete at ${clockOf(momentOf(mark)!)}`}
                className="mt-0.5 grid size-6 shrink-0 place-items-center rounded text-soft hover:text-caution"
                onClick={() => writing.onRemove(mark)}
              >
                <Trash2 size={14} aria-hidden="true" />
              </button>
            )}
          </li>
        );
      })}
    </ol>
  );
}

function Said({ note, onOpen }: { note: NoteMark; onOpen: (() => void) | null }) {
  const empty = isWorded(note) && note.words.trim() === '';
  const words = empty ? (
    <span className="text-soft">{note.voice ? '' : 'empty note'}</span>
  ) : (
    <WordsShow words={note.words} />
  );
  const points =
    note.points === undefined ? null : <b className="ml-2 tabular">{formatSigned(note.points)}</b>;
  if (!onOpen)
    return (
      <div>
        {words}
        {points}
      </div>
    );
  return (
    <div
      role="button"
      tabIndex={0}
      className="min-h-5 cursor-pointer break-words"
      onClick={onOpen}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget || (e.key !== 'Enter' && e.key !== ' ')) return;
        e.preventDefault();
        e.stopPropagation();
        onOpen();
      }}
    >
      {words}
      {points}
    </div>
  );
}
