import { clockOf, type Mark, momentOf } from '@jotmark/core';
import { FocusSignGlyph } from '../look/glyphs.tsx';
import { StampPicture } from '../look/pen-mark.tsx';
import { describeMark } from '../marks/describe.ts';
import { type Film, SMALL_STEP_MS, STEP_MS } from './useFilm.ts';

interface Props {
  readonly film: Film;
  readonly marks: readonly Mark[];
  readonly picked: ReadonlySet<string>;
  onPick(mark: Mark): void;
}

/** A film's time as a line: how far it is, and each mark at its moment. */
export function FilmLine({ film, marks, picked, onPick }: Props) {
  const { at, length, jump } = film;
  const share = (ms: number) => `${(100 * Math.min(ms, length)) / Math.max(1, length)}%`;
  return (
    <div className="relative mt-1 h-11">
      <div className="absolute inset-x-0 bottom-1 h-2 rounded-full bg-margin" aria-hidden="true">
        <div className="h-full rounded-full bg-action" style={{ width: share(at) }} />
      </div>
      <input
        type="range"
        aria-label="Where the film is"
        aria-valuetext={`${clockOf(at)} of ${clockOf(length)}`}
        className="absolute inset-x-0 bottom-0 m-0 h-4 w-full cursor-pointer opacity-0 focus-visible:opacity-60"
        min={0}
        max={Math.max(1, length)}
        step={100}
        value={Math.min(at, length)}
        onChange={(e) => jump(Number(e.target.value))}
        onKeyDown={(e) => {
          const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[e.key];
          if (way === undefined) return;
          e.preventDefault();
          e.stopPropagation();
          film.step(way * (e.shiftKey ? SMALL_STEP_MS : STEP_MS));
        }}
      />
      {marks.map((mark) => (
        <button
          key={mark.id}
          type="button"
          aria-label={describeMark(mark)}
          aria-pressed={picked.has(mark.id)}
          className={`absolute top-0 grid h-7 w-6 -translate-x-1/2 place-items-center rounded border bg-raised ${picked.has(mark.id) ? 'z-10 border-action outline-1 outline-action' : 'border-line'}`}
          style={{ left: `clamp(0.75rem, ${share(momentOf(mark)!)}, calc(100% - 0.75rem))` }}
          onClick={() => onPick(mark)}
        >
          <MomentSign mark={mark} />
        </button>
      ))}
    </div>
  );
}

/** What a mark looks like where there is no page for it. */
export function MomentSign({ mark, size = 14 }: { mark: Mark; size?: number }) {
  return mark.kind === 'stamp' ? (
    <StampPicture look={mark.look} colour={mark.colour} size={size + 2} />
  ) : (
    <FocusSignGlyph colour={mark.colour} sign={mark.sign} size={size - 2} />
  );
}
