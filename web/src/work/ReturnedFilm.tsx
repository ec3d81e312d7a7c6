import { type DocumentState, inTimeOrder, isMarginMark, type Mark, momentOf } from '@jotmark/core';
import { useMemo } from 'react';
import { FilmCard } from '../film/FilmCard.tsx';
import { FilmMarks } from '../film/FilmMarks.tsx';
import { jumpTo } from '../film/jump.ts';
import type { BelowNote } from '../margin/margin-look.ts';

export interface FilmProps {
  readonly document: DocumentState;
  readonly marks: readonly Mark[];
  /** The note that is in hand, by its id. */
  readonly active: string | null;
  readonly below: BelowNote | null;
  onActive(id: string | null): void;
}

/** A film that came back: what the teacher said, at its moments. */
export function ReturnedFilm({ document, marks, active, below, onActive }: FilmProps) {
  const own = useMemo(
    () => inTimeOrder(marks.filter((m) => m.document === document.id)),
    [marks, document.id],
  );
  const picked = useMemo(() => new Set(active === null ? [] : [active]), [active]);
  const pick = (mark: Mark) => onActive(isMarginMark(mark) ? mark.id : null);
  return (
    <FilmCard document={document} marks={own} picked={picked} onPick={pick}>
      <FilmMarks
        marks={own}
        picked={picked}
        editing={false}
        writing={null}
        below={(note) => below?.(note, () => onActive(note.id)) ?? null}
        onPick={(mark) => {
          pick(mark);
          jumpTo(mark.document, momentOf(mark)!);
        }}
        onLeave={() => onActive(null)}
      />
    </FilmCard>
  );
}
