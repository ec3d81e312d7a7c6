import {
  type CopyId,
  type PersonId,
  type Question,
  type QuestionId,
  type Sheet,
  unanswered,
} from '@jotmark/core';
import { useCallback, useMemo, useRef } from 'react';
import type { SheetKeeper } from '../outbox/sheet-keeper.ts';
import { useDraft } from '../outbox/useDraft.ts';

/** A pause as long as this begins a new step for undo. */
const PAUSE_MS = 1500;

/** Takes what is typed into the fields: kept with the very key, committed when the typing rests. The fields show it themselves. */
export function useAnswers(keeper: SheetKeeper, personId: PersonId, copyId: CopyId) {
  const burst = useRef({ n: 0, at: 0 });
  const pasted = useRef(0);
  const commit = useCallback(
    (question: QuestionId, value: string) => {
      const now = performance.now();
      if (now - burst.current.at > PAUSE_MS) burst.current.n++;
      burst.current.at = now;
      keeper.answer(question, value, `answer:${question}:${burst.current.n}`, pasted.current);
      pasted.current = 0;
    },
    [keeper],
  );
  const written = useCallback(() => keeper.written(), [keeper]);
  const place = `jotmark.answer.${personId}.${copyId}`;
  const { pending, type, flush } = useDraft<QuestionId>({ place, commit, written, quiet: true });
  const onType = useCallback((question: Question, value: string) => type(question.id, value), [type]);
  /** So many letters came by pasting; they belong to the change that is being typed. */
  const onPaste = useCallback((letters: number) => {
    pasted.current += letters;
  }, []);
  return { pending, onType, onPaste, flush };
}

/** What the check before handing in points out. */
export function useUnanswered(
  questions: readonly Question[],
  sheet: Sheet,
  /** Of texts that grow. */
  words: ReadonlyMap<QuestionId, string>,
  drawnOn: (q: Question) => boolean,
) {
  return useMemo(
    () =>
      unanswered(
        questions,
        new Map([...[...sheet.answers].map(([id, a]) => [id, a.value] as const), ...words]),
        drawnOn,
      ),
    [questions, sheet, words, drawnOn],
  );
}
