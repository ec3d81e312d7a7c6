import { type Question, type QuestionId, type Sheet, unanswered } from '@jotmark/core';
import { useCallback, useMemo, useRef } from 'react';
import { useDraft } from '../desk/useDraft.ts';
import type { SheetKeeper } from '../keep/sheet-keeper.ts';

/** A pause as long as this begins a new step for undo. */
const PAUSE_MS = 1500;

/** Answers as they are shown: what the keeper holds, with what is being typed in its place. */
export function useAnswers(keeper: SheetKeeper, copyId: string) {
  const burst = useRef({ n: 0, at: 0 });
  const commit = useCallback(
    (question: QuestionId, value: string) => {
      const now = performance.now();
      if (now - burst.current.at > PAUSE_MS) burst.current.n++;
      burst.current.at = now;
      keeper.answer(question, value, `answer:${question}:${burst.current.n}`);
    },
    [keeper],
  );
  const written = useCallback(() => keeper.written(), [keeper]);
  const { draft, type, flush } = useDraft<QuestionId>({ place: `jotmark.answer.${copyId}`, commit, written });
  const onType = useCallback((question: Question, value: string) => type(question.id, value), [type]);
  return { draft, onType, flush };
}

/** What stands at a question: what is being typed, else what is kept. */
export function answerOf(
  sheet: Sheet,
  draft: { about: QuestionId; words: string } | null,
  question: QuestionId,
): string {
  return draft?.about === question ? draft.words : (sheet.answers.get(question)?.value ?? '');
}

/** What the check before handing in points out. */
export function useUnanswered(
  questions: readonly Question[],
  sheet: Sheet,
  drawnOn: (q: Question) => boolean,
) {
  return useMemo(
    () =>
      unanswered(questions, new Map([...sheet.answers].map(([id, a]) => [id, a.value] as const)), drawnOn),
    [questions, sheet, drawnOn],
  );
}
