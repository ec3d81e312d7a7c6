import { countFocuses, isMarginMark, type MarginMark, type Mark, plainWords } from '@jotmark/core';
import { CheckCircle2, Circle } from 'lucide-react';
import { useState } from 'react';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { describeMark } from '../marks/describe.ts';
import type { MarkedCopyNow } from './useMarkedCopy.ts';

/** Each note, suggestion and question of a copy that came back, to be done with; next and before by one move. */
export function YourTurn({ marked, marks }: { marked: MarkedCopyNow; marks: readonly Mark[] }) {
  const { notes, active, goTo, settledAt, current, step } = marked;
  const [only, setOnly] = useState<string | null>(null);
  const settled = notes.filter(settledAt).length;
  const listed = only === null ? notes : notes.filter((n) => n.focus === only);
  if (notes.length === 0)
    return (
      <>
        <h2 className="mt-5 font-bold">No notes on your pages</h2>
        <Legend marks={marks} only={only} onOnly={setOnly} />
      </>
    );
  return (
    <section aria-label="Your turn">
      <div className="mt-5 flex items-baseline">
        <h2 className="text-lg font-bold">Your turn</h2>
        <span className="ml-auto text-sm text-soft tabular">
          {settled} of {notes.length} done
        </span>
      </div>
      <Legend marks={marks} only={only} onOnly={setOnly} />
      {listed.length === 0 && (
        <p className="mt-1 text-sm text-soft">No note is about this: look for its colour on your pages.</p>
      )}
      <ol className="mt-1 divide-y divide-line">
        {listed.map((note) => (
          <li key={note.id}>
            <button
              type="button"
              aria-pressed={active === note.id}
              className={`flex w-full items-baseline gap-2 rounded px-1 py-2 text-left hover:bg-action-wash ${active === note.id ? 'bg-action-wash' : ''}`}
              onClick={() => goTo(note)}
            >
              <Done done={settledAt(note)} />
              <FocusSignGlyph colour={note.colour} sign={note.sign} size={11} />
              <span
                className={`line-clamp-4 min-w-0 break-words ${settledAt(note) ? 'text-soft line-through' : ''}`}
              >
                {wordsOf(note)}
                <span className="sr-only">{about(note)}</span>
              </span>
            </button>
          </li>
        ))}
      </ol>
      <p className="mt-2 flex justify-between text-sm">
        <button
          type="button"
          className="text-action underline disabled:text-soft disabled:no-underline"
          disabled={current === 0}
          onClick={() => step(-1)}
        >
          ‹ Previous note <span className="key">b</span>
        </button>
        <button
          type="button"
          className="text-action underline disabled:text-soft disabled:no-underline"
          disabled={current === notes.length - 1}
          onClick={() => step(1)}
        >
          Next note <span className="key">n</span> ›
        </button>
      </p>
    </section>
  );
}

/** The words on the page that a note is about, for those who do not see where it points. */
const about = ({ kind, place, page }: MarginMark): string =>
  kind === 'note' && place.on === 'passage'
    ? `, on page ${page + 1}, about “${place.quote.exact}”`
    : `, on page ${page + 1}`;

/** What a note says, in a line. */
export const wordsOf = (note: MarginMark): string =>
  note.kind === 'note' ? plainWords(note.words) || describeMark(note) : describeMark(note);

function Done({ done }: { done: boolean }) {
  const Icon = done ? CheckCircle2 : Circle;
  return (
    <span className="mt-1 shrink-0 self-start">
      <Icon size={16} aria-hidden="true" className={done ? 'text-action' : 'text-line-strong'} />
      <span className="sr-only">{done ? 'Done: ' : ''}</span>
    </span>
  );
}

interface LegendProps {
  readonly marks: readonly Mark[];
  /** The focus whose notes alone are listed; null: all. */
  readonly only: string | null;
  onOnly(focus: string | null): void;
}

/** What the signs mean; pressed, one lists its notes alone. */
function Legend({ marks, only, onOnly }: LegendProps) {
  const focuses = countFocuses(marks.filter((m) => isMarginMark(m) || m.kind === 'highlight'));
  if (focuses.length === 0) return null;
  return (
    <p className="mt-1 flex flex-wrap gap-x-3 text-sm text-soft">
      {focuses.map((f) => (
        <button
          key={f.name}
          type="button"
          aria-pressed={only === f.name}
          className={`inline-flex items-center gap-1 rounded px-1 hover:bg-action-wash ${only === f.name ? 'bg-action-wash text-action' : ''}`}
          onClick={() => onOnly(only === f.name ? null : f.name)}
        >
          <FocusSignGlyph colour={f.colour} sign={f.sign} size={10} />
          {f.name}
        </button>
      ))}
    </p>
  );
}
