import type { NoteMark } from '@jotmark/core';
import { Trash2 } from 'lucide-react';
import { type Ref, useLayoutEffect, useRef } from 'react';
import { FocusSignGlyph } from '../look/glyphs.tsx';

interface Props {
  readonly note: NoteMark;
  readonly top: number;
  readonly folded: boolean;
  /** Unfolded above folded ones. */
  readonly over: boolean;
  readonly bottom: number;
  readonly active: boolean;
  readonly editing: boolean;
  readonly readOnly: boolean;
  readonly ref: Ref<HTMLElement>;
  onActivate(edit: boolean): void;
  onLeave(): void;
  onWords(words: string): void;
  onRemove(): void;
}

/** One note in the margin: words to read, words to write, or only its sign. */
export function NoteCard({
  note,
  top,
  folded,
  over,
  bottom,
  active,
  editing,
  readOnly,
  ref,
  onActivate,
  onLeave,
  onWords,
  onRemove,
}: Props) {
  const about = note.focus ? `Note, ${note.focus}` : 'Note';
  if (folded)
    return (
      <button
        ref={ref as Ref<HTMLButtonElement>}
        type="button"
        data-folded="yes"
        className="absolute left-3 grid h-6 w-8 place-items-center rounded bg-raised shadow-sm"
        style={{ top }}
        aria-label={`${about}: ${note.words}`}
        title={note.words}
        onClick={() => onActivate(false)}
      >
        <FocusSignGlyph colour={note.colour} />
      </button>
    );
  return (
    <article
      ref={ref}
      aria-label={about}
      className={`absolute right-2 left-3.5 rounded-r-lg bg-raised px-2.5 py-1.5 text-[14px] leading-snug shadow-sm ${active ? 'outline-2 outline-action' : ''} ${over ? 'z-10 shadow-lg' : ''}`}
      style={{
        top: over ? Math.min(top, Math.max(0, bottom - 160)) : top,
        borderLeft: `3px solid var(--color-${note.colour})`,
      }}
    >
      <div className="flex items-start gap-2">
        <div className="min-w-0 flex-1">
          {editing ? (
            <Words note={note} onWords={onWords} onLeave={onLeave} />
          ) : readOnly ? (
            <button
              type="button"
              className="block w-full cursor-pointer text-left break-words whitespace-pre-wrap"
              onClick={() => onActivate(false)}
            >
              {note.words}
            </button>
          ) : (
            <button
              type="button"
              className="block min-h-5 w-full text-left break-words whitespace-pre-wrap"
              onClick={() => onActivate(true)}
            >
              {note.words || <span className="text-soft">empty note</span>}
            </button>
          )}
        </div>
        <span className="mt-1">
          <FocusSignGlyph colour={note.colour} />
        </span>
      </div>
      {active && !readOnly && (
        <p className="mt-1 flex items-center gap-2 border-t border-line pt-1 text-xs text-soft">
          {note.focus ?? ''}
          <button
            type="button"
            className="ml-auto inline-flex items-center gap-1 hover:text-caution"
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

/** The words being written; every keystroke goes on, the desk decides when it is sent. */
function Words({
  note,
  onWords,
  onLeave,
}: {
  note: NoteMark;
  onWords(words: string): void;
  onLeave(): void;
}) {
  const area = useRef<HTMLTextAreaElement>(null);
  useLayoutEffect(() => {
    const el = area.current!;
    el.style.height = '0';
    el.style.height = `${el.scrollHeight}px`;
  });
  useLayoutEffect(() => {
    const el = area.current!;
    el.focus({ preventScroll: true });
    el.setSelectionRange(el.value.length, el.value.length);
    el.scrollIntoView({ block: 'nearest' });
  }, []);
  return (
    <textarea
      ref={area}
      rows={1}
      aria-label="Words of the note"
      className="block w-full resize-none bg-transparent outline-none"
      placeholder="What do you want to say?"
      maxLength={4000}
      value={note.words}
      onChange={(e) => onWords(e.target.value)}
      onBlur={onLeave}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Escape' || (e.key === 'Enter' && (e.ctrlKey || e.metaKey))) {
          e.preventDefault();
          e.currentTarget.blur();
        }
      }}
    />
  );
}
