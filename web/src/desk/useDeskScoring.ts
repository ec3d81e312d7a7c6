import {
  belongsTo,
  type Desk,
  formatGrade,
  type Mark,
  pointsOn,
  type QuestionId,
  questionAfter,
  standingScores,
  tallyOf,
} from '@jotmark/core';
import { useMemo, useState } from 'react';
import { toast } from '../frame/toast.ts';
import { useStable } from '../frame/useStable.ts';
import { putChange, standing } from '../outbox/changes.ts';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { toNextOpen } from '../scores/next-open.ts';
import { askedIn, type ScoreSite } from '../scores/useScored.ts';
import type { DeskMarks } from './useDeskMarks.ts';
import type { DeskPaper } from './useDeskPaper.ts';

/** What this copy is scored by, and what keys do with it. */
export function useDeskScoring(desk: Desk, keeper: SheetKeeper, marks: DeskMarks, paper: DeskPaper) {
  const site = useMemo((): ScoreSite => {
    const first = desk.documents.find((d) => d.shows === 'pages')?.id ?? null;
    return {
      most: desk.assignment.most,
      scoring: desk.scoring,
      asked: askedIn(desk.asked, desk.scoring, first),
      late: desk.handIn.late,
    };
  }, [desk]);
  const answers = useMemo(
    () => new Map<QuestionId, string>(desk.answers.map((a) => [a.question, a.value])),
    [desk.answers],
  );
  const [drawing, setDrawing] = useState<QuestionId | null>(null);
  const say = useMemo(() => {
    const { most } = desk.assignment;
    return (grade: number) => formatGrade(grade, most ?? grade, desk.scoring.scoring.scale);
  }, [desk]);
  const does = useStable({
    onSee(id: QuestionId) {
      const region = site.asked.find((q) => q.id === id)?.regions[0];
      const at = region
        ? paper.pages.findIndex((p) => p.document === region.document && p.page === region.page)
        : -1;
      if (at >= 0) paper.toPage(at);
    },
    acrossTo: (id: QuestionId) =>
      `/piles/${desk.assignment.id}/across/${id}?from=${encodeURIComponent(`/desk/${desk.copyId}`)}`,
    onDraw: (id: QuestionId | null) => setDrawing(id),
    toNextOpen(): boolean {
      const scores = standingScores(keeper.view.sheet);
      const tally = tallyOf(site.most === null ? [] : site.asked, marks.shown, scores);
      return toNextOpen(tally, site.scoring.rubric?.rubric ?? null, scores, 'final');
    },
    /** A stamp or note with points goes to the next question, after the last to none: said by hand, wherever it stands. */
    otherQuestion(): boolean {
      const [only, second] = marks.picked;
      const now = only && !second && !desk.handedBack ? standing(keeper, only) : null;
      if (!now || pointsOn(now) === null || site.asked.length === 0) return false;
      const earning = site.asked.filter((q) => (q.most ?? 0) > 0);
      const next = questionAfter(earning, belongsTo(now, site.asked)?.id ?? null);
      keeper.do([putChange(keeper, { ...now, question: next } as Mark, now)], `question:${now.id}`);
      const label = earning.find((q) => q.id === next)?.label;
      toast(label ? `Its points count for question ${label}.` : 'Its points count for no question.', {
        id: 'other-question',
      });
      return true;
    },
  });
  return useMemo(() => ({ site, answers, say, drawing, ...does }), [site, answers, say, drawing, does]);
}
