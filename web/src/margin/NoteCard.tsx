import {
  formatSigned,
  isClip,
  isWorded,
  type MarginMark,
  placesOf,
  plainWords,
  recordingOf,
} from '@jotmark/core';
import { ChevronsDownUp, Trash2 } from 'lucide-react';
import { type ReactNode, type Ref, use } from 'react';
import { tip } from '../frame/tip.ts';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { describeMark, MARGIN_NAMES } from '../marks/describe.ts';
import { SpokenContext } from '../voice/playing.ts';
import { VoiceHere } from '../voice/VoiceHere.tsx';
import { WordsShow } from '../words/WordsShow.tsx';
import type { MarginWriting } from './margin-look.ts';
import { NoteWords, Proposal, ReasonWords } from './NoteWords.tsx';

interface Props {
  readonly note: MarginMark;
  readonly top: number;
  /** Of the page, in its margin. */
  readonly bottom: number;
  /** Unfolded among others, only its sign, its first words in one line, or unfolded above signs. */
  readonly shape: 'card' | 'sign' | 'line' | 'over';
  /** From a narrow margin the unfolded one reaches out to this side; null: it lies within. */
  readonly reaches: 'left' | 'right' | null;
  readonly active: boolean;
  readonly editing: boolean;
  /** Null: for reading. */
  readonly writing: MarginWriting | null;
  readonly ref: Ref<HTMLElement>;
  readonly below: ReactNode;
  onActivate(note: MarginMark | null, edit: boolean): void;
}

/** One note in the margin: words to read, words to write, its first words, or only its sign. */
export function NoteCard(p: Props) {
  const { note, top, bottom, shape, reaches, active, editing, writing, ref, onActivate } = p;
  const over = shape === 'over';
  const kind = MARGIN_NAMES[note.kind];
  const recording = recordingOf(note);
  const called = recording ? (isClip(recording) ? 'Clip' : 'Voice note') : kind;
  const about = note.focus ? `${called}, ${note.focus}` : called;
  if (shape === 'sign' || shape === 'line') return <Folded {...p} about={about} />;
  return (
    <article
      ref={ref}
      aria-label={about}
      className={`absolute ${reaches === null ? 'right-2 left-3.5' : reaches === 'left' ? 'left-2 w-60' : 'right-2 w-60'} rounded-r-lg bg-raised px-2.5 py-1.5 text-[14px] leading-snug shadow-sm ${active ? 'z-10 outline-2 outline-action' : ''} ${over ? 'z-10 shadow-lg' : ''}`}
      style={{
        top: over ? Math.min(top, Math.max(0, bottom - 160)) : top,
        borderLeft: `3px solid var(--color-${note.colour})`,
      }}
    >
      <div className="flex items-start gap-2">
        <div className="min-w-0 flex-1">
          {note.kind !== 'note' && <Proposal note={note} />}
          {editing && isWorded(note) && writing ? (
            <NoteWords note={note} writing={writing} onLeave={() => onActivate(null, false)} />
          ) : (
            <Said
              note={note}
              whole={active}
              reads={writing === null}
              onOpen={() => onActivate(note, writing !== null)}
            />
          )}
          <ReasonWords note={note} writing={active ? writing : null} />
        </div>
        <Facts note={note} />
      </div>
      {recording && <VoiceHere recording={recording} label={about} />}
      {note.replies?.map((reply) => (
        <p
          key={`${reply.at} ${reply.said}`}
          className="mt-1 border-t border-line pt-1 text-[13px] break-words"
        >
          <span className="text-soft">{reply.by || 'answered'}:</span> {reply.said}
        </p>
      ))}
      {active && writing && <Foot note={note} writing={writing} />}
      {p.below}
    </article>
  );
}

