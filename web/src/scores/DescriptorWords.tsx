import type { Had, Level } from '@jotmark/core';
import { useMemo, useRef, useState } from 'react';
import { toggleHad } from './score-moves.ts';

interface Props {
  readonly level: Level;
  readonly had: readonly Had[];
  /** Null: it is only read. */
  readonly onHad: ((had: Had[]) => void) | null;
}

/** The words of a descriptor, those that are there marked. A word is marked by tapping it, several by drawing over them; by keys with the arrows and Space. */
export function DescriptorWords({ level, had, onHad }: Props) {
  const words = useMemo(
    () =>
      [...level.descriptor.matchAll(/\S+/g)].map((m) => ({
        from: m.index,
        to: m.index + m[0].length,
        text: m[0],
      })),
    [level.descriptor],
  );
  const begun = useRef<number | null>(null);
  const [at, setAt] = useState<number | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const isHad = (w: { from: number; to: number }) =>
    had.some((h) => h.level === level.id && h.from <= w.from && h.to >= w.to);
  const mark = (a: number, b: number) => {
    const [first, last] = [words[Math.min(a, b)], words[Math.max(a, b)]];
    if (first && last) onHad?.(toggleHad(had, level.id, first.from, last.to));
  };
  const drawn = (i: number) =>
    begun.current !== null &&
    over !== null &&
    i >= Math.min(begun.current, over) &&
    i <= Math.max(begun.current, over);
  if (words.length === 0) return null;
  const shown = words.map((w, i) => (
    <span key={w.from}>
      {i > 0 && ' '}
      <span
        data-word={i}
        className={`rounded-[2px] ${isHad(w) ? 'bg-moss/15 text-text underline decoration-moss decoration-2' : ''} ${drawn(i) ? 'bg-action-wash' : ''} ${at === i ? 'outline-2 outline-action' : ''} ${onHad ? 'cursor-pointer' : ''}`}
        onPointerDown={
          onHad
            ? () => {
                begun.current = i;
                setOver(i);
              }
            : undefined
        }
        onPointerEnter={() => begun.current !== null && setOver(i)}
        onPointerUp={() => {
          if (begun.current !== null) mark(begun.current, i);
          begun.current = null;
          setOver(null);
        }}
      >
        {isHad(w) && <span className="sr-only">there: </span>}
        {w.text}
      </span>
    </span>
  ));
  if (!onHad) return <>{shown}</>;
  return (
    <span
      role="group"
      tabIndex={0}
      aria-label={`Words of ${level.name || 'this level'}: mark those that are there`}
      className="touch-none select-none"
      onPointerLeave={() => {
        begun.current = null;
        setOver(null);
      }}
      onBlur={() => setAt(null)}
      onKeyDown={(e) => {
        const step = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
        if (step !== 0)
          setAt(Math.min(words.length - 1, Math.max(0, (at ?? (step > 0 ? -1 : words.length)) + step)));
        else if (e.key === ' ' && at !== null) mark(at, at);
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      {shown}
    </span>
  );
}
