import type { Mark } from '@jotmark/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useDeferredValue, useLayoutEffect, useRef, useState } from 'react';
import { ALL_UP_TO } from '../frame/useRowsInSight.ts';
import { useSameList } from '../frame/useSameList.ts';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { ANY, chooseMarks, type LookedFor, thereAre, type Wanted } from './choose.ts';
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
            onChange={(e) => onWant({ ...wanted, kind: (e.target.value || null) as LookedFor | null })}
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
            <option value="any">any focus</option>
            {there.focuses.map((focus) => (
              <option key={focus} value={`about ${focus}`}>
                {focus || 'no focus'}
              </option>
            ))}
          </select>
        </div>
      )}
      {chosen.length === 0 && (
        <p className="mt-2 text-sm text-soft">None of the {marks.length} marks matches.</p>
      )}
      {chosen.length > ALL_UP_TO ? (
        <LongList marks={chosen} selected={selected} onPick={onPick} />
      ) : (
        <ol className="mt-2 space-y-0.5 text-sm">
          {chosen.map((mark) => (
            <li key={mark.id}>
              <Line mark={mark} picked={selected.includes(mark)} onPick={onPick} />
            </li>
          ))}
        </ol>
      )}
    </>
  );
});

/** What a line is high as long as nobody has seen it, in CSS pixels. */
const GUESS = 26;

/** Of thousands of marks only the lines near the sight are there; each says which of how many it is. */
function LongList({
  marks,
  selected,
  onPick,
}: {
  marks: readonly Mark[];
  selected: readonly Mark[];
  onPick(mark: Mark): void;
}) {
  const list = useRef<HTMLOListElement>(null);
  const [top, setTop] = useState(0);
  const scroller = () => list.current?.closest<HTMLElement>('[data-scrolls]') ?? null;
  useLayoutEffect(() => {
    const box = scroller();
    if (box && list.current)
      setTop(list.current.getBoundingClientRect().top - box.getBoundingClientRect().top + box.scrollTop);
  });
  const virtual = useVirtualizer({
    count: marks.length,
    getScrollElement: scroller,
    estimateSize: () => GUESS,
    getItemKey: (i) => marks[i]!.id,
    overscan: 12,
    scrollMargin: top,
  });
  return (
    <ol ref={list} className="relative mt-2 text-sm" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map(({ key, index, start }) => (
        <li
          key={key}
          ref={virtual.measureElement}
          data-index={index}
          aria-posinset={index + 1}
          aria-setsize={marks.length}
          className="absolute inset-x-0 top-0 pb-0.5"
          style={{ transform: `translateY(${start - top}px)` }}
        >
          <Line mark={marks[index]!} picked={selected.includes(marks[index]!)} onPick={onPick} />
        </li>
      ))}
    </ol>
  );
}

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
  );
});