/** Of a note that is folded its first words, as long as the margin has the width for them. */
function Folded({ note, top, shape, ref, onActivate, about }: Props & { about: string }) {
  const said = note.kind === 'note' ? plainWords(note.words) || describeMark(note) : describeMark(note);
  const first = note.kind === 'note' ? said.split('\n')[0]! : said;
  return (
    <button
      ref={ref as Ref<HTMLButtonElement>}
      type="button"
      data-folded="yes"
      className={`absolute left-3 flex h-6 items-center rounded bg-raised text-[13px] shadow-sm ${shape === 'line' ? 'right-2 gap-1.5 px-1.5 text-left' : 'w-8 justify-center'}`}
      style={{ top }}
      aria-label={`${about}: ${said}`}
      {...tip(said)}
      onClick={() => onActivate(note, false)}
    >
      <FocusSignGlyph colour={note.colour} sign={note.sign} />
      {shape === 'line' && <span className="min-w-0 truncate">{first}</span>}
    </button>
  );
}

/** The words as they are read: long ones by their first lines, until the note is in hand. */
function Said({
  note,
  whole,
  reads,
  onOpen,
}: {
  note: MarginMark;
  whole: boolean;
  /** Nothing can be written here. */
  reads: boolean;
  onOpen(): void;
}) {
  const empty = isWorded(note) && note.words.trim() === '';
  const speaking = use(SpokenContext) === note.id;
  if (empty && !speaking && recordingOf(note) && (!whole || reads)) return null;
  return (
    <div
      role="button"
      tabIndex={0}
      className={`min-h-5 w-full cursor-pointer text-left break-words ${whole ? '' : 'line-clamp-6'}`}
      onClick={onOpen}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget || (e.key !== 'Enter' && e.key !== ' ')) return;
        e.preventDefault();
        e.stopPropagation();
        onOpen();
      }}
    >
      {!isWorded(note) ? (
        <span className="text-soft">leave it out</span>
      ) : speaking ? (
        <span className="text-garnet">recording …</span>
      ) : empty && recordingOf(note) ? (
        <span className="text-soft">Add words …</span>
      ) : empty ? (
        <span className="text-soft">{EMPTY[note.kind as keyof typeof EMPTY]}</span>
      ) : (
        <WordsShow words={note.words} />
      )}
    </div>
  );
}

const EMPTY = { note: 'empty note', add: 'nothing to add yet', swap: 'no other words yet' } as const;

/** What is told beside the words: what it is about, what is earned, at how many places it stands. */
function Facts({ note }: { note: MarginMark }) {
  const places = note.kind === 'note' ? placesOf(note) : 1;
  const points = note.kind === 'note' ? note.points : undefined;
  return (
    <span className="mt-0.5 flex flex-col items-end gap-0.5 text-[12px] whitespace-nowrap text-soft tabular">
      <FocusSignGlyph colour={note.colour} sign={note.sign} />
      {points !== undefined && <b className="text-text">{formatSigned(points)}</b>}
      {places > 1 && <span {...tip(`The same at ${places} places`)}>{places} ×</span>}
    </span>
  );
}

function Foot({ note, writing }: { note: MarginMark; writing: MarginWriting }) {
  const { Tools, onFold } = writing;
  return (
    <div className="mt-1 border-t border-line pt-1 text-xs text-soft" onPointerDown={keepFocus}>
      {Tools && <Tools note={note} />}
      <p className="flex items-center gap-2">
        <span className="min-w-0 truncate">{note.focus ?? ''}</span>
        {onFold && (
          <button
            type="button"
            className="ml-auto inline-flex items-center gap-1 hover:text-action"
            onClick={() => onFold(note)}
          >
            <ChevronsDownUp size={13} aria-hidden="true" /> Fold
          </button>
        )}
        <button
          type="button"
          className={`inline-flex items-center gap-1 hover:text-caution ${onFold ? '' : 'ml-auto'}`}
          onClick={() => writing.onRemove(note)}
        >
          <Trash2 size={13} aria-hidden="true" /> Delete
        </button>
      </p>
    </div>
  );
}

/** A press on a tool leaves the cursor in the words; a field among the tools takes it. */
function keepFocus(e: React.PointerEvent) {
  if (!(e.target as HTMLElement).closest('input, textarea')) e.preventDefault();
}
