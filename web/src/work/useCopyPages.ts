import {
  fillsItsPage,
  inPageOrder,
  numberQuestions,
  type QuestionId,
  takesWords,
  type Work,
} from '@jotmark/core';
import { useMemo } from 'react';
import { usePageList } from '../paper/page-list.ts';

/** The pages of a student's copy and the questions on them. */
export function useCopyPages(work: Work) {
  const { sheets } = work;
  const documents = useMemo(() => sheets.map((s) => s.document), [sheets]);
  const { pages, settled } = usePageList(documents);
  const questions = useMemo(() => sheets.flatMap((s) => s.questions), [sheets]);
  /** With several worksheets each counts for itself. */
  const numbers = useMemo(
    (): ReadonlyMap<QuestionId, string> => new Map(sheets.flatMap((s) => [...numberQuestions(s.questions)])),
    [sheets],
  );
  const byPage = useMemo(
    () =>
      pages.map((p) => {
        const sheet = sheets.find((s) => s.document.id === p.document);
        return inPageOrder((sheet?.questions ?? []).filter((q) => q.page === p.page && takesWords(q)));
      }),
    [pages, sheets],
  );
  return {
    pages,
    ready: settled && pages.length > 0,
    questions,
    numbers,
    byPage,
    /** In the order one goes through them. */
    typed: useMemo(() => byPage.flat().filter((q) => q.answer.kind !== 'long'), [byPage]),
    /** Nothing to write on but pages that grow. */
    onlyLong: useMemo(() => questions.length > 0 && questions.every(fillsItsPage), [questions]),
  };
}

export type CopyPages = ReturnType<typeof useCopyPages>;
