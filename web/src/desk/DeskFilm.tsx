import {
  clockOf,
  type DocumentState,
  inTimeOrder,
  isMarkingPen,
  type Mark,
  type MarkId,
  type MarkingPen,
  type NoteMark,
} from '@jotmark/core';
import { useMemo } from 'react';
import { FilmCard } from '../film/FilmCard.tsx';
import { FilmMarks } from '../film/FilmMarks.tsx';
import type { Film } from '../film/useFilm.ts';
import { MarkItMakes } from '../look/pen-mark.tsx';
import { newId } from '../outbox/new-id.ts';
import type { PenAtKey } from '../pens/PenTray.tsx';
import type { DeskNow } from './useDesk.ts';

/** A film or a sound on the desk: pens that leave notes and stamps put them at the moment where it is. */
export function DeskFilm({ d, document }: { d: DeskNow; document: DocumentState }) {
  const { hold, shown, picked, signed } = d.marks;
  const marks = useMemo(
    () => inTimeOrder(shown.filter((m) => m.document === document.id)),
    [shown, document.id],
  );
  const ids = useMemo(() => new Set(picked.map((m) => m.id)), [picked]);
  const { fixed } = d.stands;
  const pens = fixed
    ? []
    : d.hand.pensAtKeys.filter(({ pen }) => pen.tool === 'note' || pen.tool === 'stamp');
  const put = (pen: MarkingPen, film: Film) => {
    film.pause();
    const mark = markAtMoment(pen, document.id, film.now());
    if (mark.kind === 'note') hold.lay(signed(mark), true);
    else hold.make(mark);
  };
  const speak = (film: Film) => {
    film.pause();
    const at = film.now();
    const pen = pens.find((p) => p.pen.tool === 'note')?.pen;
    const base: MarkingPen =
      pen && isMarkingPen(pen) ? pen : { tool: 'note', name: 'voice', colour: 'garnet', focus: null };
    d.voice.does.onNew(signed(markAtMoment({ ...base, tool: 'note' }, document.id, at)) as NoteMark);
  };
  const onKey = (e: React.KeyboardEvent, film: Film): boolean => {
    const pen = pens.find((p) => p.key === e.key)?.pen;
    if (pen && isMarkingPen(pen)) put(pen, film);
    else if (e.key === 'v' && !fixed && !e.repeat && d.voice.idle()) speak(film);
    else return false;
    return true;
  };
  const writing = d.look.writing;
  return (
    <FilmCard
      document={document}
      marks={marks}
      picked={ids}
      onPick={(mark) => hold.pick([mark])}
      onKey={onKey}
      tools={(film) => (
        <MomentTools
          film={film}
          pens={pens}
          fixed={fixed}
          onPut={(pen) => put(pen, film)}
          onSpeak={() => speak(film)}
        />
      )}
    >
      <FilmMarks
        marks={marks}
        picked={ids}
        editing={hold.editing}
        writing={writing ? { ...writing, onRemove: (mark) => hold.takeAway([mark]) } : null}
        below={(note) => d.look.below?.(note, () => hold.pick([note])) ?? null}
        onPick={(mark, edit) => d.does.onPick(mark, edit)}
        onLeave={hold.letGo}
      />
    </FilmCard>
  );
}

interface ToolsProps {
  readonly film: Film;
  readonly pens: readonly PenAtKey[];
  readonly fixed: boolean;
  onPut(pen: MarkingPen): void;
  onSpeak(): void;
}

/** The pens that can be put at a moment, each with its key. */
function MomentTools({ film, pens, fixed, onPut, onSpeak }: ToolsProps) {
  if (fixed) return null;
  const at = clockOf(film.at);
  return (
    <span role="toolbar" aria-label={`At ${at}`} className="ml-auto flex flex-wrap items-center gap-1">
      {pens.map(({ key, pen }) => (
        <button
          key={key}
          type="button"
          aria-label={`${pen.name} at ${at}`}
          className="flex h-9 items-center gap-1 rounded-lg border border-line bg-tray px-1.5 hover:border-action"
          onClick={() => isMarkingPen(pen) && onPut(pen)}
        >
          <span className="text-[10px] text-soft" aria-hidden="true">
            {key}
          </span>
          <MarkItMakes pen={pen} />
        </button>
      ))}
      <button
        type="button"
        aria-label={`Voice at ${at}`}
        className="h-9 rounded-lg border border-line bg-tray px-2 text-sm hover:border-action"
        onClick={onSpeak}
      >
        <span className="text-[10px] text-soft" aria-hidden="true">
          v
        </span>{' '}
        Voice
      </button>
    </span>
  );
}

/** What a pen leaves where there is time and no page. */
function markAtMoment(pen: MarkingPen, document: DocumentState['id'], at: number): Mark {
  const base = {
    v: 2 as const,
    id: newId<MarkId>(),
    document,
    page: 0,
    colour: pen.colour,
    focus: pen.focus,
    madeAt: Date.now(),
  };
  if (pen.tool === 'stamp')
    return {
      ...base,
      kind: 'stamp',
      x: 0,
      y: 0,
      size: pen.width,
      turn: 0,
      look: pen.look,
      points: pen.points,
      moment: at,
    };
  return { ...base, kind: 'note', place: { on: 'moment', at }, words: '' };
}
