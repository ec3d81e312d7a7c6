import { isOwnNote, type Mark, type MarkId, MOST_OF_A_NOTE, type PageView, toScreen } from '@jotmark/core';
import { StickyNote } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { tip } from '../frame/tip.ts';
import { putChange, removeChange } from '../outbox/changes.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';

interface Props {
  readonly marks: readonly Mark[];
  readonly view: PageView;
  /** Null: it is only read, by who looks over a shoulder. */
  readonly keeper: SheetKeeper | null;
  readonly readOnly: boolean;
  /** The note whose words are being written. */
  readonly open: MarkId | null;
  onOpen(id: MarkId | null): void;
}

type Note = Extract<Mark, { kind: 'note' }> & { readonly place: { on: 'spot' } };

/** What a student notes on their own copy, at its spots: a sign each, the words open beside it. It goes along when the copy is handed in. */
export function OwnNotes({ marks, view, keeper, readOnly, open, onOpen }: Props) {
  return marks.filter(isOwnNote).map((note) => {
    const [x, y] = toScreen(view, [note.place.x, note.place.y]);
    return (
      <div
        key={note.id}
        data-own-pointer
        className={`absolute ${open === note.id ? 'z-30' : 'z-20'}`}
        style={{ left: Math.min(Math.max(0, x - 12), view.width - 24), top: y - 12 }}
      >
        <button
          type="button"
          aria-expanded={open === note.id}
          aria-label={`${keeper ? 'Your note' : 'Note on the copy'}: ${note.words || 'nothing yet'}`}
          {...tip(note.words || 'A note')}
          className="grid size-6 place-items-center rounded bg-answer text-white shadow pointer-coarse:size-8"
          onClick={() => onOpen(open === note.id ? null : note.id)}
        >
          <StickyNote size={15} aria-hidden="true" />
        </button>
        {open === note.id && (
          <Words
            note={note}
            keeper={keeper}
            readOnly={readOnly || !keeper}
            left={x > view.width - 260}
            onClose={() => onOpen(null)}
          />
        )}
      </div>
    );
  });
}

/** Words become a change when they rest for so long, in milliseconds, and when the note is closed. */
const REST_MS = 300;

function Words({
  note,
  keeper,
  readOnly,
  left,
  onClose,
}: {
  note: Note;
  keeper: SheetKeeper | null;
  readOnly: boolean;
  left: boolean;
  onClose(): void;
}) {
  const [words, setWords] = useState(note.words);
  const field = useRef<HTMLTextAreaElement>(null);
  const latest = useRef({ note, words, readOnly });
  latest.current = { note, words, readOnly };
  useEffect(() => field.current?.focus(), []);
  const keep = () => {
    const { note: now, words: typed, readOnly: fixed } = latest.current;
    if (keeper && !fixed && typed !== now.words)
      keeper.do([putChange(keeper, { ...now, words: typed }, now)], `note:${now.id}`);
  };
  const keepNow = useRef(keep);
  keepNow.current = keep;
  useEffect(() => {
    const clock = setTimeout(() => keepNow.current(), REST_MS);
    return () => clearTimeout(clock);
  }, [words]);
  useEffect(() => {
    const leave = () => keepNow.current();
    window.addEventListener('pagehide', leave, true);
    return () => {
      window.removeEventListener('pagehide', leave, true);
      leave();
      // A note that says nothing is none.
      const { note: now, words: typed, readOnly: fixed } = latest.current;
      if (keeper && !fixed && typed.trim() === '')
        keeper.do([removeChange(keeper, { ...now, words: typed })]);
    };
  }, [keeper]);
  return (
    <div
      className={`absolute top-7 w-60 rounded-lg border border-line bg-raised p-2 shadow-lg ${left ? 'right-0' : 'left-0'}`}
    >
      <textarea
        ref={field}
        aria-label="Words of your note"
        className="field min-h-20 !text-[15px]"
        placeholder="What do you want to say about this?"
        maxLength={MOST_OF_A_NOTE}
        readOnly={readOnly}
        value={words}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape') onClose();
        }}
      />
      <div className="mt-1 flex gap-2">
        <button type="button" className="quiet !min-h-8 !py-1" onClick={onClose}>
          Close
        </button>
        {!readOnly && (
          <button
            type="button"
            className="quiet !min-h-8 !py-1"
            onClick={() => {
              setWords('');
              latest.current = { ...latest.current, words: '' };
              onClose();
            }}
          >
            Delete
          </button>
        )}
      </div>
    </div>
  );
}
