import {
  type Asked,
  askedOfPile,
  belongsTo,
  type Desk,
  findRegion,
  type Mark,
  pointsOn,
} from '@jotmark/core';
import { useMemo } from 'react';
import { askedIn } from '../scores/useScored.ts';
import type { DeskPaper } from './useDeskPaper.ts';

/**
 * Where a file came in without a worksheet, the questions of its pile are found by their printed lines: a stamp or note with points that is put there is given to its
 * question by name, since on this copy the question may stand elsewhere than where it was drawn.
 */
export function usePlacedPoints(desk: Desk, paper: DeskPaper): (mark: Mark) => Mark {
  const first = desk.documents.find((d) => d.shows === 'pages')?.id ?? null;
  const { questions } = desk.scoring.scoring;
  const found = useMemo((): Asked[] => {
    const drawn = questions.filter((q) => q.region?.at);
    if (drawn.length === 0 || !first) return [];
    const own = paper.pages.flatMap((p, i) => (p.document === first ? [paper.texts[i] ?? null] : []));
    if (own.length === 0 || own.some((t) => t === null)) return [];
    return askedOfPile({ questions }, first).map((asked, i) => {
      const at = findRegion(questions[i]!.region, own as NonNullable<(typeof own)[number]>[], own.length);
      return at ? { ...asked, regions: [{ document: first, page: at.page, box: at.box }] } : asked;
    });
  }, [questions, first, paper.pages, paper.texts]);
  const asked = useMemo(() => askedIn(desk.asked, desk.scoring, first), [desk, first]);
  return (mark) => {
    if (found.length === 0 || pointsOn(mark) === null || (mark.kind !== 'stamp' && mark.kind !== 'note'))
      return mark;
    const here = belongsTo(mark, [...asked.filter((q) => !found.some((f) => f.id === q.id)), ...found]);
    return here && here.id !== belongsTo(mark, asked)?.id ? { ...mark, question: here.id } : mark;
  };
}
