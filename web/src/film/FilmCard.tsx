import { clockOf, type DocumentState, type Mark, momentOf } from '@jotmark/core';
import { Download, FastForward, Film as FilmSign, Music, Pause, Play, Rewind } from 'lucide-react';
import type { ReactNode } from 'react';
import { tip } from '../frame/tip.ts';
import { typesInto } from '../frame/useKeys.ts';
import { originalOf } from '../paper/Enclosures.tsx';
import { fileSize } from '../time/words.ts';
import { FilmLine } from './FilmLine.tsx';
import { type Film, SMALL_STEP_MS, STEP_MS, useFilm } from './useFilm.ts';

interface Props {
  readonly document: DocumentState;
  /** Of this film, in the order of time. */
  readonly marks: readonly Mark[];
  readonly picked: ReadonlySet<string>;
  onPick(mark: Mark): void;
  /** What can be put at the moment where it is. */
  tools?(film: Film): ReactNode;
  /** A key that is pressed here; true: it was ours. */
  onKey?(e: React.KeyboardEvent, film: Film): boolean;
  readonly children?: ReactNode;
}

/**
 * Who comes: a teacher who watches what a student filmed, and stops where there is something to say; or the student who hears what was said where. Looks at the
 * film and its line; plays, stops, goes a little back, says something there.
 */
export function FilmCard({ document, marks, picked, onPick, tools, onKey, children }: Props) {
  const film = useFilm(document.id);
  const sound = document.shows === 'sound';
  const Sign = sound ? Music : FilmSign;
  const Toggle = film.playing ? Pause : Play;
  const go = (mark: Mark) => {
    film.pause();
    film.jump(momentOf(mark)!);
    onPick(mark);
  };
  const keys = (e: React.KeyboardEvent) => {
    if (typesInto(e.target as HTMLElement) || e.ctrlKey || e.metaKey || e.altKey) return;
    const step = e.shiftKey ? SMALL_STEP_MS : STEP_MS;
    const onButton = (e.target as HTMLElement).matches('button, a, [role="button"]');
    if (e.key === 'ArrowLeft') film.step(-step);
    else if (e.key === 'ArrowRight') film.step(step);
    else if (e.key === ' ' && !onButton) film.toggle();
    else if (!onKey?.(e, film)) return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <section
      aria-label={document.name}
      tabIndex={0}
      className="w-full rounded-lg bg-raised p-4 shadow-sm select-text"
      data-own-pointer
      onKeyDown={keys}
    >
      <p className="flex items-center gap-2.5">
        <Sign size={20} aria-hidden="true" className="shrink-0 text-soft" />
        <span className="min-w-0 flex-1 truncate font-semibold">{document.name}</span>
        <a
          href={originalOf(document.id, true)}
          download
          className="flex items-center gap-1 text-sm text-action underline"
        >
          <Download size={15} aria-hidden="true" /> {fileSize(document.bytes)}
        </a>
      </p>
      {sound ? (
        <audio
          ref={film.media as React.RefObject<HTMLAudioElement | null>}
          preload="metadata"
          src={originalOf(document.id)}
          {...film.events}
        />
      ) : (
        <video
          ref={film.media as React.RefObject<HTMLVideoElement | null>}
          preload="metadata"
          playsInline
          src={originalOf(document.id)}
          className="mt-3 max-h-[38vh] w-full rounded bg-black"
          onClick={film.toggle}
          {...film.events}
        />
      )}
      {film.broken && (
        <p role="alert" className="mt-2 text-sm text-caution">
          This browser cannot play it. Save the file and open it in a player; what is marked stays at its
          times.
        </p>
      )}
      <FilmLine film={film} marks={marks} picked={picked} onPick={go} />
      <div className="mt-1 flex flex-wrap items-center gap-1">
        <Control label="Back 5 seconds" Icon={Rewind} keyName="←" onPress={() => film.step(-STEP_MS)} />
        <Control
          label={film.playing ? 'Pause' : 'Play'}
          Icon={Toggle}
          keyName="Space"
          onPress={film.toggle}
        />
        <Control label="On 5 seconds" Icon={FastForward} keyName="→" onPress={() => film.step(STEP_MS)} />
        <span className="mx-1 text-sm whitespace-nowrap text-soft tabular">
          {clockOf(film.at)} / {clockOf(film.length)}
        </span>
        {tools?.(film)}
      </div>
      {children}
    </section>
  );
}

interface ControlProps {
  readonly label: string;
  readonly Icon: typeof Play;
  readonly keyName: string;
  onPress(): void;
}

function Control({ label, Icon, keyName, onPress }: ControlProps) {
  return (
    <button
      type="button"
      aria-label={label}
      {...tip(`${label}, ${keyName}`)}
      className="grid size-9 place-items-center rounded-full text-action hover:bg-action-wash"
      onClick={onPress}
    >
      <Icon size={17} fill="currentColor" aria-hidden="true" />
    </button>
  );
}
