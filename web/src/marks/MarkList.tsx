import type { Mark, MarkKind } from '@jotmark/core';
import { memo, useDeferredValue, useState } from 'react';
import { useSameList } from '../frame/useSameList.ts';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { ANY, chooseMarks, thereAre, type Wanted } from './choose.ts';
import { describeMark, KIND_WORDS } from './describe.ts';

/** From so many marks on one chooses among them. */
const MANY = 4;

/** Every mark in reading order: for jumping, for looking over what was said, and for those who do not see the page. */
export function MarkList(p: {
  readonly marks: readonly Mark[];
  readonly selected: readonly Mark[];
  onPick(mark: Mark): void;
}) {
  const selected = useSameList(p.selected);
  // With thousands of lines the list follows in its own time: the pen waits for nothing.
  const marks = useDeferredValue(p.marks);
  const [wanted, setWanted] = useState(ANY);
  return (
    <div aria-busy={marks !== p.marks}>
      <Lines marks={marks} selected={selected} wanted={wanted} onWant={setWanted} onPick={p.onPick} />
    </div>
  );
}

const Lines = memo(function Lines({
  marks,
  selected,
  wanted,
  onWant,
  onPick,
}: {
  marks: readonly Mark[];
  selected: readonly Mark[];
  wanted: Wanted;
  onWant(wanted: Wanted): void;
  onPick(mark: Mark): void;
}) {
  if (marks.length === 0) return <p className="mt-2 text-sm text-soft">Nothing on the pages yet.</p>;
  const there = thereAre(marks);
  const chosen = chooseMarks(marks, wanted);
  return (
    <>
      {marks.length >= MANY && (
        <div className="mt-2 grid gap-1.5 text-sm">
          <input
            type="search"
            className="field !min-h-8 !py-1"
            aria-label="Search the marks"
            placeholder="Search the marks"
            maxLength={100}
            value={wanted.words}
            onChange={(e) => onWant({ ...wanted, words: e.target.value })}
          />
          <select
            className="field !min-h-8 !py-1"
            aria-label="Kind of marks"
            value={wanted.kind ?? ''}
            onChange={(e) => onWant({ ...wanted, kind: (e.target.value || null) as MarkKind | null })}
          >
            <option value="">all kinds</option>
            {there.kinds.map((kind) => (
              <option key={kind} value={kind}>
                {KIND_WORDS[kind]}
              </option>
            ))}
          </select>
          <select
            className="field !min-h-8 !py-1"
            aria-label="What they are about"
            value={wanted.focus === null ? 'any' : `about ${wanted.focus}`}
            onChange={(e) =>
              onWant({ ...wanted, focus: e.target.value === 'any' ? null : e.target.value.slice(6) })
            }
          >
            <option value="any">about anything</option>
            {there.focuses.map((focus) => (
              <option key={focus} value={`about ${focus}`}>
                {focus || 'nothing special'}
              </option>
            ))}
          </select>
        </div>
      )}
      {chosen.length === 0 && (
        <p className="mt-2 text-sm text-soft">None of the {marks.length} marks is like that.</p>
      )}
      <ol className="mt-2 space-y-0.5 text-sm">
        {chosen.map((mark) => (
          <Line key={mark.id} mark={mark} picked={selected.includes(mark)} onPick={onPick} />
        ))}
      </ol>
    </>
  );
});

const Line = memo(function Line({
  mark,
  picked,
  onPick,
}: {
  mark: Mark;
  picked: boolean;
  onPick(mark: Mark): void;
}) {
  return (
    <li>
      <button
        type="button"
        aria-pressed={picked}
        className={`flex w-full items-baseline gap-2 rounded px-1.5 py-0.5 text-left hover:bg-action-wash ${picked ? 'bg-action-wash' : ''}`}
        onClick={() => onPick(mark)}
      >
        <FocusSignGlyph colour={mark.colour} size={9} />
        <span className="min-w-0 break-words">
          p. {mark.page + 1}: {describeMark(mark)}
        </span>
      </button>
    </li>
  );
});
