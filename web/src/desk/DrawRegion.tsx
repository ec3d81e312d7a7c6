import { type Box, type PageText, type Point, printedAt, type QuestionId, toPage } from '@jotmark/core';
import { useQueryClient } from '@tanstack/react-query';
import { type PointerEvent, useRef, useState } from 'react';
import { call } from '../api/call.ts';
import { sentenceOf } from '../api/sentences.ts';
import { tell } from '../ask/stale.ts';
import { toast } from '../frame/toast.ts';
import { useKeys } from '../frame/useKeys.ts';
import { viewOf } from '../paper/PageSheet.tsx';
import type { DeskNow } from './useDesk.ts';

/** Smaller on the screen it is no place that was drawn, in CSS pixels. */
const LEAST = 12;

/** A frame is drawn round the place of a question of the pile, on this copy; on the others it is found by what is printed there. */
export function DrawRegion({ d, question, onDone }: { d: DeskNow; question: QuestionId; onDone(): void }) {
  const client = useQueryClient();
  const begun = useRef<{ at: Point; index: number; page: DOMRect } | null>(null);
  const [drawn, setDrawn] = useState<{ left: number; top: number; width: number; height: number } | null>(
    null,
  );
  const asked = d.desk.scoring.scoring.questions.find((q) => q.id === question);
  useKeys([{ keys: 'Escape', does: onDone }]);
  const pageUnder = (e: PointerEvent) => {
    const el = document
      .elementsFromPoint(e.clientX, e.clientY)
      .find((under) => under.matches('[data-document][data-index]')) as HTMLElement | undefined;
    return el ? { index: Number(el.dataset.index), page: el.getBoundingClientRect() } : null;
  };
  const keep = async (index: number, box: Box) => {
    const { page } = d.paper.pages[index]!;
    const text: PageText | null = d.paper.texts[index] ?? null;
    const found = text && printedAt(text, box);
    const { assignment } = d.desk;
    try {
      const now = await call('scoring', { params: { assignmentId: assignment.id } });
      const questions = now.scoring.questions.map((q) =>
        q.id === question
          ? { ...q, region: { page, box, printed: found?.printed ?? '', at: found?.at ?? null } }
          : q,
      );
      await call('saveScoring', {
        params: { assignmentId: assignment.id },
        body: {
          scoring: { ...now.scoring, questions },
          rubricVersionId: now.rubric?.versionId ?? null,
          most: now.most,
          news: null,
        },
      });
      toast.success(
        found
          ? `Question ${asked?.label} is found on the other copies by “${found.printed.slice(0, 60)}”.`
          : `Question ${asked?.label} stands here on every copy: nothing is printed there to find it by.`,
      );
      tell(client, 'questionDrawn', { assignmentId: assignment.id });
    } catch (error) {
      toast.error(sentenceOf(error));
    }
    onDone();
  };
  return (
    <div
      role="application"
      aria-label={`Draw a frame round question ${asked?.label}`}
      className="fixed inset-0 z-40 cursor-crosshair touch-none"
      onPointerDown={(e) => {
        const under = pageUnder(e);
        if (!under) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        begun.current = { at: [e.clientX, e.clientY], ...under };
      }}
      onPointerMove={(e) => {
        const from = begun.current;
        if (!from) return;
        setDrawn({
          left: Math.min(from.at[0], e.clientX),
          top: Math.min(from.at[1], e.clientY),
          width: Math.abs(e.clientX - from.at[0]),
          height: Math.abs(e.clientY - from.at[1]),
        });
      }}
      onPointerUp={(e) => {
        const from = begun.current;
        begun.current = null;
        setDrawn(null);
        if (!from || Math.abs(e.clientX - from.at[0]) < LEAST || Math.abs(e.clientY - from.at[1]) < LEAST)
          return;
        const shown = d.paper.pages[from.index]!;
        const view = viewOf(shown.frame, shown.turn, d.paper.zoom);
        const on = (x: number, y: number) => toPage(view, [x - from.page.left, y - from.page.top]);
        const [a, b] = [on(...(from.at as [number, number])), on(e.clientX, e.clientY)];
        keep(from.index, [
          Math.min(a[0], b[0]),
          Math.min(a[1], b[1]),
          Math.max(a[0], b[0]),
          Math.max(a[1], b[1]),
        ]);
      }}
    >
      <p className="absolute top-14 left-1/2 -translate-x-1/2 rounded-lg bg-raised px-4 py-2 shadow-lg">
        Draw a frame round question {asked?.label} on the page. <span className="key">Esc</span> leaves it.
      </p>
      {drawn && <div className="absolute border-2 border-action bg-action/10" style={drawn} />}
    </div>
  );
}
